"""The Lines sheet: the chart's rows, allocation by keyboard, numbers typed, lines dropped on free inputs."""

import random
from itertools import pairwise

from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDragMoveEvent, QDropEvent, QHelpEvent
from PyQt6.QtTest import QTest

from ennead.demo.skerry import skerry
from ennead.desk.sheets.lines.chart_view import SOURCE_MIME
from ennead.drawings.layouts.chart_rows import GroupRow, LineRow, Options, chart_rows, span_text
from ennead.edits.as_built import tick_cable
from ennead.edits.session import add_source, change_source
from ennead.edits.settings import set_clock_source, set_mode
from ennead.reports.in_rows import number_text
from ennead.studio.ranges import in_ranges
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from tests.builders import ELEVEN, INTERFACE, end, one_fibre, plug, rig
from tests.desk_case import DeskCase


def eleven():
    studio = set_clock_source(one_fibre(), "U1", "optical")
    for name in ELEVEN:
        studio = add_source(studio, name)
    return studio


class Chart(DeskCase):
    start = eleven()

    def setUp(self):
        super().setUp()
        self.press("Alt+5")
        self.sheet = self.window.lines_sheet
        self.chart = self.sheet.chart

    def line(self, name):
        return next(r for r in self.chart.rows() if isinstance(r, LineRow) and r.name == name)

    def numbers(self):
        return [r.number for r in self.chart.rows() if isinstance(r, LineRow)]

    def allocate(self):
        self.press("Ctrl+Return")
        self.until(lambda: self.chart.proposal is not None)

    def select(self, source):
        self.table.select(Subject("source", source))
        self.chart.setFocus()
        self.settle()

    def test_allocate_take_and_take_back(self):
        self.allocate()
        self.assertEqual((self.line("Hi-hat").ghost, self.line("Hi-hat").number), ("4", ""))
        self.assertEqual(self.line("Bass DI").ghost_port, "Eight-preamp optical expander Mic 1")
        self.assertIn("11 sources placed, none moved", self.sheet.bar.words.text())
        self.press("Ctrl+Return")
        self.assertEqual(self.numbers(), ["1", "2", "3", "4", "5", "6", "7", "8", "15", "16", "17"])
        self.assertEqual(self.table.undo_stack.undoText(), "Place 11 sources")
        self.assertFalse(self.sheet.bar.isVisible())
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(self.line("Bass DI").number, "15")

    def test_some_or_none_of_a_proposal(self):
        self.allocate()
        self.select("S3")
        self.press("Space")
        self.assertEqual(self.sheet.bar.take.text(), "Take 10 of 11")
        box = self.chart.chart.row_of("S4")
        at = QPoint(round(self.chart.chart.number) + 10, round(box.y + box.height / 2))
        QTest.mouseClick(self.chart.viewport(), Qt.MouseButton.LeftButton, pos=at)
        self.click(self.button("Take 9 of 11"))
        self.assertEqual([n for n in self.numbers() if not n], ["", ""])
        self.allocate()
        self.press("Escape")
        self.assertIsNone(self.chart.proposal)
        self.assertEqual(self.table.undo_stack.count(), 1)

    def test_an_edit_meanwhile_drops_the_proposal(self):
        self.allocate()
        self.window.sheets[1].rate.setCurrentIndex(0)
        self.window.sheets[1].rate.activated.emit(0)
        self.assertIsNone(self.chart.proposal)
        self.assertEqual(self.studio.rate_hz, 44_100)

    def test_a_number_typed_brings_the_line_there(self):
        self.select("S1")
        self.type("22")
        self.assertEqual(self.field().text(), "22")
        self.press("Return", into=self.field())
        self.assertIsNone(self.field())
        self.type("5")
        self.press("Escape", into=self.field())
        self.assertIsNone(self.field())
        self.assertEqual(self.line("Kick in").number, "22")
        self.assertEqual(self.studio.cables["C2"].end, end("U2", "mic8"))
        self.select("S2")
        self.type("22")
        self.press("Return", into=self.field())
        self.assertIn("is taken by Kick in", self.said[-1])
        self.press("Return")
        self.type("x", into=self.field())
        self.press("Return", into=self.field())
        self.assertIn("“x” is no driver number", self.said[-1])
        self.select("S1")
        self.press("Delete")
        self.assertEqual(self.line("Kick in").number, "")
        self.undo_all()
        self.assertEqual(self.studio, self.start)

    def test_a_line_is_dropped_on_a_free_input(self):
        free = self.sheet.free
        free.settle()
        area, point = next(c for c in free.chips if c[1].number == 16)
        data = QMimeData()
        data.setData(SOURCE_MIME, b"S5")
        spot = area.center() - free.offset()
        move = (Qt.DropAction.MoveAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        free.dragMoveEvent(QDragMoveEvent(spot.toPoint(), *move))
        self.assertIs(free._over, point)
        free.dropEvent(QDropEvent(spot, *move))
        self.assertEqual(self.line("Rack tom").number, "16")
        self.assertNotIn(16, [s.number for _, s in free.chips])
        data.setData(SOURCE_MIME, b"S6")
        digital, _ = next(c for c in free.chips if c[1].number == 9)
        free.dropEvent(QDropEvent(digital.center() - free.offset(), *move))
        self.assertIn("is analogue and S/PDIF in is digital", self.said[-1])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_optical_set_to_spdif_ends_the_expander_s_lines_in_a_gap(self):
        self.allocate()
        self.press("Ctrl+Return")
        self.table.select(Subject("unit", "U1"))
        self.settle()
        from PyQt6.QtWidgets import QComboBox

        mode = self.window.margin.findChild(QComboBox, "fact_Optical port")
        mode.setFocus()
        self.press("Down")
        self.assertEqual(self.numbers(), ["1", "2", "3", "4", "5", "6", "7", "8", "", "", ""])
        self.assertIn("is set to S/PDIF, but", self.line("Bass DI").gap)
        self.assertEqual(self.line("Bass DI").worst, "trouble")
        self.press("Ctrl+Z")
        self.assertEqual(self.line("Bass DI").number, "15")

    def test_arrows_walk_and_fold(self):
        self.open(skerry())
        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        self.press("Home", "Down")
        self.assertEqual(self.table.selection.key, "S2")
        self.press("Left")
        folded = [r for r in chart.rows() if isinstance(r, GroupRow) and r.folded]
        self.assertEqual([(g.name, g.span, g.count) for g in folded], [("Choir", "9–14, 34–35, 50–51", 6)])
        self.press("Right", "End")
        self.assertEqual(self.table.selection.key, [r.source for r in chart.rows() if not isinstance(r, GroupRow)][-1])
        self.press("Home", "PageDown")
        heading = next(r for r in chart.chart.rows if isinstance(r.item, GroupRow))
        self.press("Home")
        QTest.mouseClick(chart.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(60, round(heading.y + 10)))
        self.assertEqual(chart.folded, {"Choir"})

    def test_sorting_by_number_and_by_place(self):
        self.open(skerry())
        chart = self.window.lines_sheet.chart
        chart.set_sort("number")
        firsts = [r.sort_number for r in chart.rows()]
        self.assertEqual(firsts, sorted(firsts))
        chart.set_sort("place")
        self.assertEqual(
            [r.name for r in chart.rows() if isinstance(r, GroupRow)], ["Hall", "Booth", "Boat shed", "Control room"]
        )

    def test_hover_tells_the_whole_of_a_line_as_plain_text(self):
        self.open(add_source(rig(INTERFACE), "<b>" + "long " * 20))
        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        chart.settle()
        row = chart.chart.row_of("S1")
        at = QPoint(60, round(row.y + 8))
        chart.viewportEvent(QHelpEvent(QEvent.Type.ToolTip, at, chart.viewport().mapToGlobal(at)))
        from PyQt6.QtWidgets import QToolTip

        self.assertIn("&lt;b&gt;long", QToolTip.text())

    def test_allocate_says_what_is_missing_first(self):
        self.open(add_source(rig("active loudspeaker"), "Fiddle"))
        self.press("Alt+5")
        self.window.lines_sheet.allocate()
        self.assertIn("no input to allocate to", self.said[-1])
        self.open(rig(INTERFACE))
        self.window.lines_sheet.allocate()
        self.assertIn("no source to allocate", self.said[-1])


class Rows(DeskCase):
    """The facts of the rows and the geometry of the chart."""

    def rows(self, studio, **options):
        from ennead.checks.all_checks import find_all

        survey = Survey(studio)
        return [r for r in chart_rows(survey, find_all(survey), Options(**options)) if isinstance(r, LineRow)]

    def test_numbers_read_as_an_engineer_says_them(self):
        self.assertEqual([number_text(n) for n in ([], [3], [15, 16], [4, 9])], ["", "3", "15–16", "4 + 9"])
        for texts, said in (
            (["P Mic 1", "P Mic 2"], "P Mic 1–2"),
            (["P Mic 4", "Q Mic 1"], "P Mic 4 + Q Mic 1"),
            (["A · 3", "A · 4"], "A · 3–4"),
            (["P Mic 1", "P Mic 4"], "P Mic 1 + 4"),
            ([f"Buoy {n}" for n in (3, 4, 5, 8, 9)], "Buoy 3–5 + 8–9"),
            (["Phones", "Phones"], "Phones"),
            (["A–B 1", "A–B 2", "Phones", "Phones 1"], "A–B 1–2 + Phones + Phones 1"),
            (["P 2", "P 1"], "P 2 + 1"),
            ([], ""),
        ):
            self.assertEqual(in_ranges(texts), said)

    def test_a_range_is_closed_and_broken_where_numbers_are_missing(self):
        studio = rig(INTERFACE)
        for name, ports in (("A", ("mic1",)), ("B", ("mic3", "mic4")), ("C", ("mic5",)), ("D", ("mic8",))):
            studio = plug(studio, name, "U1", *ports)
        self.assertEqual(span_text(self.rows(studio)), "1, 3–5, 8")

    def test_built_planned_broken_and_live(self):
        studio = plug(set_clock_source(one_fibre(), "U1", "optical"), "Mic", "U2", "mic1")
        (line,) = self.rows(studio)
        self.assertEqual((line.built, line.number, line.gap, line.phantom, line.worst), (False, "15", "", "", ""))
        self.assertTrue(self.rows(tick_cable(tick_cable(studio, "C1"), "C2"))[0].built)
        self.assertFalse(self.rows(tick_cable(studio, "C2"))[0].built)
        (broken,) = self.rows(set_mode(studio, "U1", "optical", "spdif-optical"))
        self.assertEqual((broken.number, broken.worst), ("", "trouble"))
        demo = {r.name: r for r in self.rows(skerry())}
        self.assertEqual(
            [demo[n].phantom for n in ("Harmonium", "Narrator", "Fiddle", "Second voice")], ["bad", "on", "", "on"]
        )
        self.assertEqual(demo["Narrator"].stops["outboard"], ("Bollard Mic 1",))

    def test_nothing_overlaps_at_any_size_scale_or_length_of_name(self):
        from ennead.drawings.layouts.chart_layout import lay_chart, shown_stops
        from ennead.drawings.painters.palette import PAPER
        from ennead.drawings.painters.theme import Theme

        dice = random.Random(2)
        studio = skerry()
        for source in list(studio.sources)[::3]:
            studio = change_source(studio, source, name="x" * dice.randint(1, 60), track="y" * dice.randint(1, 60))
        survey = Survey(studio)
        from ennead.checks.all_checks import find_all

        for scale in (0.8, 1.0, 1.5, 2.0):
            for width in (460, 640, 920, 1500):
                theme = Theme(PAPER, scale)
                rows = chart_rows(survey, find_all(survey), Options(selected="S9"))
                chart = lay_chart(rows, width, theme.width, theme.px)
                for above, below in pairwise(chart.rows):
                    self.assertLessEqual(above.y + above.height, below.y)
                self.assertLess(chart.name, chart.middle)
                self.assertLess(chart.middle, chart.number)
                self.assertLess(chart.number, chart.track)
                zones = list(chart.zones.values())
                for (x, w), (after, _) in pairwise(zones):
                    self.assertLessEqual(x + w, after + 0.01)
                for row in chart.rows:
                    self.assertIs(chart.row_at(row.y + row.height / 2), row)
                    if isinstance(row.item, LineRow):
                        shown = [shown_stops(row.item, z) for z in chart.zones]
                        self.assertGreaterEqual(row.height, theme.px(20) * max(map(len, shown)))

    def test_selected_line_unfolds_all_its_stops_and_others_count_them(self):
        from ennead.drawings.layouts.chart_layout import shown_stops

        line = next(r for r in self.rows(skerry(finished=True), selected="S9") if r.name == "Narrator")
        self.assertEqual(shown_stops(line, "link"), ("Harbour Optical · 1", "Pier Optical B · 1"))
        other = next(r for r in self.rows(skerry(finished=True)) if r.name == "Narrator")
        self.assertEqual(shown_stops(other, "link"), ("Pier Optical B · 1",))


class Wall(DeskCase):
    start = skerry()

    def test_tape_view_shows_numbers_in_order_and_closes_with_escape(self):
        self.press("Ctrl+T")
        tape = self.window.tape
        self.assertEqual([line.number for line in tape.lines()][:3], ["1", "5", "6"])
        self.assertEqual(tape.lines()[-1].number, "")
        self.assertFalse(tape.grab().isNull())
        self.press("Escape", into=tape)
        self.assertFalse(tape.isVisible())

    def test_a_click_below_the_last_line_selects_nothing(self):
        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        self.window.resize(1280, 1400)
        self.settle()
        self.press("Down")
        chart.mousePressEvent(_press(QPointF(200, chart.chart.height + 5)))
        self.assertEqual(self.table.selection.kind, "nothing")


def _press(at):
    from PyQt6.QtGui import QMouseEvent

    left = Qt.MouseButton.LeftButton
    return QMouseEvent(QEvent.Type.MouseButtonPress, at, at, left, left, Qt.KeyboardModifier.NoModifier)
