"""Describe your box: seven plain questions at the left, the box they make at the right."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ennead.desk.sheets.rig.box_preview import BoxPreview
from ennead.desk.sheets.rig.questions import Questions
from ennead.desk.theme.tones import set_tone
from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.boxes.describing import describe_box
from ennead.studio.errors import EnneadError
from ennead.studio.profile import Profile


def scrolled(widget: QWidget) -> QScrollArea:
    """Return a widget that scrolls up and down where it does not fit."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(widget)
    bar = area.verticalScrollBar()
    area.setMinimumWidth(widget.minimumSizeHint().width() + (bar.sizeHint().width() if bar is not None else 0))
    return area


class DescribeDialog(QDialog):
    """The dialog; `profile` is the box described, `edit_further` whether its owner wants the editor next.

    Parameters
    ----------
    keep : callable
        Puts a profile on the user's own shelf; asked only where the tick says so.
    """

    def __init__(self, book: ThemeBook, keep: Callable[[Profile], bool], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        theme = book.now
        self.setObjectName("describe_dialog")
        self.setWindowTitle("Describe your box")
        self._keep = keep
        self.profile: Profile | None = None
        self.edit_further = False
        self.questions = Questions(theme)
        self.preview = BoxPreview(book)
        self.said = QLabel()
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setWordWrap(True)
        set_tone(self.said, "soft")
        right = QWidget()
        column = QVBoxLayout(right)
        column.addWidget(self.preview)
        column.addWidget(self.said)
        column.addStretch(1)
        middle = QHBoxLayout()
        middle.addWidget(scrolled(self.questions), 5)
        middle.addWidget(scrolled(right), 7)
        self.take = self._button("Take into the rig", self._take, "describe_take")
        self.edit = self._button("Edit further…", self._edit, "describe_edit")
        self.shelve = self._button("Keep on my shelf", self._shelve, "describe_keep")
        cancel = self._button("Cancel", self.reject, "describe_cancel")
        buttons = QHBoxLayout()
        buttons.addWidget(self.shelve)
        buttons.addWidget(self.edit)
        buttons.addStretch(1)
        buttons.addWidget(cancel)
        buttons.addWidget(self.take)
        for button in (self.edit, self.shelve, cancel):
            button.setProperty("quiet", True)
            button.setAutoDefault(False)
        self.take.setDefault(True)
        whole = QVBoxLayout(self)
        whole.addLayout(middle, 1)
        whole.addLayout(buttons)
        screen = self.screen().availableGeometry() if self.screen() is not None else None
        most = (screen.width() - 40, screen.height() - 60) if screen is not None else (1_240, 760)
        self.resize(min(theme.px(1_120), most[0]), min(theme.px(700), most[1]))
        self.questions.answered.connect(self._refresh)
        self._refresh()
        self.questions.name.setFocus()

    def _button(self, text: str, deed: Callable[[], object], name: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda _=False: deed())
        return button

    def _refresh(self) -> None:
        """Make the box anew from the answers, and say what was assumed."""
        try:
            described = describe_box(self.questions.answers())
        except EnneadError as error:
            self.profile = None
            self.said.setText(f"▲ {error}")
        else:
            self.profile = described.profile
            self.said.setText(
                "\n".join(["Assumed:", *(f"·  {a}" for a in described.assumed)] if described.assumed else [])
            )
        self.preview.show_profile(self.profile)
        for button in (self.take, self.edit, self.shelve):
            button.setEnabled(self.profile is not None)

    def _take(self) -> None:
        self.accept()

    def _edit(self) -> None:
        self.edit_further = True
        self.accept()

    def _shelve(self) -> None:
        if self.profile is not None and self._keep(self.profile):
            self.said.setText(f"“{self.profile.name}” is on your shelf.")
