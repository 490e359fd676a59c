"""The Links and Clock sheets by key and button: connect an expander, rehearse, let another lead, simulate; undo."""

from itertools import pairwise

from ennead.demo.skerry import skerry
from ennead.drawings.layouts.cascade_layout import lay_cascade
from ennead.drawings.layouts.ribbon_layout import lay_links
from ennead.edits.cables import connect
from ennead.edits.house import rename_unit
from ennead.edits.session import set_rate
from ennead.edits.settings import set_mode
from ennead.planning.clock.clock_plan import POLICIES
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, plug, rig
from tests.desk_case import DeskCase
from tests.test_layouts import apart, measure


class Links(DeskCase):
    start = rig(INTERFACE, EXPANDER)

    def test_an_expander_is_connected_as_one_step(self):
        before = self.studio

        def take(dialog):
            self.assertEqual(dialog.expander.currentData(), "U2")
            self.until(lambda: dialog.found is not None)
            first = [dialog.rows.item(n).text() for n in range(dialog.rows.count())]
            self.assertTrue(any("15–22" in line for line in first), first)
            self.click(dialog.both)
            self.until(lambda: dialog.found is not None)
            self.assertIn("2 cables to run", " ".join(dialog.found.said))
            self.press("Return", into=dialog.take)
            self.click(dialog.take) if dialog.isVisible() else None

        self.press("Alt+3")
        self.in_dialog("expand_dialog", take)
        self.click(self.button("Expand"))
        self.assertEqual(len(self.studio.cables), 2)
        self.assertTrue(self.table.survey.clocks.domain_of("U2").all_locked)
        after = self.studio
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(self.studio, after)

    def test_what_cannot_be_joined_is_said_and_cannot_be_taken(self):
        def look(dialog):
            dialog.expander.setCurrentIndex(dialog.expander.findData("U1"))
            self.assertIn("cannot expand itself", dialog.rows.item(0).text())
            self.assertFalse(dialog.take.isEnabled())
            dialog.reject()

        self.press("Alt+3")
        self.in_dialog("expand_dialog", look)
        self.click(self.button("Expand"))
        self.assertFalse(self.table.undo_stack.canUndo())

    def test_a_rate_is_rehearsed_before_it_is_gone_to(self):
        studio = one_fibre()
        for n in range(1, 9):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        self.open(studio)

        self.press("Alt+3")
        self.click(self.button("Rehearse"))
        sheet = self.window.sheets[3]
        shown = sheet.rehearsal
        self.assertIn("4 tracks lost", shown.sum.text())
        self.assertIn("22 → 18", shown.sum.text())
        shown.drawing.settle()
        (side,) = shown.drawing.layout_now.sides
        ends = {t.moving.name: (t.moving.before, t.moving.after, t.to_y is None) for t in side.threads}
        self.assertEqual((ends["Mic 4"], ends["Mic 5"]), ((18, 18, False), (19, None, True)))
        self.assertIn("19", [t.text for t in side.ticks if t.here and not t.there])
        self.press("Escape", into=shown.drawing)
        self.assertFalse(sheet.is_rehearsing)
        self.assertEqual(self.studio, studio)
        self.click(self.button("Rehearse"))
        shown.what.setCurrentIndex(shown.what.findText("the session goes to 44.1 kHz"))
        self.assertIn("0 tracks lost, 0 renumbered", shown.sum.text())
        self.click(shown.go)
        self.assertEqual((self.studio.rate_hz, sheet.is_rehearsing), (44_100, False))
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, studio)
        self.click(self.button("Rehearse"))
        shown.what.setCurrentIndex(next(n for n in range(shown.what.count()) if "to S/PDIF" in shown.what.itemText(n)))
        self.assertIn("8 tracks lost", shown.sum.text())
        self.click(shown.go)
        self.assertEqual(self.studio.settings_of("U1").modes, {"optical": "spdif-optical"})

    def test_a_single_link_is_picked_by_typing(self):
        def pick(dialog):
            self.type("spdif", into=dialog.typed)
            self.assertEqual(dialog.found.count(), 0)
            dialog.typed.clear()
            self.type("adat optical", into=dialog.typed)
            texts = [dialog.found.item(n).text() for n in range(dialog.found.count())]
            wanted = next(
                n for n, t in enumerate(texts) if t.startswith("ADAT: Eight-preamp optical expander · Optical out →")
            )
            dialog.found.setCurrentRow(wanted)
            self.press("Return", into=dialog.typed)

        self.press("Alt+3")
        self.in_dialog("link_dialog", pick)
        self.click(self.button("Link"))
        (cable,) = self.studio.cables.values()
        self.assertEqual((cable.start, cable.end), (end("U2", "optical_out"), end("U1", "optical_in")))
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_arrows_go_from_ribbon_to_ribbon_and_delete_pulls(self):
        self.open(skerry())
        self.press("Alt+3", "Down")
        first = self.table.selection
        self.assertEqual(first.end, end("U2", "optical_a_in"))
        self.press("Down")
        self.assertNotEqual(self.table.selection, first)
        self.press("Up", "Delete")
        self.assertNotIn("C3", self.studio.cables)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, skerry())

    def test_lanes_vanish_with_the_rate_and_with_the_mode(self):
        def states(studio):
            (ribbon,) = lay_links(Survey(studio), 900, measure, round).ribbons
            return "".join(c.lane.state[0] for c in ribbon.cells), ribbon.wrong

        studio = plug(one_fibre(), "Mic", "U2", "mic2")
        self.assertEqual(states(studio), ("fufffff" + "f", ""))
        self.assertEqual(states(set_rate(studio, 96_000)), ("fuffllll", ""))
        self.assertEqual(states(set_rate(studio, 192_000)), ("fullllll", ""))
        marks, wrong = states(set_mode(studio, "U1", "optical", "spdif-optical"))
        self.assertEqual(marks, "l" * 8)
        self.assertIn("no channel gets through", wrong)

    def test_nothing_overlaps_or_leaves_its_frame(self):
        studio = connect(
            rig("MADI interface, one optical and one coaxial pair", "MADI bridge, eight optical pairs", EXPANDER),
            end("U2", "madi_out"),
            end("U1", "madi_a_in"),
            60.0,
        )
        studio = connect(studio, end("U3", "optical_out"), end("U2", "optical_in1"))
        for unit in studio.units:
            studio = rename_unit(studio, unit, "Ж" * 50)
        for scale in (0.8, 1.0, 2.0):
            for width in (420, 700, 1_100):
                wide = lambda t, s, k=scale: measure(t, s * k)  # noqa: E731
                layout = lay_links(Survey(studio), width, wide, lambda m, k=scale: round(m * k))
                cells = [c for r in layout.ribbons for c in r.cells]
                self.assertEqual(len(cells), 64 + 8)
                for i, cell in enumerate(cells):
                    self.assertLessEqual(cell.x + cell.width, width)
                    self.assertTrue(all(apart(cell, other) for other in cells[i + 1 :]))
                    self.assertIs(layout.cell_at(cell.x + 1, cell.y + 1), cell)
                self.assertLessEqual(cells[-1].y + cells[-1].height, layout.height)


class Clock(DeskCase):
    start = one_fibre()

    def test_another_is_let_lead_and_taken_back(self):
        before = self.studio
        self.press("Alt+4")
        strip = self.window.sheets[4].strip
        self.until(lambda: strip.plan is not None)
        self.assertEqual(strip.list.count(), 3)
        self.assertIn(
            "only Eight-preamp optical expander can lead: clock runs the same way as sound", strip.list.item(2).text()
        )
        self.assertIn("no cable to add", strip.list.item(0).text())
        strip.list.setCurrentRow(1)
        self.click(strip.take_button)
        self.assertEqual(len(self.studio.cables), 2)
        self.assertEqual(self.table.survey.clocks.by_unit["U1"].state, "leads")
        self.assertEqual(self.table.survey.clocks.by_unit["U2"].state, "locked")
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_each_school_ranks_and_says_what_it_wants(self):
        self.open(skerry())
        self.press("Alt+4")
        strip = self.window.sheets[4].strip
        first = set()
        for row in range(len(POLICIES)):
            strip.policy.setCurrentIndex(row)
            self.until(lambda p=POLICIES[row]: strip.plan is not None and strip.plan.policy == p)
            first.add((strip.plan.policy, strip.plan.alternatives[0].leader))
            self.assertTrue(strip.why.text())
        self.assertIn(("computer", "U2"), first)
        self.assertIn(("best", "U1"), first)
        self.assertIn("leads now", strip.list.item(0).text())

    def test_the_cascade_is_walked_and_shows_why_somebody_is_not_locked(self):
        self.open(skerry())
        self.press("Alt+4", "Down")
        self.assertEqual(self.table.selection, Subject("unit", "U1"))
        self.press("Down", "Down")
        self.assertNotEqual(self.table.selection.key, "U1")
        boxes = lay_cascade(Survey(skerry()), 900, round).boxes
        jetty = next(b.row for b in boxes if b.row.name == "Jetty")
        self.assertEqual((jetty.word, jetty.locked, jetty.depth), ("no clock", False, 0))
        self.assertIn("ADAT arrives at Optical in, set to S/PDIF", jetty.reason)
        for above, below in pairwise(boxes):
            self.assertLessEqual(above.y + above.height, below.y)

    def test_a_cable_pulled_in_the_simulation_stays_in_the_plan(self):
        self.open(self._followed())
        before = self.studio
        self.press("Alt+4")
        self.click(self.button("Simulate"))
        sheet = self.window.sheets[4]
        played = sheet.simulation
        self.until(lambda: played.played is not None)
        self.assertIn("in step", played.sounds.item(0).text())
        first = played.played
        # The unit that follows is chosen on the cascade, and its cable pulled by Space.
        self.press("Down", "Down", "Space", into=sheet.view)
        self.until(lambda: played.played is not first)
        self.assertEqual(played.pulled, {"C1"})
        heard = [played.sounds.item(n).text() for n in range(played.sounds.count())]
        self.assertTrue(any("silence" in line for line in heard), heard)
        state = sheet.view._states()["U1"]
        self.assertEqual((state.lamp, state.pulled), ("lost", True))
        box = sheet.view.layout_now.box_of("U1")
        self.assertEqual(sheet.view.layout_now.line_at(box.from_x, (box.from_y + box.y) / 2, 4), box)
        second = played.played
        self.click(self.button("Put it back"))
        self.until(lambda: played.played is not second)
        self.assertEqual((played.pulled, sheet.view._states()["U1"].lamp), (frozenset(), "locked"))
        self.click(self.button("End the simulation"))
        self.assertEqual((self.studio, sheet.is_simulating, sheet.view.simulated), (before, False, None))

    @staticmethod
    def _followed():
        from ennead.edits.settings import set_clock_source

        return set_clock_source(one_fibre(), "U1", "optical")
