"""The handbook: its pages at the left, the one that is read at the right; it stays open beside the work."""

import re
from pathlib import Path
from typing import Final

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QTextBlockFormat, QTextCharFormat, QTextCursor, QTextDocument, QTextFormat, QTextTable
from PyQt6.QtWidgets import QDialog, QListWidget, QPushButton, QSplitter, QTextBrowser, QVBoxLayout, QWidget

from ennead.data import FOLDER
from ennead.drawings.painters.theme import ThemeBook

#: A picture on a page, by its name.
_PICTURE: Final = re.compile(r"!\[[^\]]*\]\(([\w-]+)\)")


def handbook_pages() -> list[Path]:
    """Return the pages in their order."""
    return sorted((FOLDER / "handbook").glob("*.md"))


def page_title(page: Path) -> str:
    """Return the heading a page begins with."""
    return page.read_text(encoding="utf-8").split("\n", 1)[0].lstrip("# ")


def fenced(text: str) -> str:
    """Return Markdown with its indented lines between fences: only those are shown as they stand."""
    lines: list[str] = []
    inside = open_fence = False
    for line in text.split("\n"):
        if line.startswith("```"):
            open_fence = not open_fence
        indented = not open_fence and line.startswith("    ") and (inside or not lines or not lines[-1].strip())
        if indented and not inside:
            lines.append("```")
        elif inside and not indented:
            # A blank line within goes on where the next one is indented again; here it ends.
            lines.append("```")
        inside = indented
        lines.append(line[4:] if indented else line)
    return "\n".join([*lines, "```"] if inside else lines)


class Handbook(QDialog):
    """The pages that ship with Ennead; links lead to other pages only, never out."""

    def __init__(self, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._book = book
        self.setObjectName("handbook")
        self.setWindowTitle("Handbook")
        self.pages = handbook_pages()
        self.list = QListWidget()
        self.list.setAccessibleName("Pages")
        self.list.setWordWrap(True)
        for page in self.pages:
            self.list.addItem(page_title(page))
        self.text = QTextBrowser()
        self.text.setOpenLinks(False)
        self.text.setAccessibleName("Page")
        self.list.currentRowChanged.connect(self._show)
        split = QSplitter(Qt.Orientation.Horizontal)
        split.addWidget(self.list)
        split.addWidget(self.text)
        split.setStretchFactor(1, 1)
        theme = book.now
        split.setSizes([theme.px(210), theme.px(690)])
        close = QPushButton("Close")
        close.clicked.connect(self.reject)
        whole = QVBoxLayout(self)
        whole.addWidget(split, 1)
        whole.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(min(theme.px(900), 1_240), min(theme.px(680), 760))
        book.changed.connect(self._restyle)
        self.list.setCurrentRow(0)

    def go(self, name: str) -> None:
        """Open the page with this word in its file name."""
        row = next((i for i, page in enumerate(self.pages) if name in page.stem), 0)
        self.list.setCurrentRow(row)
        self.text.setFocus()

    def _restyle(self) -> None:
        self._show(self.list.currentRow())

    def _show(self, row: int) -> None:
        theme = self._book.now
        document = self.text.document()
        if document is None or row < 0:
            return
        document.setDefaultFont(theme.font(14))
        document.setDocumentMargin(theme.px(14))
        text = self.pages[row].read_text(encoding="utf-8")
        self.text.setMarkdown(fenced(text))
        # Setting the page forgets what was laid by for the one before.
        for name in _PICTURE.findall(text):
            from ennead.desk.dialogs.handbook_pictures import picture

            document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(name), picture(theme, name))
        document.markContentsDirty(0, document.characterCount())
        self._dress(document)

    def _dress(self, document: QTextDocument) -> None:
        """Give paragraphs air, tables thin rules and code the fixed-width cut: Markdown says nothing of them."""
        theme = self._book.now
        root = document.rootFrame()
        for frame in root.childFrames() if root is not None else []:
            if isinstance(frame, QTextTable):
                form = frame.format().toTableFormat()
                form.setBorder(1)
                form.setBorderCollapse(True)
                form.setBorderBrush(theme.colour("hairline"))
                form.setCellPadding(theme.px(5))
                form.setTopMargin(theme.px(8))
                frame.setFormat(form)
        block = document.begin()
        while block.isValid():
            cursor, spaced = QTextCursor(block), QTextBlockFormat()
            cursor.movePosition(QTextCursor.MoveOperation.EndOfBlock, QTextCursor.MoveMode.KeepAnchor)
            if block.blockFormat().hasProperty(QTextFormat.Property.BlockCodeFence):
                mono = QTextCharFormat()
                mono.setFont(theme.font(13, mono=True))
                cursor.mergeCharFormat(mono)
                spaced.setBackground(theme.colour("panel"))
                # A line of arithmetic is read across, not wrapped; it can be scrolled.
                spaced.setNonBreakableLines(True)
                cursor.mergeBlockFormat(spaced)
            elif cursor.currentTable() is None:
                spaced.setTopMargin(theme.px(18 if block.blockFormat().headingLevel() else 7))
                cursor.mergeBlockFormat(spaced)
            block = block.next()
