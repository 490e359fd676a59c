"""Geometry of the drawings: nothing overlaps or leaves its frame, at any scale, width, or length of name."""

import random
import unittest
from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ennead.checks.all_checks import find_all
from ennead.demo.skerry import skerry
from ennead.drawings.layouts.balance_layout import lay_bars
from ennead.drawings.layouts.chart_rows import Options, chart_rows
from ennead.drawings.layouts.strip_layout import lay_rig
from ennead.drawings.layouts.wrapping import wrap
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source, change_source
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.studio.errors import EnneadError
from ennead.survey.balance import Need, balance
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, random_edit, random_studio, rig
from tests.desk_case import DeskCase
from tests.trials import few


def measure(text, size):
    """Stand in for a font: every letter is half as wide as it is high."""
    return len(text) * size / 2


def apart(one, other):
    return (
        one.x + one.width <= other.x + 0.01
        or other.x + other.width <= one.x + 0.01
        or one.y + one.height <= other.y + 0.01
        or other.y + other.height <= one.y + 0.01
    )


class Strips(unittest.TestCase):
    def test_sockets_never_overlap_and_stay_on_their_strip(self):
        dice = random.Random(6)
        studio = skerry()
        for unit in studio.units:
            studio = rename_unit(studio, unit, "Ж" * dice.randint(1, 60))
        for scale in (0.8, 1.0, 2.0):
            for width in (400, 700, 940, 1600):
                layout = lay_rig(
                    Survey(studio), width, lambda t, s, k=scale: measure(t, s * k), lambda m, k=scale: round(m * k)
                )
                self.assertEqual(len(layout.strips), len(studio.units))
                for above, below in zip(layout.strips, layout.strips[1:], strict=False):
                    self.assertLessEqual(above.y + above.height, below.y)
                for strip in layout.strips:
                    for i, box in enumerate(strip.ports):
                        self.assertGreaterEqual(box.y, strip.y)
                        self.assertLessEqual(box.y + box.height, strip.y + strip.height + 1)
                        self.assertTrue(all(apart(box, other) for other in strip.ports[i + 1 :]), (scale, width))
                self.assertLessEqual(layout.strips[-1].y + layout.strips[-1].height, layout.height)

    def test_a_strip_says_who_uses_a_socket_and_whether_it_stands(self):
        layout = lay_rig(Survey(skerry()), 940, measure, round)
        by_label = {(s.name, b.label): b for s in layout.strips for b in s.ports}
        self.assertEqual(" ".join(by_label["Pier", "Optical A in"].user), "Slipway Optical A out")
        self.assertEqual(by_label["Pier", "Optical A in"].state, "as built")
        fiddle = next(b for b in layout.by_end.values() if b.end.port == "wall5" and b.user == ("Fiddle",))
        self.assertEqual((fiddle.state, fiddle.live), ("planned", False))
        faults = [b.label for s in layout.strips for b in s.ports if b.fault]
        self.assertEqual(faults, ["19 below", "6"])
        live = {b.end.port for s in layout.strips if s.name == "Slipway" for b in s.ports if b.live}
        self.assertEqual(live, {f"mic{n}" for n in range(1, 9)})
        clocks = {s.name: (s.clock, s.unlocked) for s in layout.strips}
        self.assertEqual(
            (clocks["Beacon"], clocks["Harbour"], clocks["Jetty"], clocks["Bollard"]),
            (("leads the clock", False), ("follows Optical", False), ("no clock on Optical", True), ("", False)),
        )


class Bars(unittest.TestCase):
    def test_the_bars_of_a_need_share_a_unit_and_stay_within_their_side(self):
        needs = [Need("a", "A", 9, 8, ()), Need("b", "B", 0, 27, ()), Need("c", "C", 3, 3, ())]
        bars = lay_bars(needs, 300, 10, 50, 30)
        self.assertEqual([b.top for b in bars], [10, 60, 110])
        unit = 120 / 9
        self.assertAlmostEqual(bars[0].needed, 120)
        self.assertAlmostEqual(bars[0].available, 8 * unit)
        self.assertAlmostEqual(bars[0].short, unit)
        self.assertEqual((bars[1].short, bars[2].short), (0, 0))
        self.assertAlmostEqual(bars[1].available, 120)
        self.assertEqual(lay_bars([], 300, 10, 50, 30), ())
        self.assertEqual(lay_bars([replace(needs[0], needed=0, available=0)], 300, 0, 50, 30)[0].needed, 0)

    def test_the_demo_needs_what_its_list_says(self):
        needs = {n.key: n.needed for n in balance(Survey(skerry()))}
        self.assertEqual(needs, {"phantom": 13, "mic": 19, "line": 4, "hiz": 1, "digital": 2, "all": 26})


class KeptRows(unittest.TestCase):
    def test_rows_taken_over_after_an_edit_are_those_made_anew(self):
        for seed in range(few(3, 6)):
            dice, studio, kept = random.Random(seed), skerry() if seed % 2 else random_studio(seed, 40), {}
            for _ in range(30):
                try:
                    studio = random_edit(studio, dice)[1](studio)
                except EnneadError:
                    continue
                survey = Survey(studio)
                options = Options(
                    dice.choice(("group", "number", "place")), frozenset(), dice.choice(["", *studio.sources])
                )
                found = find_all(survey)
                self.assertEqual(chart_rows(survey, found, options, kept), chart_rows(survey, found, options))
        survey = Survey(skerry())
        chart_rows(survey, (), Options(), kept)
        again = Survey(change_source(survey.studio, "S1", name="Other"), survey)
        before = {id(row) for _, row in kept.values()}
        self.assertEqual(
            sum(id(r) in before for r in chart_rows(again, (), Options(), kept)), len(survey.studio.session_sources) - 1
        )


class Wrapping(unittest.TestCase):
    def test_words_fill_two_lines_and_the_rest_is_cut(self):
        self.assertEqual(wrap("one two three", 100, 10, measure), ("one two three",))
        self.assertEqual(wrap("one two three", 40, 10, measure), ("one two", "three"))
        self.assertEqual(wrap("one two three four", 40, 10, measure), ("one two", "three f…"))
        self.assertEqual(wrap("unbreakable", 30, 10, measure), ("unbre…",))
        self.assertEqual(wrap("", 30, 10, measure), ("",))


class Sixty(DeskCase):
    def full_house(self, count):
        studio = rig(INTERFACE, *[EXPANDER] * 3)
        for n in range(count):
            studio = add_source(studio, f"{'Source of sixty letters ' * 3}{n}"[-60:], group=f"Group {n // 8}")
        return studio

    def test_sixty_sources_scroll_with_their_headings_in_sight(self):
        self.open(self.full_house(60))
        self.table.do(take(self.table.survey, allocate(self.table.survey)))
        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        self.press("End")
        row = chart.chart.row_of(self.table.selection.key)
        seen = chart.verticalScrollBar().value()
        self.assertGreater(seen, 0)
        self.assertLessEqual(row.y + row.height, seen + chart.viewport().height() + 1)
        self.assertGreaterEqual(row.y, seen + chart.chart.head)
        self.assertFalse(chart.grab().isNull())
        self.press("Home")
        self.assertEqual(chart.verticalScrollBar().value(), 0)

    def test_a_narrow_window_keeps_source_and_number_and_scrolls_the_middle(self):
        self.open(self.full_house(9))
        self.window.resize(820, 600)
        for _ in range(6):
            self.window.looks.step(1)
        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        chart.settle()
        self.assertGreater(chart.horizontalScrollBar().maximum(), 0)
        self.assertLess(chart.chart.number, chart.viewport().width())
        before = chart.chart.number
        chart.horizontalScrollBar().setValue(chart.horizontalScrollBar().maximum())
        self.settle()
        self.assertEqual(chart.chart.number, before)

    def test_a_thousand_lines_pasted_are_one_step_and_undone_by_one(self):
        text = "\n".join(f"Spot {n}" for n in range(1000))
        self.window.sheets[1].paste(text)
        self.assertEqual(len(self.studio.current.sources), 1000)
        self.press("Ctrl+Z")
        self.assertEqual(len(self.studio.current.sources), 0)

    def test_the_rail_is_walked_by_tab_and_pressed_by_space(self):
        tab = self.window.navigation.tabs[2]
        tab.setFocus(Qt.FocusReason.TabFocusReason)
        QTest.keyClick(tab, Qt.Key.Key_Space)
        self.settle()
        self.assertIs(self.window.stack.currentWidget(), self.window.sheets[2])
        self.assertEqual(tab.accessibleName(), "Sheet 2, Rig")
