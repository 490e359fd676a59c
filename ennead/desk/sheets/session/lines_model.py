"""A list to type in as a table model: a line for each thing, one blank line at the end to type the next."""

from abc import abstractmethod
from typing import TYPE_CHECKING, Any, ClassVar, Final, Protocol

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QFont

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook

if TYPE_CHECKING:
    from ennead.edits.change import Change

_NOWHERE = QModelIndex()


class Item(Protocol):
    """What a line stands for."""

    @property
    def id(self) -> Any: ...
    @property
    def name(self) -> str: ...


# What the list has to say of a cell; Qt asks for as much again, a thousand times before the list is seen.
_FONT, _SHOWN, _COLOUR = Qt.ItemDataRole.FontRole, Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ForegroundRole
_TIP, _TYPED = Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.EditRole
_ROLES: Final = frozenset((_FONT, _SHOWN, _COLOUR, _TIP, _TYPED))
_FIXED: Final = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
_TO_TYPE_IN: Final = _FIXED | Qt.ItemFlag.ItemIsEditable


class LinesModel(QAbstractTableModel):
    """Lines of the current session; every change goes through the worktable. Subclasses say what a line is."""

    #: Heading, field, and the widest usual text of each column; the first column counts the lines.
    columns: ClassVar[tuple[tuple[str, str, str], ...]] = ()
    #: What a selection of a line is of.
    kind: ClassVar[Any] = "source"
    first_words: ClassVar[str] = ""
    next_words: ClassVar[str] = ""
    #: Fields that are only read.
    read_only: ClassVar[frozenset[str]] = frozenset()
    #: Fields in which more may be typed than the words that are offered.
    typed_freely: ClassVar[frozenset[str]] = frozenset()

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self._ids = tuple(item.id for item in self.items())
        table.changed.connect(self._changed)
        book.changed.connect(self.layoutChanged.emit)

    # -- what a subclass says ------------------------------------------------------------------
    @abstractmethod
    def items(self) -> tuple[Item, ...]:
        """Return what is listed."""

    @abstractmethod
    def find(self, key: Any) -> Any:
        """Return an item by its id, or None."""

    @abstractmethod
    def text_of(self, item: Any, field: str) -> str:
        """Return what stands in a cell."""

    @abstractmethod
    def adding(self, text: str) -> "Change":
        """Return the change that adds a line."""

    @abstractmethod
    def changing(self, item: Any, **facts: Any) -> "Change":
        """Return the change of a line's facts."""

    @abstractmethod
    def removing(self, keys: list[Any]) -> "Change":
        """Return the change that removes lines."""

    @abstractmethod
    def moving(self, item: Any, to: int) -> "Change":
        """Return the change that puts a line elsewhere."""

    def choices_of(self, column: int) -> dict[str, Any]:
        """Return what may stand in a column, by the words that are shown; empty where anything may."""
        return {}

    def guessed(self, item: Any) -> tuple[str, ...]:
        """Return the fields that were guessed."""
        return ()

    # -- the model -----------------------------------------------------------------------------
    def _changed(self) -> None:
        ids = tuple(item.id for item in self.items())
        last = len(self.columns) - 1
        if ids == self._ids:
            self.dataChanged.emit(self.index(0, 0), self.index(len(ids), last))
            return
        if ids[: len(self._ids)] == self._ids:
            # Lines added at the end: the view keeps its cursor, so that typing goes on.
            self.beginInsertRows(QModelIndex(), len(self._ids), len(ids) - 1)
            self._ids = ids
            self.endInsertRows()
            self.dataChanged.emit(self.index(0, 0), self.index(len(ids), last))
            return
        self.beginResetModel()
        self._ids = ids
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = _NOWHERE) -> int:
        return 0 if parent.isValid() else len(self._ids) + 1

    def columnCount(self, parent: QModelIndex = _NOWHERE) -> int:
        return 0 if parent.isValid() else len(self.columns)

    def item_at(self, row: int) -> Any:
        """Return the item of a line; None for the blank one."""
        return self.find(self._ids[row]) if 0 <= row < len(self._ids) else None

    def row_of(self, key: str) -> int:
        """Return the line of an item, or -1."""
        return next((i for i, s in enumerate(self._ids) if s == key), -1)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal:
            if role == Qt.ItemDataRole.DisplayRole:
                return self.columns[section][0]
            if role == Qt.ItemDataRole.TextAlignmentRole:
                return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        column = index.column()
        may = column == 1 or (
            column > 0 and index.row() < len(self._ids) and self.columns[column][1] not in self.read_only
        )
        return _TO_TYPE_IN if may else _FIXED

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        # Of font and colour only what differs from the list's own, for each costs more than the text.
        if role not in _ROLES:
            return None
        item, column = self.item_at(index.row()), index.column()
        field, theme = self.columns[column][1], self._book.now
        guessed = item is not None and field in self.guessed(item)
        if role == _FONT:
            if not guessed:
                return theme.font(14, mono=True) if column == 0 else None
            font = QFont(theme.font(14))
            font.setStyle(QFont.Style.StyleItalic)
            return font
        if item is None:
            if role == _SHOWN:
                return {0: str(index.row() + 1), 1: self.next_words if self._ids else self.first_words}.get(column)
            return theme.colour("soft") if role == _COLOUR else None
        if role == _COLOUR:
            return theme.colour("soft") if guessed or column == 0 or field in self.read_only else None
        if role == _TIP:
            return "guessed from the name; type over it to say otherwise" if guessed else None
        if role == _TYPED:
            return self.text_of(item, field)
        text = str(index.row() + 1) if column == 0 else self.text_of(item, field)
        return f"{text} ?" if guessed else text

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        text, item, column = str(value).strip(), self.item_at(index.row()), index.column()
        field = self.columns[column][1]
        if item is None:
            return bool(text) and self._table.do(self.adding(text))
        if text == self.text_of(item, field):
            return False
        known = self.choices_of(column)
        meant: Any = text
        if known and field not in self.typed_freely:
            meant = next((v for k, v in known.items() if text and k.startswith(text.casefold())), _NONE)
            if meant is _NONE:
                self._table.said.emit(f"“{text}” is not one of {', '.join(known)}.")
                return False
        return self._table.do(self.changing(item, **{field: meant}))

    def _place_text(self, item: Any) -> str:
        return self._table.studio.places[item.place].name if item.place else ""


_NONE: Final = object()
