"""The changeover between two sessions: a list to carry to the rack, to print and to tick."""

from collections import Counter
from html import escape
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import UI_FAMILY, ThemeBook
from ennead.edits.change import Change
from ennead.planning.moves.difference import Step
from ennead.planning.moves.noted import noted
from ennead.reports.changeover import Changeover, changeover, changeover_rows
from ennead.studio.errors import EnneadError
from ennead.studio.ids import SessionId

if TYPE_CHECKING:
    from PyQt6.QtGui import QTextDocument


#: More tracks than this would leave the list no room.
_MOST_TRACKS: Final = 16


def _deed(step: Step) -> str:
    """Return whether a step pulls, plugs, or sets something; empty for what is done around."""
    if step.move is not None:
        return step.move.action
    return step.kind if step.cable is not None else "set" if step.turn is not None or step.kind == "rate" else ""


class ChangeoverDialog(QDialog):
    """The dialog; `ticks` notes as wired, or not, what was ticked on the list when it was accepted."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("changeover_dialog")
        self.setWindowTitle("Changeover")
        self._studio = table.studio
        self.ticks: Change | None = None
        self.found: Changeover | None = None
        theme = book.now
        self.start, self.end = self._sessions(), self._sessions()
        self.start.setAccessibleName("The session that ends")
        self.end.setAccessibleName("The session that follows")
        self.start.setCurrentIndex(self.start.findData(table.studio.session))
        self.end.setCurrentIndex(
            next(i for i in range(self.end.count()) if self.end.itemData(i) != table.studio.session)
        )
        head = QHBoxLayout()
        for word, box in (("From", self.start), ("to", self.end)):
            head.addWidget(QLabel(word))
            head.addWidget(box, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.list = QListWidget()
        self.list.setAccessibleName("What to do, in this order")
        self.list.setSpacing(theme.px(2))
        self.list.setWordWrap(True)
        self.renumbered = QLabel()
        self.renumbered.setWordWrap(True)
        self.renumbered.setTextFormat(Qt.TextFormat.PlainText)
        column = QVBoxLayout(self)
        column.addLayout(head)
        for widget in (self.words, self.list, self.renumbered):
            column.addWidget(widget, 1 if widget is self.list else 0)
        column.addLayout(self._buttons())
        self.resize(theme.px(680), theme.px(560))
        for box in (self.start, self.end):
            box.currentIndexChanged.connect(self._show)
        self._show()
        self.list.setFocus()

    def _sessions(self) -> QComboBox:
        box = QComboBox()
        for session in self._studio.sessions.values():
            box.addItem(session.name, session.id)
        return box

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        for text, deed in (("Print…", self._print), ("Save as PDF…", self._save)):
            button = QPushButton(text)
            button.clicked.connect(deed)
            row.addWidget(button)
        row.addStretch(1)
        self.note, close = QPushButton("Note what is ticked"), QPushButton("Close")
        self.note.setToolTip(
            "Cables ticked as plugged stand as built from now on; those ticked as pulled stand no more"
        )
        self.note.clicked.connect(self.accept)
        close.clicked.connect(self.reject)
        row.addWidget(self.note)
        row.addWidget(close)
        return row

    def _show(self) -> None:
        found = self.found = changeover(
            self._studio, SessionId(self.start.currentData()), SessionId(self.end.currentData())
        )
        self.list.clear()
        for n, row in enumerate(changeover_rows(found), start=1):
            item = QListWidgetItem(f"{n}  {row.text}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.words.setText(self._sentence(found))
        tracks = [f"{r.track}: {r.before} → {r.after}" for r in found.renumbered]
        more = (
            f", and {len(tracks) - _MOST_TRACKS} more; the paper names them all" if len(tracks) > _MOST_TRACKS else ""
        )
        said = f"Tracks that change their driver input: {', '.join(tracks[:_MOST_TRACKS])}{more}."
        self.renumbered.setText(said if tracks else "No track changes its driver input.")
        self.note.setEnabled(bool(found.moves))

    @staticmethod
    def _sentence(found: Changeover) -> str:
        if not found.moves:
            return "Nothing to do: both sessions stand the same."
        counts = Counter(_deed(move.step) for move in found.moves)
        said = ", ".join(f"{counts[deed]} to {deed}" for deed in ("pull", "plug", "set") if counts[deed])
        notes = "".join(f" {note}" for note in found.notes)
        return (
            f"{said[:1].upper()}{said[1:]}. 48 V goes off before anything behind it moves, and on after all is"
            f" plugged.{notes}"
        )

    def accept(self) -> None:
        """Note what is ticked, and close."""
        found, steps = self.found, []
        cords = [c for s in (found.after, found.before) for c in s.cords] if found is not None else []
        for n, row in enumerate(changeover_rows(found) if found is not None else ()):
            item = self.list.item(n)
            if item is not None and item.checkState() == Qt.CheckState.Checked:
                done = [noted(self._studio, move.step, cords) for move in row.moves]
                steps += [step for step in done if step is not None]
        self.ticks = Change(f"Note {len(steps)} steps of the changeover", tuple(steps)) if steps else None
        super().accept()

    # -- paper ---------------------------------------------------------------------------------
    def document(self) -> "QTextDocument":
        """Return the list as a page: boxes to tick, in order, then the tracks that change their number."""
        from PyQt6.QtGui import QFont, QTextDocument

        found, document = self.found, QTextDocument()
        document.setDefaultFont(QFont(UI_FAMILY, 10))
        names = [escape(box.currentText()) for box in (self.start, self.end)]
        rows = "".join(
            f"<tr><td>{'☐ ' * len(r.moves)}</td><td align='right'>{n}</td><td>{escape(r.moves[0].action)}</td>"
            f"<td>{escape(r.start)}</td><td>{escape(r.end)}</td></tr>"
            for n, r in enumerate(changeover_rows(found) if found is not None else (), start=1)
        )
        tracks = "".join(
            f"<tr><td>{escape(r.track)}</td><td align='right'>{r.before}</td><td>→</td><td"
            f" align='right'>{r.after}</td></tr>"
            for r in (found.renumbered if found is not None else ())
        )
        document.setHtml(
            f"<h2>{escape(self._studio.name)}: changeover</h2><p>{names[0]} → {names[1]}."
            f" {escape(self.words.text())}</p><table cellspacing='0' cellpadding='4'>{rows}</table>"
            + (
                f"<h3>Tracks that change their driver input</h3><table cellpadding='4'>{tracks}</table>"
                if tracks
                else ""
            )
        )
        return document

    def _print(self) -> None:
        from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

        printer = QPrinter()
        if QPrintDialog(printer, self).exec():
            self.document().print(printer)

    def _save(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Save the changeover", "changeover.pdf", "PDF (*.pdf)")
        if name:
            self.write_pdf(Path(name))

    def write_pdf(self, path: Path) -> None:
        """Write the list as a PDF; say where it cannot be."""
        from ennead.paper.printing import write_changeover

        try:
            if self.found is not None:
                write_changeover(path, self.found)
        except EnneadError as error:
            self.words.setText(str(error))
