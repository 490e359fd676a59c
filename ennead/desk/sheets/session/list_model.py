"""The input list as a table model: a line a source, one blank line at the end to type the next."""

from typing import TYPE_CHECKING, Any, Final

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QFont

from ennead.desk.theme.theme import ThemeBook
from ennead.desk.worktable import Worktable
from ennead.studio.session import KIND_LABELS, KINDS, PHANTOMS, Source

if TYPE_CHECKING:
    from ennead.edits.change import Change

COLUMNS: Final = ("", "source", "kind", "48 V", "width", "place", "group")
FIELDS: Final = ("", "name", "kind", "phantom", "channels", "place", "group")
_NOWHERE = QModelIndex()


def choices_of(column: int) -> dict[str, Any]:
    """Return what may stand in a column, by the words that are shown; empty where anything may."""
    return {
        "kind": {KIND_LABELS[k]: k for k in KINDS},
        "phantom": {p: p for p in PHANTOMS},
        "channels": {"mono": 1, "stereo": 2},
    }.get(FIELDS[column], {})  # type: ignore[return-value]


#: What the list has to say of a cell; Qt asks for as much again.
_ROLES = frozenset((
    Qt.ItemDataRole.FontRole, Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ForegroundRole, Qt.ItemDataRole.ToolTipRole,
    Qt.ItemDataRole.EditRole,
))  # fmt: skip


class ListModel(QAbstractTableModel):
    """Sources of the current session; every change goes through the worktable."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self._ids = tuple(s.id for s in table.studio.session_sources)
        table.changed.connect(self._changed)
        book.changed.connect(self._restyled)

    def _restyled(self) -> None:
        self.layoutChanged.emit()

    def _changed(self) -> None:
        ids = tuple(s.id for s in self._table.studio.session_sources)
        if ids == self._ids:
            self.dataChanged.emit(self.index(0, 0), self.index(len(ids), len(COLUMNS) - 1))
            return
        if ids[: len(self._ids)] == self._ids:
            # Lines added at the end: the view keeps its cursor, and whoever types in it goes on typing.
            self.beginInsertRows(QModelIndex(), len(self._ids), len(ids) - 1)
            self._ids = ids
            self.endInsertRows()
            self.dataChanged.emit(self.index(0, 0), self.index(len(ids), len(COLUMNS) - 1))
            return
        self.beginResetModel()
        self._ids = ids
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = _NOWHERE) -> int:
        return 0 if parent.isValid() else len(self._ids) + 1

    def columnCount(self, parent: QModelIndex = _NOWHERE) -> int:
        return 0 if parent.isValid() else len(COLUMNS)

    def source_at(self, row: int) -> Source | None:
        """Return the source of a line; None for the blank one."""
        if 0 <= row < len(self._ids):
            return self._table.studio.sources.get(self._ids[row])
        return None

    def row_of(self, source_id: str) -> int:
        """Return the line of a source, or -1."""
        return next((i for i, s in enumerate(self._ids) if s == source_id), -1)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal:
            if role == Qt.ItemDataRole.DisplayRole:
                return COLUMNS[section]
            if role == Qt.ItemDataRole.TextAlignmentRole:
                return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        may = index.column() == 1 or (index.column() > 0 and index.row() < len(self._ids))
        return flags | Qt.ItemFlag.ItemIsEditable if may else flags

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role not in _ROLES:
            return None
        source, column = self.source_at(index.row()), index.column()
        theme = self._book.now
        if role == Qt.ItemDataRole.FontRole:
            font = theme.font(14, mono=column == 0)
            if source is not None and FIELDS[column] in source.guessed:
                font = QFont(font)
                font.setStyle(QFont.Style.StyleItalic)
            return font
        if source is None:
            if role == Qt.ItemDataRole.DisplayRole:
                first = "type the first source, or paste a whole list (Ctrl+V)" if not self._ids else "next source"
                return {0: str(index.row() + 1), 1: first}.get(column)
            return theme.colour("soft") if role == Qt.ItemDataRole.ForegroundRole else None
        if role == Qt.ItemDataRole.ForegroundRole:
            guessed = FIELDS[column] in source.guessed
            return theme.colour("soft" if guessed or column == 0 else "ink")
        if role == Qt.ItemDataRole.ToolTipRole and FIELDS[column] in source.guessed:
            return "guessed from the name; type over it to say otherwise"
        if role == Qt.ItemDataRole.EditRole:
            return self._text(source, column)
        if role == Qt.ItemDataRole.DisplayRole:
            text = str(index.row() + 1) if column == 0 else self._text(source, column)
            return f"{text} ?" if FIELDS[column] in source.guessed else text
        return None

    def _text(self, source: Source, column: int) -> str:
        return {
            "name": source.name,
            "kind": KIND_LABELS[source.kind],
            "phantom": source.phantom,
            "channels": "stereo" if source.channels == 2 else "mono",
            "place": self._table.studio.places[source.place].name if source.place else "",
            "group": source.group,
        }.get(FIELDS[column], "")

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        from ennead.edits.change import change
        from ennead.edits.session import change_source

        text, source, column = str(value).strip(), self.source_at(index.row()), index.column()
        if source is None:
            return bool(text) and self._table.do(self._adding(text))
        if text == self._text(source, column):
            return False
        known = choices_of(column)
        if known:
            meant = next((v for k, v in known.items() if text and k.startswith(text.casefold())), None)
            if meant is None:
                self._table.said.emit(f"“{text}” is not one of {', '.join(known)}.")
                return False
            facts = {FIELDS[column]: meant}
        else:
            facts = {FIELDS[column]: text}
        return self._table.do(change(f"Change {source.name}", change_source, source.id, **facts))

    def _adding(self, text: str) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.session import add_source
        from ennead.planning.guessing import guess

        facts = guess(text, (p.name for p in self._table.studio.places.values()))
        last = self.source_at(len(self._ids) - 1)
        if last is not None:
            # What stands above goes on, unless the name itself names a place.
            facts = {"place": last.place, "group": last.group} | facts
        return change(f"Add {text[:40]}", add_source, text, **facts)
