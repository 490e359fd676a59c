"""The free inputs, or outputs, below the chart: drop a line on one, or type its number."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent, QMouseEvent, QPainter

from ennead.desk.sheets.lines.chart_view import SOURCE_MIME
from ennead.desk.sheets.lines.out_view import DESTINATION_MIME
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.drawing import Drawing
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change
from ennead.planning.routing.placing import place_at_port
from ennead.planning.routing.placing_out import place_out_at_port
from ennead.planning.seating.studio_problem import Point
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey


class FreeSockets(Drawing):
    """Chips of free sockets, each with its driver number. Subclasses say which they are.

    Parameters
    ----------
    place : callable
        Told the survey, a line's key and a socket, returns the change that plugs the line in there.
    """

    mime = ""
    title = none = ""

    def __init__(self, table: Worktable, book: ThemeBook, place: Callable[[Survey, str, PortEnd], Change]) -> None:
        super().__init__(table, book)
        self._place = place
        self.setObjectName(self.title.lower().replace(" ", "_"))
        self.setAccessibleName(self.title)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAcceptDrops(True)
        self.viewport().setAcceptDrops(True)
        self.chips: list[tuple[QRectF, Point]] = []
        self._over: Point | None = None
        self._height = 0.0

    def free_seats(self) -> list[Point]:
        """Return the sockets that are good and hold nothing of the session."""
        return []

    def text_of(self, point: Point) -> str:
        """Return what a chip says behind its number."""
        return f"{self.table.studio.units[point.end.unit].name} {point.port.label}"

    def lay_out(self) -> None:
        theme, self.chips = self.book.now, []
        x, y = 0.0, float(theme.px(26))
        for point in self.free_seats():
            number = theme.width(str(point.number), 14, bold=True, mono=True)
            width = number + theme.width(self.text_of(point), 13) + theme.px(26)
            if x + width > self.viewport().width() and x:
                x, y = 0.0, y + theme.px(30)
            self.chips.append((QRectF(x, y, width, theme.px(25)), point))
            x += width + theme.px(7)
        self._height = y + theme.px(32)
        # With large text one row must do: the chart needs the height more.
        self.setFixedHeight(round(min(self._height, theme.px(92) if theme.scale < 1.4 else theme.px(60))))

    def content_size(self) -> tuple[float, float]:
        return 0.0, self._height

    def draw(self, painter: QPainter, seen: QRectF) -> None:
        theme = self.book.now
        painter.setPen(theme.pen("hairline", 1))
        painter.drawLine(QPointF(0, 0.5), QPointF(seen.right(), 0.5))
        painter.setFont(theme.font(13))
        painter.setPen(theme.colour("soft"))
        words = f"{self.title}: drop a line here, or select it and type the number" if self.chips else self.none
        words = words if theme.width(words, 13) < seen.width() else words.split(":", maxsplit=1)[0]
        painter.drawText(QRectF(0, theme.px(3), seen.width(), theme.px(20)), Qt.AlignmentFlag.AlignLeft, words)
        for area, point in self.chips:
            over = point is self._over
            if over:
                painter.fillRect(area, theme.colour("selection"))
            painter.setPen(theme.pen("accent" if over else "hairline", 1))
            painter.drawRect(area)
            painter.setFont(theme.font(14, bold=True, mono=True))
            painter.setPen(theme.colour("ink"))
            inner = area.adjusted(theme.px(7), 0, 0, 0)
            centre = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(inner, centre, str(point.number))
            number = theme.width(str(point.number), 14, bold=True, mono=True) + theme.px(8)
            painter.setFont(theme.font(13))
            painter.setPen(theme.colour("soft"))
            painter.drawText(inner.adjusted(number, 0, 0, 0), centre, self.text_of(point))

    def chip_at(self, at: QPointF) -> Point | None:
        """Return the free input at a point of the viewport."""
        here = at + self.offset()
        return next((point for area, point in self.chips if area.contains(here)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        point = self.chip_at(event.position()) if event else None
        if point is not None:
            self.table.select(Subject("port", point.end.unit, point.end.port))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and event.mimeData() is not None and event.mimeData().hasFormat(self.mime):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is not None:
            self._over = self.chip_at(event.position())
            self.viewport().update()
            if self._over is not None:
                event.acceptProposedAction()
            else:
                event.ignore()

    def dropEvent(self, event: QDropEvent | None) -> None:
        self._over = None
        point = self.chip_at(event.position()) if event else None
        if event is None or point is None or event.mimeData() is None:
            return
        event.acceptProposedAction()
        self.drop(event.mimeData().data(self.mime).data().decode(), point.end)

    def drop(self, key: str, end: PortEnd) -> None:
        """Plug a line into a free socket; say why where it cannot be."""
        try:
            self.table.do(self._place(self.table.survey, key, end))
        except EnneadError as error:
            self.table.said.emit(str(error))


class FreeInputs(FreeSockets):
    """Where a source could arrive."""

    mime = SOURCE_MIME
    title, none = "Free inputs", "No input is free"

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book, lambda survey, key, end: place_at_port(survey, SourceId(key), end))

    def free_seats(self) -> list[Point]:
        return [s for s in self.table.survey.input_points if not self.table.survey.cables_at(s.end) and not s.fault]


class FreeOutputs(FreeSockets):
    """What nothing of the session goes out by, and no cable holds."""

    mime = DESTINATION_MIME
    title, none = "Free outputs", "No output is free"

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(table, book, lambda survey, key, end: place_out_at_port(survey, DestinationId(key), end))

    def free_seats(self) -> list[Point]:
        studio, leaving = self.table.studio, self.table.survey.leaving_by_unit
        held = {end for d in self.table.survey.destinations for end in d.outputs}
        return [
            s
            for s in self.table.survey.output_points
            if s.lane == 1
            and s.end not in held
            and s.port.key not in leaving.get(s.unit, ())
            and s.port.key not in studio.units[s.unit].faults
        ]
