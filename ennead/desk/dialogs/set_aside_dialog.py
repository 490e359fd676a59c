"""Asks for the reason, the role and the scope before a finding is set aside."""

from datetime import datetime

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QLabel, QVBoxLayout, QWidget

from ennead.checks.finding import Finding
from ennead.checks.setting_aside import digest_of
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.field import Field
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.set_aside import this_session
from ennead.studio.document import Studio
from ennead.studio.set_aside import SetAside


class SetAsideDialog(QDialog):
    """Asks for the reason; `entry` is what is to be kept."""

    def __init__(self, book: ThemeBook, studio: Studio, finding: Finding, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Set a finding aside")
        self._studio, self._finding, theme = studio, finding, book.now
        self.said = self._words(f"{finding.message} {finding.why}", "ink")
        self.reason, self.by = Field(""), Field("")
        self.reason.setPlaceholderText("Why it may stay as it is")
        self.by.setPlaceholderText("Engineer, assistant")
        self.scope = QComboBox()
        self.scope.setAccessibleName("Where it is set aside")
        self.scope.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.scope.addItem(f"on “{theme.elided(studio.current.name, theme.px(300))}” only")
        self.scope.addItem("on every session")
        form = QFormLayout()
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.WrapLongRows)
        form.addRow("Reason", self.reason)
        form.addRow("Decided by", self.by)
        form.addRow("Holds", self.scope)
        buttons = QDialogButtonBox()
        self.take = buttons.addButton("Set aside", QDialogButtonBox.ButtonRole.AcceptRole)
        self.leave = buttons.addButton("Leave it open", QDialogButtonBox.ButtonRole.RejectRole)
        if self.leave is not None:
            self.leave.setProperty("quiet", True)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.setSpacing(theme.px(10))
        column.addWidget(self.said)
        column.addLayout(form)
        column.addWidget(
            self._words(
                "It stays aside through renamings and edits elsewhere, and comes back by itself when what it rests on"
                " changes. Allocate and the moves keep to their rules all the same.",
                "soft",
            )
        )
        column.addWidget(buttons)
        self._column, self._wide = column, min(theme.px(520), 980)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        # Wrapped text is as high as its width makes it, which is known once the style is.
        self.setFixedSize(
            self._wide, max(self.minimumSizeHint().height(), self._column.totalHeightForWidth(self._wide))
        )

    def _words(self, text: str, tone: str) -> QLabel:
        label = QLabel(text)
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setWordWrap(True)
        set_tone(label, tone)
        return label

    def entry(self) -> SetAside:
        """Return what was decided."""
        finding = self._finding
        return SetAside(
            finding.rule,
            finding.subject.key,
            digest_of(finding),
            this_session(self._studio, everywhere=self.scope.currentIndex() == 1),
            self.reason.text(),
            self.by.text(),
            datetime.now().astimezone().isoformat(timespec="minutes"),
        )
