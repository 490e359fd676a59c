"""A list with texts that wrap and are always shown whole."""

from PyQt6.QtCore import QModelIndex, QRect, QSize, Qt
from PyQt6.QtWidgets import QListWidget, QStyle, QStyledItemDelegate, QStyleOptionViewItem


class _Whole(QStyledItemDelegate):
    """Makes room for the lines a text really breaks into.

    The usual delegate breaks it at the width of the item, the style at that width without its margins: a text that just
    fits one line of the first is cut by the second.
    """

    def __init__(self, view: QListWidget) -> None:
        super().__init__(view)
        self._view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        self.initStyleOption(option, index)
        style = self._view.style()
        margin = 1 + (style.pixelMetric(QStyle.PixelMetric.PM_FocusFrameHMargin) if style is not None else 2)
        room = self._view.viewport().width() - 2 * self._view.spacing() - 2 * margin
        if style is not None and index.data(Qt.ItemDataRole.CheckStateRole) is not None:
            # A box to tick takes its part of the width.
            room -= style.pixelMetric(QStyle.PixelMetric.PM_IndicatorWidth, option, self._view) + 4 * margin
        lines = option.fontMetrics.boundingRect(
            QRect(0, 0, max(40, room), 100_000), int(Qt.TextFlag.TextWordWrap.value), option.text
        )
        return QSize(max(40, room), lines.height())


class WrappedList(QListWidget):
    """The list."""

    def __init__(self) -> None:
        super().__init__()
        self.setWordWrap(True)
        self.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.setItemDelegate(_Whole(self))
