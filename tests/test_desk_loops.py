"""The Loops sheet: a loop is made, chosen by keys, typed at in the margin; what is drawn follows."""

import tempfile
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from bench.verbs import run
from ennead.drawings.layouts.axis import axis
from ennead.drawings.layouts.curve_layout import curve_line
from ennead.edits.destinations import remove_destination
from ennead.edits.loop_use import set_box_peak
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from tests.desk_case import DeskCase
from tests.test_delays import looped
from tests.test_loop_figures import chain, placed

LOOP = DestinationId("D1")


class Sheet(DeskCase):
    start = remove_destination(looped(), LOOP)

    def test_a_loop_is_made_of_a_box_and_undone(self):
        self.press("Alt+7")
        sheet = self.window.loops_sheet
        self.assertEqual(sheet._pages.currentIndex(), 1)

        def make(dialog):
            self.assertEqual(dialog.boxes[0].currentData(), UnitId("U2"))
            self.assertEqual(dialog.channels.currentText(), "mono")
            dialog.name.setText("Squash")
            dialog.use.setCurrentIndex(1)
            self.click(dialog.make)

        self.in_dialog("new_loop", make)
        self.window.actions_by_name["new_loop"].trigger()
        self.until(lambda: self.studio.destinations)
        (loop,) = self.studio.destinations.values()
        self.assertEqual((loop.name, loop.kind, loop.channels, loop.use.parallel), ("Squash", "loop", 1, True))
        self.assertEqual(self.table.selection, Subject("destination", loop.id))
        self.assertEqual(sheet._pages.currentIndex(), 0)
        # It stood wired, and keeps its cables.
        view = sheet.view
        view.settle()
        self.assertEqual([r.figures.circuit.closed for r in view.layout_now.rows], [True])
        self.assertEqual(self.studio.cables, self.start.cables)
        self.undo_all()
        self.assertEqual((len(self.studio.destinations), sheet._pages.currentIndex()), (0, 1))

    def test_figures_are_typed_in_the_margin_and_the_drawing_follows(self):
        studio = chain()
        self.open(studio)
        self.press("Alt+7")
        view = self.window.loops_sheet.view
        view.setFocus()
        self.press("Down", into=view)
        self.assertEqual(self.table.selection, Subject("destination", LOOP))
        box = self.table.survey.destinations[0].boxes[0]
        name = studio.units[box].name
        for fact, text, read in (
            ("Track at its loudest, dBFS", "-12", lambda use: use.peak_dbfs == -12.0),
            ("Send gain, dB", "2,5 dB", lambda use: use.send_gain_db == 2.5),
            (f"Out of {name} at its loudest, dBu", "+11", lambda use: dict(use.peaks_dbu) == {box: 11.0}),
            ("Output the software picked", "15", lambda use: use.sent == (15,)),
            ("Plug-in twin", "Squash in numbers", lambda use: use.twin == "Squash in numbers"),
        ):
            with self.subTest(fact=fact):
                field = self.window.margin._fields[f"fact_{fact}"]
                field.setFocus()
                field.selectAll()
                self.type(text, into=field)
                self.press("Return", into=field)
                self.assertTrue(read(self.studio.destinations[LOOP].use), self.studio.destinations[LOOP].use)
        view.settle()
        (row,) = view.layout_now.rows
        self.assertEqual((row.figures.sends, row.figures.returns, row.figures.offset), ((15,), (11,), 76))
        peaks = [round(s.peak_dbu, 1) for s in row.figures.levels[0].stops]
        # −12 dBFS and 2.5 dB at +20 dBu for 0 dBFS; what comes out of the box is what was typed.
        self.assertEqual((peaks[0], peaks[2]), (10.5, 11.0))
        field = self.window.margin._fields["fact_Send gain, dB"]
        field.setFocus()
        field.selectAll()
        self.type("loud", into=field)
        self.press("Return", into=field)
        self.assertEqual(self.studio.destinations[LOOP].use.send_gain_db, 2.5)
        self.assertTrue(any("Type a number of dB" in said for said in self.said), self.said)
        self.table.select(Subject("unit", box))
        QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=QPointF(40, row.y + 8).toPoint())
        self.assertEqual(self.table.selection, Subject("destination", LOOP))
        self.undo_all()
        self.assertEqual(self.studio, studio)

    def test_levels_are_dragged_where_they_are_stated(self):
        studio = chain()
        box = Survey(studio).destinations[0].boxes[0]
        studio = set_box_peak(studio, LOOP, box, 10.0)
        self.open(studio)
        self.press("Alt+7")
        view = self.window.loops_sheet.view

        def pull(n, db):
            """Drag the peak of a stop by some dB."""
            view.settle()
            stairs = view.layout_now.stairs
            stop = stairs.stairs.stops[n]
            x, y = stairs.left + (n + 0.5) * stairs.step, stairs.scale.at(stop.peak_dbu)
            start = QPointF(x, y) - view.offset()
            self.drag(
                view.viewport(), start, QPointF(start.x(), stairs.scale.at(stop.peak_dbu + db) - view.offset().y())
            )
            return self.studio.destinations[LOOP].use

        self.assertEqual(pull(0, -4.0).send_gain_db, -4.0)
        self.assertEqual(dict(pull(2, 3.5).peaks_dbu), {box: 13.5})
        before = self.studio
        pull(3, 5.0)
        self.assertEqual(self.studio, before)
        self.assertTrue(any("follows from the box before it" in said for said in self.said))
        self.undo_all()
        self.assertEqual(self.studio, studio)

    def test_a_loop_is_calibrated_and_its_trim_taken(self):
        self.open(chain())
        before = self.studio

        def read(dialog):
            self.assertIn("down", dialog.steps.item(0).text())
            # Every stop bears −6 dBFS: +14 dBu, limits at +20.
            self.assertEqual(dialog.sent.text(), "-6")
            for typed, said, may in (
                ("loud", "is no level", False),
                ("-6,05", "Good enough", False),
                ("-4.8", "Trim −1.2 dB", True),
            ):
                dialog.read[0].setText("")
                self.type(typed, into=dialog.read[0])
                self.assertIn(said, dialog.answer.text())
                self.assertEqual(dialog.take.isEnabled(), may, typed)
            dialog.steps.item(0).setCheckState(Qt.CheckState.Checked)
            self.click(dialog.take)

        self.in_dialog("calibrate_dialog", read)
        self.window.actions_by_name["calibrate"].trigger()
        self.settle()
        self.assertEqual(self.studio.destinations[LOOP].use.return_gain_db, -1.2)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_a_loop_over_a_bay_is_closed_past_its_box_from_the_dialog(self):
        self.open(placed(1, "cords"))
        before = self.studio

        def lay(dialog):
            self.assertTrue(dialog.lay.isVisible())
            self.click(dialog.lay)
            self.assertFalse(dialog.lay.isEnabled())
            dialog.reject()

        self.in_dialog("calibrate_dialog", lay)
        self.window.actions_by_name["calibrate"].trigger()
        self.settle()
        self.assertEqual(self.studio.scenes[self.studio.scene].name, "Box 1 past its boxes")
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_a_loop_is_measured_by_files_looked_at_nudged_and_taken(self):
        self.open(chain())
        before = self.studio
        with tempfile.TemporaryDirectory() as held:
            sent, heard, text = (Path(held) / name for name in ("ping.wav", "heard.wav", "text.wav"))
            text.write_text("no sound", encoding="utf-8")

            def measure(dialog):
                self.assertIn("Turn monitors and headphones", dialog.words.text())
                self.assertFalse(dialog.take.isEnabled())
                dialog.write_to(sent)
                self.until(lambda: dialog.sent is not None)
                run("standin", sent, heard, "--late", "262.5", "--noise", "-70")
                for path, wanted in ((text, "no sound file"), (heard, "")):
                    dialog.read_from(path)
                    self.until(dialog.write.isEnabled)
                    self.assertIn(wanted, dialog.answer.text())
                self.assertIn("262.50", dialog.pane.lines.item(0).text())
                curve = dialog.pane.curve
                lines = [
                    curve_line(wave, late, curve.sight, 0.25, 800, 200)
                    for wave, late in zip(curve._lists, (0.0, curve.overlay.late), strict=True)
                ]
                high = [np.interp(np.arange(100, 700), *zip(*line.points, strict=True)) for line in lines]
                self.assertLess(
                    np.sqrt(np.mean((high[0] - high[1]) ** 2)), 0.25 * np.std(high[0]), "laid over each other"
                )
                seen = curve.sight
                self.press("Plus", "Right", "Left", "Minus", into=curve)
                self.assertAlmostEqual(curve.sight.span, seen.span)
                self.press("Shift+Right", "Ctrl+Left", into=curve)
                self.assertAlmostEqual(curve.nudge, 0.9)
                self.assertIn("by hand", dialog.answer.text())
                self.assertFalse(curve.grab().isNull())
                self.click(dialog.take)

            self.in_dialog("measure_dialog", measure)
            self.window.actions_by_name["measure"].trigger()
        self.settle()
        (noted,) = self.studio.destinations[LOOP].measured
        # The driver reports 186 of it.
        self.assertAlmostEqual(noted.samples, 262.5 - 186 - 0.9, places=2)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_an_axis_holds_what_it_is_given(self):
        for least, most, whole in (
            (0.0, 1e-9, 0),
            (0.0, 5.458, 0),
            (0.0, 7_000.0, 0),
            (-8.0, 24.0, 8),
            (-61.3, 41.0, 8),
        ):
            with self.subTest(least=least, most=most):
                found = axis(least, most, 10.0, 110.0, whole)
                self.assertTrue(found.least <= least < most <= found.most, found)
                self.assertTrue(10.0 <= found.at(least) < found.at(most) <= 110.0, found)
                self.assertEqual((found.at(found.least), found.at(found.most)), (10.0, 110.0))
                self.assertLessEqual(len(found.ticks), 15)
