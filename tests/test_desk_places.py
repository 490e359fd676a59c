"""Outputs and the questions about places by real keys and clicks: lists, charts, aims, shortage, why, a dead unit, sets."""

from unittest import mock

from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog

from ennead.demo.skerry import skerry
from ennead.desk.sheets.lines.chart_view import SOURCE_MIME
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.layouts.out_chart import OutRow, lay_out_chart, out_rows
from ennead.edits.session import add_source, set_aims
from ennead.files.errors import FileTrouble
from ennead.files.templates import read_template, shipped_templates, template_of, template_toml, user_templates
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.studio.session import AIM_LABELS
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey, survey_of
from tests.builders import INTERFACE, one_fibre, plug, rig
from tests.desk_case import DeskCase

COND = {"kind": "condenser", "phantom": "needed"}


def ten_on_eight():
    studio = rig(INTERFACE)
    for n in range(10):
        studio = add_source(studio, f"Spot {n + 1}", **COND)
    return studio


class WhatGoesOut(DeskCase):
    start = rig(INTERFACE)

    def names(self):
        return [(d.name, d.kind, d.channels) for d in survey_of(self.studio).destinations]

    def test_the_list_is_typed_with_the_keyboard_and_undone(self):
        before = self.studio
        self.press("Alt+1")
        self.click(self.window.sheets[1].way.buttons["out"])
        self.press("Return")
        for name in ("Main monitors", "Singer's cue", "Click", "Plate reverb"):
            self.type(name)
            self.press("Return")
        self.press("Escape")
        self.assertEqual(
            self.names(),
            [
                ("Main monitors", "mains", 2),
                ("Singer's cue", "cue", 2),
                ("Click", "click", 1),
                ("Plate reverb", "send", 2),
            ],
        )
        self.press("Up", "Alt+Up")
        self.assertEqual(survey_of(self.studio).destinations[2].name, "Plate reverb")
        self.press("Delete")
        self.assertEqual(len(self.names()), 3)
        self.undo_all()
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(len(self.names()), 1)

    def test_outputs_are_proposed_taken_in_part_and_undone(self):
        self.open(skerry())
        # Without the sources' own proposals only the destination is left to take.
        self.press("Alt+5")
        self.window.lines_sheet.way.buttons["out"].click()
        before = self.studio
        self.press("Ctrl+Return")
        sheet = self.window.lines_sheet
        self.until(lambda: sheet.proposal is not None)
        self.assertEqual([p.destination for p in sheet.proposal.outs], ["D7"])
        sheet.way.choose("out")
        row = sheet.outs.chart.row_of("D7")
        self.assertTrue(row.item.ghost and row.item.taken)
        QTest.mouseClick(
            sheet.outs.viewport(), Qt.MouseButton.LeftButton, pos=QPointF(60, row.y + row.height / 2).toPoint()
        )
        self.settle()
        self.assertNotIn("D7", sheet.taken)
        self.assertEqual(self.table.selection, Subject("destination", "D7"))
        self.press("Space", into=sheet.outs)
        self.assertIn("D7", sheet.taken)
        for placement in sheet.proposal.placements:
            sheet.toggle(placement.source)
        self.assertIn("Take 1 of", sheet.bar.take.text())
        self.click(sheet.bar.take)
        self.assertTrue(survey_of(self.studio).placed("D7").outputs)
        self.assertEqual(Survey(self.studio).leads, Survey(before).leads)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)
        self.table.select(Subject("destination", "D2"))
        self.press("Delete", into=sheet.outs)
        self.assertEqual(survey_of(self.studio).placed("D2").outputs, ())
        self.press("Ctrl+Z")
        self.press("Home", into=sheet.outs)
        self.press("Down", into=sheet.outs)
        self.assertEqual(self.table.selection.key, "D2")

    def test_no_output_s_words_overlap_at_any_width(self):
        studio = skerry()
        rows = out_rows(Survey(studio), (), "", None, frozenset())
        for width in (500, 700, 1000, 1400):
            for scale in (1, 2):
                chart = lay_out_chart(
                    rows,
                    width,
                    lambda text, size, s=scale: len(text) * size * 0.55 * s,
                    lambda n, s=scale: round(n * s),
                )
                edges = [chart.number, *chart.columns.values(), chart.ear]
                self.assertEqual(edges, sorted(edges))
                self.assertGreater(chart.width, chart.ear)
                self.assertTrue(all(b.y >= a.y + a.height for a, b in zip(chart.rows, chart.rows[1:], strict=False)))
        loud = next(r.item for r in chart.rows if isinstance(r.item, OutRow) and r.item.name == "Narrator's cue")
        # Narrator's cue leaves by the second optical pair: Pier's eighteen analogue, phones and eight ADAT come first.
        self.assertEqual(
            (loud.numbers, loud.cells["link"], loud.cells["socket"]),
            ("23–24", "Pier Optical B · 1–2", "Harbour Line out 1–2"),
        )


class Questions(DeskCase):
    def test_aims_are_put_in_another_order(self):
        def change(dialog):
            self.assertEqual(dialog.order(), tuple(AIM_LABELS))
            dialog.aims.setCurrentRow(3)
            self.press("Alt+Up", into=dialog.aims)
            self.press("Alt+Up", into=dialog.aims)
            dialog.spare["hiz"].setValue(1)
            self.press("End", into=dialog.loops)
            self.press("Up", into=dialog.loops)
            dialog.accept()

        self.open(rig(INTERFACE))
        self.press("Alt+5")
        self.in_dialog("aims_dialog", change)
        self.click(self.window.lines_sheet.aims_button)
        self.assertEqual(self.studio.current.aims[:3], ("moves", "wiring", "skew"))
        self.assertEqual((dict(self.studio.current.spare), self.studio.current.loop_numbers), ({"hiz": 1}, "always"))
        self.press("Ctrl+Z")
        self.assertEqual(self.studio.current.loop_numbers, "paired")
        self.assertEqual((self.studio.current.aims, dict(self.studio.current.spare)), ((), {}))

    def test_what_binds_is_said_and_a_remedy_carried_out(self):
        self.open(ten_on_eight())

        def choose(dialog):
            self.until(lambda: dialog.found)
            self.assertIn("10 sources together want 10 microphone inputs", dialog.words.text())
            dialog.price.setText("four hundred")
            self.click(dialog.note)
            self.assertIn("is no price", self.said[-1])
            dialog.price.setText("400")
            self.click(dialog.note)
            self.until(lambda: dialog.found and dialog.progress.isHidden())
            dialog.rows.setCurrentRow(0)
            # What differs only in the box is one row with a choice, the box with a price first.
            self.assertEqual(dialog.rows.count(), 1)
            self.assertIn("price 400", dialog.boxes.itemText(0))
            dialog.boxes.setFocus()
            QTest.keyClick(dialog.boxes, Qt.Key.Key_Down)
            box = dialog.found[0][1].box
            self.assertIn(box, dialog.rows.item(0).text())
            self.assertIn(box, dialog.details.item(0).text())
            chosen.append(box)
            self.click(dialog.take)

        chosen = []
        self.press("Alt+5", "Ctrl+Return")
        sheet = self.window.lines_sheet
        self.until(lambda: sheet.proposal is not None)
        self.assertTrue(sheet.bar.remedies.isVisible())
        self.in_dialog("shortage_dialog", choose)
        self.click(sheet.bar.remedies)
        self.assertEqual(len(self.studio.prices), 1)
        self.assertTrue(all(r.complete for r in self.table.survey.signal_paths))
        self.assertEqual(len(self.table.survey.signal_paths), 10)
        self.assertEqual([self.studio.profile_of(u).name for u in self.studio.units][1:], chosen)
        self.undo_all()
        self.assertEqual(len(self.studio.units), 1)

    def test_a_dead_unit_is_done_without(self):
        studio = plug(one_fibre(), "Fiddle", "U2", "mic3")
        self.open(studio)

        def take_it(dialog):
            self.until(lambda: dialog.found)
            at = next(i for i, loss in enumerate(dialog.found) if loss.unit == "U2")
            dialog.rows.setCurrentRow(at)
            self.assertIn("1 carried", dialog.rows.item(at).text())
            self.click(dialog.take)

        self.in_dialog("unit_loss_dialog", take_it)
        self.press("Ctrl+Shift+L")
        self.assertEqual(list(self.studio.units), ["U1"])
        self.assertTrue(self.table.survey.signal_paths[0].complete)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, studio)

    def test_why_here_and_a_line_dropped_on_another(self):
        studio = plug(plug(one_fibre(), "Fiddle", "U1", "mic3"), "Voice", "U1", "mic4", **COND)
        self.open(studio)
        self.table.select(Subject("source", "S1"))
        seen = []

        def look(dialog):
            self.until(lambda: dialog.places)
            seen.append([dialog.rows.item(i).text() for i in range(dialog.rows.count())])
            dialog.reject()

        self.in_dialog("why_dialog", look)
        self.click(self.button("Why is it here?"))
        self.assertIn("next best", seen[0][-1])

        def propose(dialog):
            self.until(lambda: dialog.places)
            self.assertIn("driver input 4", dialog.rows.item(0).text())
            self.click(dialog.take)

        self.press("Alt+5")
        chart = self.window.lines_sheet.chart
        chart.settle()
        row = chart.chart.row_of("S2")
        data = QMimeData()
        data.setData(SOURCE_MIME, b"S1")
        drop = QDropEvent(
            QPointF(200, row.y + row.height / 2),
            Qt.DropAction.MoveAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        self.in_dialog("why_dialog", propose)
        chart.dropEvent(drop)
        self.until(lambda: self.window.lines_sheet.proposal is not None)
        self.press("Ctrl+Return")
        self.assertEqual(
            next(c.end.port for c in self.studio.cables.values() if getattr(c.start, "source", "") == "S1"), "mic4"
        )
        self.assertEqual(len([c for c in self.studio.cables.values() if getattr(c.start, "source", "") == "S2"]), 1)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, studio)

    def test_an_output_is_typed_and_dropped_on_a_free_one(self):
        self.open(skerry())
        before = self.studio
        click = next(d for d in survey_of(self.studio).destinations if d.name == "Click")
        sheet = self.window.lines_sheet
        self.press("Alt+5")
        self.table.select(Subject("destination", click.id))
        self.settle()
        self.assertTrue(sheet.free_outs.isVisible() and sheet.free.isHidden())
        free = [point.number for _, point in sheet.free_outs.chips]
        held = {
            n
            for d in survey_of(self.studio).destinations
            for e in d.outputs
            for s in self.table.survey.output_points
            if s.end == e
            for n in (s.number,)
        }
        self.assertTrue(free and not held & set(free))
        self.press("8", into=sheet.outs)
        self.press("Return", into=self.field())
        self.assertEqual([e.port for e in survey_of(self.studio).placed(click.id).outputs], ["line_out8"])
        for typed, words in (("3", "Quartet's cue"), ("999", "no socket gives out"), ("x", "is no driver number")):
            sheet.outs.type_number(typed)
            self.press("Return", into=self.field())
            self.assertEqual([e.port for e in survey_of(self.studio).placed(click.id).outputs], ["line_out8"])
            self.assertIn(words, self.said[-1])
            self.assertIsNone(self.field())
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)
        data = QMimeData()
        data.setData(sheet.outs.mime, click.id.encode())
        area, point = next((a, s) for a, s in sheet.free_outs.chips if "line" in s.port.carries)
        sheet.free_outs.dropEvent(
            QDropEvent(
                area.center(), Qt.DropAction.MoveAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
            )
        )
        self.assertEqual(survey_of(self.studio).placed(click.id).outputs, (point.end,))
        self.press("Ctrl+Z")
        sheet.way.choose("in")
        self.settle()
        self.assertTrue(sheet.free_outs.isHidden() and sheet.free.isVisible())

    def test_why_an_output_is_here_and_dropped_on_another(self):
        self.open(skerry())
        before = self.studio
        click, cue = (
            next(d for d in survey_of(self.studio).destinations if d.name == name)
            for name in ("Click", "Quartet's cue")
        )
        self.press("Alt+5")
        self.table.select(Subject("destination", click.id))
        self.settle()
        seen = []

        def look(dialog):
            self.until(lambda: dialog.places)
            seen.extend(dialog.rows.item(i).text() for i in range(dialog.rows.count()))
            dialog.reject()

        self.in_dialog("why_dialog", look)
        self.press("Ctrl+Shift+W")
        self.assertTrue(seen and "driver output" in seen[-1], seen)
        outs = self.window.lines_sheet.outs
        outs.settle()
        row = outs.chart.row_of(cue.id)
        data = QMimeData()
        data.setData(outs.mime, click.id.encode())
        drop = QDropEvent(
            QPointF(200, row.y + row.height / 2),
            Qt.DropAction.MoveAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )

        def propose(dialog):
            self.until(lambda: dialog.places)
            self.assertIn("driver output 3 ·", dialog.rows.item(0).text())
            self.click(dialog.take)

        self.in_dialog("why_dialog", propose)
        outs.dropEvent(drop)
        self.until(lambda: self.window.lines_sheet.proposal is not None)
        self.press("Ctrl+Return")
        self.assertEqual(survey_of(self.studio).placed(click.id).outputs, cue.outputs[:1])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_wishes_and_levels_are_said_in_the_margin(self):
        self.open(plug(rig(INTERFACE), "Snare", "U1", "mic3", **COND, group="Kit"))
        self.table.select(Subject("source", "S1"))
        self.settle()
        fields = self.window.margin._fields
        fields["fact_In step with Kit"].click()
        self.settle()
        self.assertTrue(self.studio.source("S1").coherent)
        for label, text in (("Sensitivity, mV/Pa", "20"), ("Loudest sound, dB SPL", "150,0")):
            self.settle()
            field = self.window.margin._fields[f"fact_{label}"]
            field.setFocus()
            self.type(text, into=field)
            self.press("Return", into=field)
        self.assertEqual(
            (self.studio.sources["S1"].sensitivity_mv_pa, self.studio.sources["S1"].loudest_db_spl), (20.0, 150.0)
        )
        self.assertIn("input_overloaded", {f.rule for f in self.table.findings})
        self.click(self.button("Switch the pad of"))
        self.assertEqual(self.studio.settings_of("U1").pads, ("mic3",))
        self.assertNotIn("input_overloaded", {f.rule for f in self.table.findings})


class Sets(DeskCase):
    def test_a_set_is_dropped_in_kept_and_comes_back(self):
        def drop(dialog):
            at = next(i for i, t in enumerate(dialog.found) if t.name == "kit of eight")
            dialog.rows.setCurrentRow(at)
            self.assertEqual(dialog.details.count(), 7)
            self.click(dialog.take)

        self.in_dialog("template_dialog", drop)
        self.press("Ctrl+Shift+I")
        self.assertEqual(sum(s.channels for s in self.studio.session_sources), 8)
        self.assertTrue(all(s.coherent and s.group == "Kit" for s in self.studio.session_sources))
        with mock.patch.object(QInputDialog, "getText", return_value=("My <kit>", True)):
            self.window.places.keep_template()
        self.assertIn("is kept in", self.said[-1])

        def again(dialog):
            self.assertEqual(dialog.found[0].name, "My <kit>")
            dialog.rows.setCurrentRow(0)
            self.click(dialog.take)

        self.in_dialog("template_dialog", again)
        self.press("Ctrl+Shift+I")
        self.assertEqual(len(self.studio.session_sources), 14, self.said)
        self.undo_all()
        self.assertEqual(self.studio.session_sources, ())

    def test_sets_read_back_as_they_were_and_bad_ones_are_one_sentence(self):
        for one in shipped_templates():
            self.assertEqual(read_template(template_toml(one), "again"), one)
        studio = skerry()
        mine = template_of(studio, "Everything", studio.session_sources)
        self.assertEqual(read_template(template_toml(mine), "x"), mine)
        row = '[[sources]]\nname = "x"\n'
        for bad in (
            "x",
            "name = 3\nsources = []",
            'name = "a"\nsources = [1]',
            f'name = "a"\n{row}kind = "kazoo"',
            f'name = "a"\n{row}pinned = true',
            f'name = "a"\n{row}channels = "2"',
            'name = "a"\n[[sources]]\nkind = "line"',
            f'name = "a"\nmore = 1\n{row}',
            f'name = " "\n{row}',
        ):
            with self.assertRaises(FileTrouble) as caught:
                read_template(bad, "bad.toml")
            self.assertNotIn("\n", str(caught.exception))
        (self.home / "a.toml").write_text("x", encoding="utf-8")
        (self.home / "b.toml").write_text(template_toml(mine), encoding="utf-8")
        found, troubles = user_templates(self.home)
        self.assertEqual(([t.name for t in found], len(troubles)), (["Everything"], 1))


class Steady(DeskCase):
    def test_the_order_of_aims_decides(self):
        # Two boxes: the near one would need another cable kind of price, the far one keeps the group together.
        studio = plug(one_fibre(), "One", "U1", "mic3", group="Kit")
        studio = plug(studio, "Two", "U2", "mic1", group="Kit")
        self.assertEqual(allocate(Survey(studio)).count, 0)
        first = set_aims(studio, ["together", *[a for a in AIM_LABELS if a != "together"]])
        proposal = allocate(Survey(first))
        self.assertEqual((proposal.count, proposal.moves), (1, 1))
        after = take(Survey(first), proposal).apply(first)
        self.assertEqual(len({c.end.unit for c in after.cables.values() if c.id != "C1"}), 1)


class WholeTexts(DeskCase):
    def test_a_text_as_wide_as_its_row_is_given_the_second_line_it_breaks_into(self):
        text = "Re-patch: Tape machine to Optical in 4, driver input 31 to 32"
        for spacing in (0, 3, 6):
            listed = WrappedList()
            listed.setSpacing(spacing)
            listed.addItem(text)
            line, wide = listed.fontMetrics().height(), listed.fontMetrics().horizontalAdvance(text)
            listed.show()
            heights = {}
            for more in (-30, 0, 1, 3, 60):
                listed.resize(wide + more + 2 * spacing + 2 * listed.frameWidth(), 200)
                self.settle()
                heights[more] = listed.visualItemRect(listed.item(0)).height()
            listed.close()
            # The margins beside a text take two pixels at least on either side.
            self.assertEqual([h // line for h in heights.values()], [2, 2, 2, 2, 1])
