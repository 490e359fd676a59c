"""The Bays sheet: bays made, cords laid by keys, by words and by the mouse, scenes chosen, moves ticked off."""

import unittest
from unittest.mock import patch

from PyQt6.QtCore import QPointF, QRect, Qt
from PyQt6.QtWidgets import QAbstractButton, QInputDialog, QLineEdit, QMessageBox

from ennead.demo.skerry import skerry
from ennead.desk.sheets.bays.layout_dialog import _offers
from ennead.desk.sheets.bays.loom_facts import line_text
from ennead.desk.sheets.bays.sheet import BaysSheet
from ennead.drawings.layouts.bay_layout import lay_bays
from ennead.drawings.layouts.chart_rows import LineRow
from ennead.drawings.layouts.multipin_layout import lay_multipin
from ennead.edits.bays import add_bay, describe_bay, set_normal
from ennead.edits.cables import connect, make_up
from ennead.edits.change import change
from ennead.edits.house import add_unit, mark_fault
from ennead.edits.scenes import lay_cord, stand_cord
from ennead.edits.settings import set_phantom
from ennead.files.profiles import shelf_profile
from ennead.paper.looms import write_looms
from ennead.planning.routing.block_words import laid_in_words
from ennead.planning.routing.blocks import free_blocks
from ennead.planning.routing.cord_words import cord_change, cord_in_words
from ennead.reports.loom_rows import loom_rows
from ennead.reports.printed import PRINTED
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, Wire
from ennead.studio.ids import UnitId
from ennead.studio.subjects import NOTHING, Subject
from ennead.survey.survey import Survey
from tests.builders import end
from tests.desk_case import DeskCase
from tests.test_bay_checks import house


class Layout(unittest.TestCase):
    def test_points_lie_at_true_proportions_and_are_found_where_they_lie(self) -> None:
        studio = add_bay(describe_bay(house(), UnitId("U2"), pitch_mm=18.0), "B", 48, connector="tt", in_pairs=True)
        studio = set_normal(lay_cord(studio, end("U2", "a4"), end("U3", "b7")), end("U2", "a9"), "")
        studio = set_normal(studio, end("U2", "a1"), "full", "b9")
        layout = lay_bays(Survey(studio), 1000.0, lambda text, *_: 7.0 * len(text), round)
        at = {key: spot.x for key, spot in layout.spot_of.items()}
        step = at[end("U2", "a2")] - at[end("U2", "a1")]
        self.assertAlmostEqual(at[end("U2", "a24")] - at[end("U2", "a1")], 23 * step)
        # 9 mm against 18, and a wider gap behind every second point.
        self.assertAlmostEqual(at[end("U3", "a2")] - at[end("U3", "a1")], step / 2)
        self.assertAlmostEqual(at[end("U3", "a3")] - at[end("U3", "a2")], step / 2 * 1.45)
        for key, spot in layout.spot_of.items():
            found = layout.spot_at(spot.x + 1, spot.y - 2)
            self.assertEqual(found.end if found else None, key)
        (bay, other) = layout.bays
        self.assertEqual({b.how for b in bay.bridges}, {"whole", "tap"})
        self.assertEqual([b.how for b in bay.bridges if b.start.port == "a4"], ["tap"])
        self.assertEqual(
            [(b.start.port, b.end.port, b.how) for b in bay.bridges if b.x0 != b.x1], [("a1", "b9", "whole")]
        )
        self.assertEqual((len(bay.bridges), len(other.bridges)), (23, 48))
        self.assertEqual([(a.number, a.loose) for a in layout.arcs], [(1, False)])
        self.assertEqual(layout.beside(end("U2", "a24"), 1, 0), end("U2", "a24"))
        self.assertEqual(layout.beside(end("U2", "b1"), 0, 1), end("U3", "a1"))

    def test_cords_in_words(self) -> None:
        studio = add_bay(house(), "Bay 2", 8)
        for text, wanted in (
            ("A12 → A5", ("U2", "a12", "U2", "b5")),
            ("a 3 below -> bay 2 7", ("U2", "b3", "U3", "b7")),
            ("A·3 to Bay 2·7 above", ("U2", "a3", "U3", "a7")),
        ):
            one, other = cord_in_words(studio, text)
            self.assertEqual((one.unit, one.port, other.unit, other.port), wanted, text)
        wired = laid_in_words(studio, "pier line out 1–4 → A 9-12").apply(studio)
        self.assertEqual(
            [(c.start.port, c.end.unit, c.end.port) for c in list(wired.cables.values())[-4:]],
            [(f"line_out{n}", "U2", f"a{n + 8}") for n in range(1, 5)],
        )
        self.assertEqual(wired.plugged(end("U1", "line_out1"))[0].end, end("U2", "a9"))
        self.assertEqual(laid_in_words(studio, "A12 → Bay 2 5").apply(studio).cords[-1].plugs[1], end("U3", "b5"))
        for text in (
            "Pier line out 1–4 → A 9–11",
            "Pier line out 4–1 → A 9–12",
            "Pier horn 1 → A 9",
            "Quay 1 → A 9",
            "Pier → A 9",
            "Pier line out 1 → A 25",
            "Pier out",
        ):
            with self.assertRaises(EnneadError, msg=text):
                laid_in_words(studio, text)
        for text in ("A12", "A12 → C5", "A25 → A5", "A0 → A5", "", "→"):
            with self.assertRaises(EnneadError, msg=text):
                cord_in_words(studio, text)


class Bays(DeskCase):
    start = house()

    def setUp(self) -> None:
        super().setUp()
        self.press("Alt+6")
        self.sheet = self.window.findChild(BaysSheet)
        self.view = self.sheet.view

    def plugs(self) -> list[tuple[str, ...]]:
        return [tuple(p.port for p in c.plugs) for c in self.studio.cords]

    def select(self, port: str) -> None:
        self.table.select(Subject("port", "U2", port))
        self.view.setFocus()
        self.settle()

    def spot(self, port: str) -> QPointF:
        self.view.settle()
        spot = self.view.layout_now.spot_of[PortEnd(UnitId("U2"), port)]
        return QPointF(spot.x, spot.y) - self.view.offset()

    def test_a_cord_is_laid_and_pulled_by_keys_alone(self) -> None:
        self.select("a4")
        self.press("Return", "Right", "Right", "Down", "Return")
        self.assertEqual(self.plugs(), [("a4", "b6")])
        self.assertEqual(self.table.undo_stack.undoText(), "Lay a cord from A · 4 above to A · 6 below")
        self.press("Delete")
        self.assertEqual(self.plugs(), [])
        self.press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(self.studio, self.start)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(self.plugs(), [("a4", "b6")])
        self.press("Return", "Left", "Escape", "Return", "Escape")
        self.assertEqual(self.plugs(), [("a4", "b6")])

    def test_a_cord_is_dragged_and_one_into_a_held_point_is_refused_in_a_sentence(self) -> None:
        self.drag(self.view.viewport(), self.spot("a5"), self.spot("b7"))
        self.assertEqual(self.plugs(), [("a5", "b7")])
        self.drag(self.view.viewport(), self.spot("a8"), self.spot("b7"))
        self.assertEqual(self.plugs(), [("a5", "b7")])
        self.assertIn("A · 7 below already holds cable W1. Pull that one first.", self.said[-1])
        self.drag(self.view.viewport(), self.spot("a8"), self.spot("b9"), "Escape")
        self.assertEqual(len(self.plugs()), 1)
        self.undo_all()
        self.assertEqual(self.studio, self.start)

    def test_words_scenes_and_moves_that_are_ticked(self) -> None:
        words = self.window.findChild(QLineEdit, "cord_words")
        words.setFocus()
        self.type("A4 > A6", into=words)
        self.press("Return", into=words)
        self.type("A9 > C7", into=words)
        self.press("Return", into=words)
        self.assertIn("The bays are A.", self.sheet.words.said.text())
        self.assertEqual(self.sheet.words.nearest.text(), "A9 → A 7")
        self.assertEqual(self.plugs(), [("a4", "b6")])
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)
        self.assertIn("2 movements, proven fewest", self.sheet.moves_list.head.text())
        for at, stands in ((0, [("a4",)]), (1, [("a4", "b6")])):
            self.sheet.moves_list.rows.topLevelItem(0).setCheckState(at, Qt.CheckState.Checked)
            self.settle()
            self.assertEqual([tuple(p.port for p in c.plugs) for c in self.studio.as_built.cords.values()], stands)
        row = self.sheet.moves_list.rows.topLevelItem(0)
        self.assertEqual((row.text(2), row.text(3)), ("plug", "W1: A 4 above → Pier Mic 6 (A 6 below)"))
        self.press("Ctrl+Z", into=self.view)
        self.assertEqual(self.sheet.moves_list.rows.topLevelItem(0).checkState(1), Qt.CheckState.Unchecked)
        self.click(self.button("Back to normals"))
        self.assertEqual((self.studio.scene, self.plugs()), ("", []))
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)
        self.until(lambda: self.sheet.moves_list.rows.topLevelItem(0).text(2) == "pull")
        self.assertEqual(self.sheet.moves_list.rows.topLevelItem(0).text(3), "W1: from A 4 above")

    def test_the_moves_follow_what_is_wired_and_switched(self) -> None:
        self.table.do(cord_change(self.studio, end("U2", "a3"), end("U2", "b6")))
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)
        bank = self.studio.profile_of(UnitId("U1")).bank_of_port["mic3"].key
        self.table.do(change("48 V", set_phantom, UnitId("U1"), bank, on=True))
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 4)
        self.assertEqual(self.sheet.moves_list.rows.topLevelItem(0).text(2), "48 V off")
        self.press("Alt+5")
        self.table.do(change("48 V", set_phantom, UnitId("U1"), bank, on=False))
        self.press("Alt+6")
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)

    def test_who_leaves_with_cords_plugged_is_asked(self) -> None:
        self.table.do(cord_change(self.studio, end("U2", "a3"), end("U2", "b6")))
        self.table.do(change("Tick", stand_cord, self.studio.cords[0]))
        self.press("Alt+1")
        self.in_dialog(
            "leaving", lambda box: self.click(next(b for b in box.buttons() if b.text() == "Back to normals"))
        )
        self.assertFalse(self.window.close())
        self.assertEqual((self.window.number, self.studio.scene), (6, ""))
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)
        self.in_dialog(
            "leaving", lambda box: self.click(next(b for b in box.buttons() if b.text() == "Leave them plugged"))
        )
        self.assertTrue(self.window.close())

    def test_a_cord_in_trouble_is_painted_so_and_well_again_when_it_is_mended(self) -> None:
        self.table.do(cord_change(self.studio, end("U2", "a3"), end("U2", "b6")))
        self.table.select(NOTHING)
        self.settle()
        plain = self.view.viewport().grab().toImage()
        self.table.do(change("Fault", mark_fault, end("U2", "b6"), "scratchy"))
        self.settle()
        marked = self.view.viewport().grab().toImage()
        self.assertNotEqual(marked, plain)
        arc = self.view.layout_now.arcs[0]
        badge = QRect(round(arc.x0) + 3, round(arc.y0) - 18, 16, 18)
        self.assertNotEqual(marked.copy(badge), plain.copy(badge))
        self.press("Ctrl+Z")
        self.assertEqual(self.view.viewport().grab().toImage(), plain)

    def test_a_point_lights_its_line_on_every_sheet_and_a_line_its_points(self) -> None:
        self.select("b3")
        self.press("Alt+5")
        self.assertEqual(
            [r.name for r in self.window.lines_sheet.chart.rows() if isinstance(r, LineRow) and r.selected], ["Voice"]
        )
        self.press("Alt+2")
        self.assertIn(end("U1", "mic3"), self.window.rig_sheet.view._far_ends())
        self.table.select(Subject("source", "S1"))
        self.press("Alt+6")
        self.assertEqual(
            self.view._lit.points & {end("U2", "a3"), end("U2", "b3"), end("U2", "a4")},
            {end("U2", "a3"), end("U2", "b3")},
        )

    def test_a_cord_without_a_scene_makes_one_called_after_the_evening(self) -> None:
        self.click(self.button("Back to normals"))
        self.select("a4")
        self.press("Return", "Down", "Right", "Return")
        self.assertEqual([s.name for s in self.studio.scenes.values()], ["Tonight", self.studio.current.name])
        self.assertEqual(self.plugs(), [("a4", "b5")])
        self.press("Ctrl+Z")
        self.assertEqual(len(self.studio.scenes), 1)

    def test_a_bay_is_made_by_the_dialog_and_the_drawing_looks_closer(self) -> None:
        def deed(dialog) -> None:
            self.assertEqual(dialog.name.text(), "B")
            dialog.across.setValue(48)
            dialog.accept()

        self.in_dialog("bay_dialog", deed)
        self.click(self.button("Make a bay…"))
        self.assertEqual(
            [(len(b.rows), len(b.rows[0]), b.pitch_mm) for b in self.studio.bays.values()],
            [(2, 24, 17.9), (2, 48, 9.0)],
        )
        self.assertEqual(self.table.undo_stack.undoText(), "Make the bay B")
        wide = self.view.layout_now.width
        self.view.setFocus()
        self.type("+", into=self.view)
        self.assertGreater(self.view.layout_now.width, wide)
        self.type("-", into=self.view)
        self.assertEqual(self.view.layout_now.width, wide)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_the_normal_and_the_label_of_a_point_are_set_in_the_margin(self) -> None:
        self.select("a3")
        self.until(lambda: self.window.findChild(QLineEdit, "fact_Label") is not None)
        field = self.window.findChild(QLineEdit, "fact_Label")
        field.setFocus()
        self.type("Hall 3", into=field)
        self.press("Return", into=field)
        self.assertEqual(self.studio.bays[UnitId("U2")].labels["a3"].first, "Hall 3")
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_a_route_is_asked_for_and_rears_are_wired_in_words(self) -> None:
        words = self.window.findChild(QLineEdit, "cord_words")
        self.in_dialog("route_dialog", lambda dialog: self.press("Return", into=dialog.findChild(QLineEdit)))
        words.setFocus()
        self.type("Voice into Pier 7", into=words)
        self.press("Return", into=words)
        self.assertEqual(self.plugs(), [("a3", "b7")])
        self.assertEqual(self.table.undo_stack.undoText(), "Lay Voice into Pier · Mic 7")
        self.type("Pier line out 1-2 > A 10-11", into=words)
        self.press("Return", into=words)
        self.assertEqual([c.plugs[1].port for c in list(self.studio.cables.values())[-2:]], ["a10", "a11"])
        self.view.setFocus()
        self.undo_all()
        self.assertEqual(self.studio, self.start)

    def test_a_layout_is_proposed_done_and_undone(self) -> None:
        self.table.do(change("Add", add_unit, shelf_profile("mono equaliser"), "Tiller"))
        begun = self.studio

        def deed(dialog) -> None:
            self.until(lambda: dialog.rows.count() == 1)
            self.assertEqual((dialog.take.isEnabled(), dialog.keep.isVisible()), (False, False))
            next(iter(dialog.boxes.values())).setChecked(True)
            self.until(dialog.keep.isVisible)
            self.assertIn("2 sockets to bring to the bays", dialog.details.item(0).text())
            with patch.object(QInputDialog, "getText", return_value=("Tiller by the window", True)):
                self.click(dialog.keep)
                self.until(lambda: dialog.rows.count() == 2)
                self.click(dialog.keep)
                self.assertIn("Another revision has it", dialog.words.text())
            dialog.rows.setCurrentRow(1)
            self.assertIn("Tiller by the window, kept", dialog.rows.item(1).text())
            self.assertEqual((dialog.take.isEnabled(), dialog.forget.isVisible()), (True, True))
            # Kept ones are read one by one; told to stop, it reads no more of them.
            self.assertEqual([len(_offers(self.studio, [], lambda _, on=on: on)) for on in (True, False)], [2, 1])
            dialog.accept()

        self.in_dialog("layout_dialog", deed)
        self.click(self.button("Lay out…"))
        self.assertEqual(len(self.studio.cables) - len(begun.cables), 2)
        self.assertEqual(self.table.undo_stack.undoText(), "Lay the bays out")
        self.view.setFocus()
        self.press("Ctrl+Z")
        self.assertEqual([r.name for r in self.studio.revisions.values()], ["Tiller by the window"])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, begun)

    def test_a_normal_that_closes_a_ring_is_asked_about_at_once(self) -> None:
        self.table.do(change("Add", add_unit, shelf_profile("mono equaliser"), "Tiller"))
        self.table.do(change("Out", connect, end("U3", "line_out1"), end("U2", "a12")))
        for answer, left in (("Leave it", 24), ("Open this pair", 23)):
            self.table.do(change("In", connect, end("U2", "b12"), end("U3", "line1")))
            self.until(lambda: self.window.findChild(QMessageBox, "ring_question") is not None)
            box = self.window.findChild(QMessageBox, "ring_question")
            self.click(next(b for b in box.buttons() if b.text() == answer))
            self.until(lambda: self.window.findChild(QMessageBox, "ring_question") is None)
            self.assertEqual(len(self.studio.bays[UnitId("U2")].normals), left)
            for _ in range(2 if left == 23 else 1):
                self.press("Ctrl+Z", into=self.view)
            self.until(lambda: self.table.is_settled)

    def test_a_row_of_sockets_is_wired_by_drag_and_by_keys_as_by_words(self) -> None:
        self.click(self.button("Wire…"))
        rears = self.sheet.rears
        texts = [rears.item(n).text() for n in range(rears.count())]
        self.assertEqual(texts, [b.text for b in free_blocks(self.studio)])
        row = next(n for n, text in enumerate(texts) if text.startswith("Pier · Line out 1–"))
        count = int(texts[row].rsplit("–", 1)[1])
        words = f"Pier line out 1–{count} → A 9–{8 + count}"
        typed = laid_in_words(self.studio, words).apply(self.studio)
        rears.setCurrentRow(row)
        here = QPointF(rears.visualItemRect(rears.item(row)).center())
        there = QPointF(rears.viewport().mapFromGlobal(self.view.viewport().mapToGlobal(self.spot("a9").toPoint())))
        self.drag(rears.viewport(), here, there)
        self.assertEqual(self.studio.cables, typed.cables)
        self.assertEqual(self.table.undo_stack.undoText(), f"Wire Pier · Line out 1–{count} → A · 9–{8 + count} above")
        self.assertNotIn(texts[row], [rears.item(n).text() for n in range(rears.count())])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)
        rears.setCurrentRow(row)
        rears.setFocus()
        self.press("Return")
        self.assertIs(self.app.focusWidget(), self.view)
        self.select("a8")
        self.press("Right", "Return")
        self.assertEqual(self.studio.cables, typed.cables)
        # Over points that hold cables already nothing is laid, and it is said.
        rears.setCurrentRow(0)
        before = self.studio
        self.drag(
            rears.viewport(),
            QPointF(rears.visualItemRect(rears.item(0)).center()),
            QPointF(rears.viewport().mapFromGlobal(self.view.viewport().mapToGlobal(self.spot("a9").toPoint()))),
        )
        self.assertEqual(self.studio, before)

    def test_looms_are_marked_put_away_and_taken_out_by_the_dialog(self) -> None:
        self.table.do(change("Add", add_unit, shelf_profile("stage box, eight ways to a multipin"), "Raft"))
        raft = UnitId(f"U{self.studio.counters['U']}")
        plugs = (PortEnd(raft, "multipin"), *[end("U2", f"a{n}") for n in range(9, 17)])
        self.table.do(change("Wire", make_up, plugs, [Wire(0, n, n, 1) for n in range(1, 9)]))
        begun = self.studio

        def deed(dialog) -> None:
            facts, cable = dialog.facts, list(self.studio.cables)[-1]
            self.type("Stage", into=facts.name)
            self.press("Return", into=facts.name)
            facts.pinning.setCurrentIndex(1)
            facts.pinning.activated.emit(1)
            self.click(dialog.buttons["colours"])
            self.type("three", into=facts.length)
            self.press("Return", into=facts.length)
            self.assertIn("“three” is no length", facts.words.text())
            facts.length.clear()
            self.type("3 m", into=facts.length)
            self.press("Return", into=facts.length)
            made = self.studio.cables[cable]
            self.assertEqual(
                (made.loom.name, made.loom.pinning, made.loom.marks[2], made.length_m),
                ("Stage", "aes59", "orange", 3.0),
            )
            facts.lines.setCurrentRow(2)
            self.assertEqual(
                line_text(dialog.row.lines[2]),
                "3   orange   hot 21, cold 9, shield 22   Raft · Multipin 3 → A · 11 above",
            )
            self.assertFalse(facts.picture.grab().isNull())
            pins = {p.number: (p.line, p.role) for p in lay_multipin(dialog.row.lines, 400.0).pins}
            self.assertEqual(
                (len(pins), pins[21], pins[9], pins[22], pins[13]),
                (25, (3, "hot"), (3, "cold"), (3, "shield"), (0, "")),
            )
            self.click(dialog.buttons["away"])
            self.assertEqual((cable in self.studio.cables, len(self.studio.spares)), (False, 1))
            self.assertEqual(dialog.listed.item(0).text(), "in the drawer: Stage, 8 lines, multipin to 8 × TRS jack")
            write_looms(self.home / "looms.pdf", loom_rows(self.studio), "Looms")
            self.assertEqual((self.home / "looms.pdf").read_bytes().count(b"/Type /Page\n"), 1)
            self.click(dialog.buttons["drop"])
            self.assertEqual(self.studio.spares, ())
            dialog.accept()

        self.in_dialog("looms_dialog", deed)
        self.click(self.button("Wire…"))
        self.click(self.button("Looms…"))
        self.view.setFocus()
        for _ in range(6):
            self.press("Ctrl+Z")
        self.assertEqual(self.studio, begun)

    def test_a_box_is_set_apart_for_a_scene_and_its_switches_are_moves(self) -> None:
        self.table.select(Subject("unit", "U1"))
        name = "fact_Stands otherwise in Tonight"
        self.until(lambda: self.window.findChild(QAbstractButton, name) is not None)
        self.click(self.window.findChild(QAbstractButton, name))
        bank = self.studio.profile_of(UnitId("U1")).bank_of_port["mic1"].key
        self.table.do(change("On", set_phantom, UnitId("U1"), bank, True))
        self.until(lambda: "48 V on" in [row.verb for row in self.sheet.work.rows(self.studio)])
        words = [row.verb for row in self.sheet.work.rows(self.studio)]
        self.sheet.work.tick(words.index("48 V on") + 1)
        self.assertEqual(self.studio.as_built.settings[UnitId("U1")].phantom, (bank,))
        self.press("Ctrl+Z", "Ctrl+Z", "Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_strips_are_written_by_the_dialog(self) -> None:
        path = self.home / "strips"

        def deed(dialog) -> None:
            dialog.paper.setCurrentText("A3")
            dialog.write(path, test=False)
            dialog.write(path.with_name("test.pdf"), test=True)
            dialog.accept()

        def labels(dialog) -> None:
            dialog.rows.setCurrentRow([p.what for p in PRINTED].index("labels"))
            dialog.accept()

        self.in_dialog("strips_dialog", deed)
        self.in_dialog("print_dialog", labels)
        self.press("Ctrl+P")
        self.settle()
        self.assertIn("1 page for A3 in strips.pdf. Print at 100 %.", self.said)
        self.assertEqual([(self.home / name).read_bytes()[:4] for name in ("strips.pdf", "test.pdf")], [b"%PDF"] * 2)

    def test_every_page_of_the_list_is_written(self) -> None:
        self.table.do(cord_change(self.studio, end("U2", "a4"), end("U2", "b6")))
        self.until(lambda: self.sheet.moves_list.rows.topLevelItemCount() == 1)
        for printed in PRINTED:
            for ending in printed.pages if printed.what != "changeover" else ():
                path = self.home / f"{printed.what}{ending}"
                self.assertIn(f"in {path.name}.", self.window.prints.write(printed.what, path))
                self.assertTrue(path.read_bytes().startswith(b"%PDF" if ending == ".pdf" else b"<?xml"))
        self.assertGreaterEqual((self.home / "bays.svg").read_text(encoding="utf-8").count("<circle"), 48)
        self.assertIn("is no drawing. Use .pdf.", self.window.prints.write("moves", self.home / "moves.svg"))
        self.assertFalse((self.home / "moves.svg").exists())
        where = self.home / "no folder" / "flags.pdf"
        self.assertIn(str(where), self.window.prints.write("flags", where))


class Empty(DeskCase):
    def test_without_a_bay_the_sheet_says_what_to_do_first(self) -> None:
        self.press("Alt+6")
        sheet = self.window.findChild(BaysSheet)
        self.assertFalse(sheet.view.isVisible() or sheet.strip.isVisible())
        self.in_dialog("bay_dialog", lambda dialog: dialog.accept())
        self.click(self.button("Make a bay…"))
        self.assertEqual(len(self.studio.bays), 1)
        self.assertTrue(sheet.view.isVisible() and sheet.strip.isVisible())


class Demo(DeskCase):
    start = skerry()

    def test_every_scene_of_the_demo_is_drawn_at_every_size_of_text(self) -> None:
        self.press("Alt+6")
        sheet = self.window.findChild(BaysSheet)
        for scene in (*self.studio.scenes, ""):
            self.click(sheet.strip.buttons[scene])
            self.assertEqual(len(sheet.view.layout_now.arcs), len(self.studio.cords))
            for _ in range(3):
                self.window.book.step_scale(2)
                self.settle()
            self.assertFalse(sheet.view.grab().isNull())
            self.window.book.step_scale(0)
            self.settle()
