"""Dragging a level on the staircase: the send's gain in front of a box, what comes out of it behind, the return's gain at the end."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.gesture import Drag
from ennead.drawings.layouts.stairs_layout import StairsLayout
from ennead.drawings.painters.theme import Theme
from ennead.edits.change import Change, change
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.reports.loop_rows import LoopFigures
from ennead.survey.staircase import LevelStop

#: Steps of what is dragged, dB; finer figures are typed. House default.
_STEP_DB = 0.5


class DragLevel(Drag):
    """A peak that is being moved up or down."""

    def __init__(self, table: Worktable, stairs: StairsLayout, figures: LoopFigures, stop: LevelStop) -> None:
        super().__init__()
        self._table, self._stairs, self._figures, self._stop = table, stairs, figures, stop

    @property
    def dbu(self) -> float:
        """The level it has come to, in whole steps from where it was, dBu."""
        was = self._stop.peak_dbu or 0.0
        if self.at is None:
            return was
        scale = self._stairs.scale
        per = (scale.most - scale.least) / (scale.right - scale.left)
        here = scale.least + (self.at.y() - scale.left) * per
        return was + round((here - was) / _STEP_DB) * _STEP_DB

    def change(self) -> Change | None:
        """Return what comes of it: another gain of the send, or another figure of the box; none for what follows from these."""
        stop, loop, was = self._stop, self._figures.loop, self._stop.peak_dbu
        if was is None or self.dbu == was:
            return None
        if stop is self._stairs.software:
            gain = round(loop.use.return_gain_db + self.dbu - was, 2)
            return change(f"Return gain of {loop.name}", set_loop_use, loop.id, return_gain_db=gain)
        unit = stop.at.unit
        if unit in loop.use.peaks_dbu and stop.working == "as stated":
            name = self._table.studio.units[unit].name
            return change(f"State the level behind {name}", set_box_peak, loop.id, unit, round(self.dbu, 2))
        behind = [s for s in self._stairs.stairs.stops if s.at.what == "box" and s.peak_dbu is not None]
        if stop.at.what == "D/A" or (behind and stop is behind[0]):
            gain = round(loop.use.send_gain_db + self.dbu - was, 2)
            return change(f"Send gain of {loop.name}", set_loop_use, loop.id, send_gain_db=gain)
        return None

    def dropped(self, at: QPointF) -> None:
        self.at = at
        made = self.change()
        if made is not None:
            self._table.do(made)
        elif self._stop.at.what == "A/D":
            self._table.said.emit("What arrives there follows from the box before it: drag that, or type its figure.")
        self.at = None

    def draw(self, painter: QPainter, theme: Theme) -> None:
        """Draw where it would come to, with its figure."""
        if self.at is None:
            return
        stairs = self._stairs
        n = stairs.shown.index(self._stop)
        x, y = stairs.left + n * stairs.step, stairs.scale.at(self.dbu)
        painter.setPen(theme.pen("accent", 2.4, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x, y), QPointF(x + stairs.step, y))
        painter.setFont(theme.font(14, bold=True, mono=True))
        painter.setPen(theme.colour("accent"))
        text = f"{self.dbu:+.1f} dBu".replace("-", "−")
        area = QRectF(x, y - theme.px(24), max(stairs.step, theme.px(110)), theme.px(20))
        painter.drawText(area, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)
