"""The margin: notes about the selection, rebuilt when the selection or the studio changes."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFormLayout,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.note_label import NoteLabel
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.layouts.wrapping import wrap
from ennead.drawings.painters.theme import ThemeBook, margin_width
from ennead.studio.errors import EnneadError
from ennead.studio.ids import ComputerId, DestinationId, SourceId, UnitId
from ennead.studio.subjects import NOTHING

if TYPE_CHECKING:
    from ennead.desk.margin.notes import Deed, Fact, Notes


class Margin(QScrollArea):
    """Notes in the margin."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self.setObjectName("margin")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._table, self._book = table, book
        table.changed.connect(self._follow_edit)
        book.changed.connect(self._follow)
        table.selected.connect(self._follow)
        table.settled.connect(self.rebuild)
        table.selected.connect(self._speak_up)
        self.folded = False
        self._fields: dict[str, QWidget] = {}
        self._set_width()

    def notes(self) -> "Notes":
        """Return what is said about the present selection."""
        from ennead.desk.margin.about_computer import about_computer
        from ennead.desk.margin.about_destination import about_destination
        from ennead.desk.margin.about_point import about_point
        from ennead.desk.margin.about_port import about_port
        from ennead.desk.margin.about_source import about_source
        from ennead.desk.margin.about_studio import about_studio
        from ennead.desk.margin.about_unit import about_unit

        survey, selection = self._table.survey, self._table.selection
        if selection.kind == "source":
            return about_source(survey, SourceId(selection.key))
        if selection.kind == "destination":
            return about_destination(survey, DestinationId(selection.key))
        if selection.kind == "unit":
            return about_unit(survey, UnitId(selection.key))
        if selection.kind == "computer":
            return about_computer(survey, ComputerId(selection.key))
        if selection.kind == "port":
            point = self._table.studio.is_point(selection.end)
            return about_point(survey, selection.end) if point else about_port(survey, selection.end)
        return about_studio(survey)

    def fold(self, on: bool) -> None:
        """Fold the margin away, or bring it back; it comes back by itself when what is selected has trouble or a caution."""
        self.folded = on
        self.setVisible(not on)
        if not on:
            self.rebuild()

    def _speak_up(self) -> None:
        about = (
            self._table.findings_about(self._table.selection)
            if self.folded and self._table.selection != NOTHING
            else ()
        )
        if any(f.severity != "note" for f in about):
            self.fold(False)

    def _set_width(self) -> None:
        self.setFixedWidth(margin_width(self._book.now))

    def _follow(self) -> None:
        # Several signals in one edit ask for one rebuild; a field is never deleted inside its own signal.
        self._table.idle.later("margin", self.rebuild)

    def _follow_edit(self) -> None:
        self._table.follow_edit("margin", self.rebuild if self._table.is_long else self._follow)

    def clear(self) -> None:
        """Take the page away, unless it has the keyboard; it is to be built anew soon."""
        focus = QApplication.focusWidget()
        if focus is None or not self.isAncestorOf(focus):
            self._fields = {}
            self.setWidget(QWidget())

    def rebuild(self) -> None:
        """Build the page anew; the field that had the focus has it again."""
        if not self._table.is_settled or self.folded:
            return
        focus = QApplication.focusWidget()
        held = focus.objectName() if focus is not None and self.isAncestorOf(focus) else ""
        scrolled = self.verticalScrollBar().value() if held else 0
        theme = self._book.now
        self._set_width()
        page = QWidget()
        page.setObjectName("marginPage")
        column = QVBoxLayout(page)
        column.setContentsMargins(theme.px(14), theme.px(12), theme.px(12), theme.px(12))
        column.setSpacing(theme.px(7))
        from ennead.desk.margin.finding_notes import FindingNotes

        notes = self.notes()
        self._fields = {}
        column.addWidget(self.label(notes.title, 17, bold=True))
        if notes.below:
            column.addWidget(self.label(notes.below, 13, colour="soft"))
        self._add_form(column, notes.facts)
        self._add_deeds(column, notes)
        FindingNotes(self, self._table, self._book).add(column)
        if notes.more:
            self.rule(column)
            column.addWidget(self.label(notes.more_title, 14, bold=True))
            self._add_form(column, notes.more)
        if notes.working:
            self.rule(column)
            column.addWidget(self.label("Working", 14, bold=True))
            for line in notes.working:
                column.addWidget(self.label(line, 12, mono=True))
        column.addStretch()
        self.setWidget(page)
        if held:
            again = self._fields.get(held)
            if again is not None:
                again.setFocus()
            self.verticalScrollBar().setValue(scrolled)

    def label(self, text: str, size: float, *, bold: bool = False, colour: str = "ink", mono: bool = False) -> QLabel:
        """Return a text of the page."""
        label = NoteLabel(text)
        label.setFont(self._book.now.font(size, bold=bold, mono=mono))
        set_tone(label, colour)
        return label

    def rule(self, column: QVBoxLayout) -> None:
        """Add a thin line to a column."""
        line = QFrame()
        line.setFixedHeight(1)
        line.setObjectName("hairline")
        column.addSpacing(self._book.now.px(3))
        column.addWidget(line)

    def _add_form(self, column: QVBoxLayout, facts: "tuple[Fact, ...]") -> None:
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.setRowWrapPolicy(
            QFormLayout.RowWrapPolicy.WrapAllRows if self._book.scale > 1.3 else QFormLayout.RowWrapPolicy.WrapLongRows
        )
        form.setVerticalSpacing(self._book.now.px(4))
        form.setHorizontalSpacing(self._book.now.px(10))
        for fact in facts:
            field = self._field(fact)
            field.setObjectName(f"fact_{fact.label}")
            self._fields[field.objectName()] = field
            field.setAccessibleName(fact.label)
            if fact.ticked is not None:
                form.addRow(field)
            else:
                form.addRow(self.label(fact.label, 13, colour="soft"), field)
        column.addLayout(form)

    def _add_deeds(self, column: QVBoxLayout, notes: "Notes") -> None:
        side_by_side = len(notes.deeds) == 2 and self._book.scale <= 1.3 and sum(len(d.text) for d in notes.deeds) < 26
        row: QVBoxLayout | QHBoxLayout = QHBoxLayout() if side_by_side else QVBoxLayout()
        for deed in notes.deeds:
            button = self.button(deed.text)
            button.setProperty("quiet", True)
            button.clicked.connect(lambda _=False, d=deed: self._pressed(d))
            row.addWidget(button)
        column.addLayout(row)

    def _pressed(self, deed: "Deed") -> None:
        if deed.change is not None:
            self._table.do(deed.change)
        else:
            self._table.wished.emit(deed.wish)

    def _field(self, fact: "Fact") -> QWidget:
        from ennead.desk.widgets.field import Field
        from ennead.desk.widgets.tick_box import TickBox

        if fact.ticked is not None:
            box = TickBox(fact.label, self._book.now)
            box.setChecked(fact.ticked)
            box.toggled.connect(lambda on: self._carry_out(fact, "1" if on else "0"))
            return box
        if fact.edit is None:
            return self.label(fact.value, 14)
        if fact.choices:
            choice = QComboBox()
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(8)
            for key, label in fact.choices:
                choice.addItem(label, key)
            choice.setCurrentIndex([k for k, _ in fact.choices].index(fact.value))
            choice.activated.connect(lambda i: self._carry_out(fact, fact.choices[i][0]))
            return choice
        line = Field(fact.value)
        line.setCursorPosition(0)
        # A name longer than the margin is wide is whole on hover.
        line.setToolTip(plain_tip(fact.value))
        line.editingFinished.connect(lambda: self._typed(fact, line.text()))
        return line

    def _typed(self, fact: "Fact", text: str) -> None:
        if text != fact.value:
            self._carry_out(fact, text)

    def _carry_out(self, fact: "Fact", value: str) -> None:
        try:
            done = fact.edit is not None and self._table.do(fact.edit(value))
        except EnneadError as error:
            self._table.said.emit(str(error))
            done = False
        if not done:
            self._follow()

    def button(self, text: str) -> QPushButton:
        """Return a button with wrapped words."""
        theme = self._book.now
        lines = wrap(text, self.width() - theme.px(58), 14, theme.width)
        button = QPushButton("\n".join(lines).replace("&", "&&"))
        button.setToolTip(plain_tip(text))
        button.setAccessibleName(text)
        return button
