"""The window's boxes: seven questions, the profile editor, the user's own shelf, import and export; by key and button."""

from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from ennead.desk.storage.preferences import shelf_folder
from ennead.files.profiles import shelf_profile
from ennead.files.user_shelf import read_profile_file, user_profiles
from ennead.studio.subjects import Subject
from tests.builders import EXPANDER, INTERFACE, rig
from tests.desk_case import DeskCase
from tests.test_profiles import PASTED, spans


class Boxes(DeskCase):
    def test_seven_answers_take_a_box_into_the_rig(self):
        before = self.studio

        def answer(dialog):
            asked = dialog.questions
            self.type("harbour box", into=asked.name)
            asked.mics.setFocus()
            asked.mics.selectAll()
            self.type("8", into=asked.mics)
            for choice, downs in ((asked.optical, 2), (asked.spdif, 2)):
                choice.setFocus()
                for _ in range(downs):
                    QTest.keyClick(choice, Qt.Key.Key_Down)
            asked.software.setPlainText(PASTED)
            self.assertEqual(
                [head for head, *_ in dialog.preview.rulers][:3],
                ["driver inputs, 48 kHz", "driver inputs, 96 kHz", "driver inputs, 192 kHz"],
            )
            self.assertIn("collapsing", dialog.said.text())
            self.press("Return", into=dialog.take)

        self.in_dialog("describe_dialog", answer)
        self.press("Ctrl+B")
        (unit,) = self.studio.units.values()
        profile = self.studio.profile_of(unit.id)
        self.assertEqual(profile.name, "harbour box")
        self.assertEqual(spans(profile, 48_000)[-1], ("ADAT", 15, 22))
        self.assertEqual(self.window.stack.currentWidget(), self.window.sheets[2])
        after = self.studio
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(self.studio, after)

    def test_described_kept_on_the_shelf_edited_and_dropped(self):
        def answer(dialog):
            self.type("pier box", into=dialog.questions.name)
            self.click(dialog.shelve)
            self.assertIn("on your shelf", dialog.said.text())
            self.click(dialog.edit)

        def edit(dialog):
            name = dialog.tables["facts"]._fields["ppm"]
            self.type("7", into=name)
            self.until(lambda: dialog.profile is not None and dialog.profile.ppm == 7)
            self.click(dialog.use_button)

        self.in_dialog("profile_editor", edit)
        self.in_dialog("describe_dialog", answer)
        self.press("Ctrl+B")
        (unit,) = self.studio.units.values()
        self.assertEqual(self.studio.profile_of(unit.id).ppm, 7)
        ((mine,), ()) = user_profiles(shelf_folder())
        self.assertEqual((mine.name, mine.ppm), ("pier box", None))
        shelf = self.window.sheets[2].shelf
        self.window.sheets[2].shelf_button.setChecked(True)
        self.settle()
        shelf.list.setCurrentRow(0)
        self.assertEqual(shelf.list.item(0).text(), "◇ pier box")
        self.click(shelf.drop)
        self.assertEqual(user_profiles(shelf_folder()), ((), ()))
        self.assertNotIn("◇", shelf.list.item(0).text())

    def test_a_damaged_profile_on_the_shelf_is_said_and_hides_no_other(self):
        shelf_folder().mkdir(parents=True)
        (shelf_folder() / "bad.toml").write_text("ports = <b>", encoding="utf-8")
        self.press("Alt+2")
        self.assertIn("bad.toml", self.window.sheets[2].shelf.about.text())
        self.assertGreater(self.window.sheets[2].shelf.list.count(), 31)

    def test_import_and_export(self):
        self.table.do(self._take(INTERFACE))
        self.table.select(Subject("unit", "U1"))
        path = self.home / "out.toml"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.action("export_profile")
        self.assertEqual(read_profile_file(path), shelf_profile(INTERFACE))
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.action("import_profile")
        self.assertEqual([p.name for p in user_profiles(shelf_folder())[0]], [INTERFACE])
        path.write_text("", encoding="utf-8")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.action("import_profile")
        self.assertIn("out.toml", self.said[-1])

    @staticmethod
    def _take(name):
        from ennead.edits.change import change
        from ennead.edits.house import add_unit

        return change("Take", add_unit, shelf_profile(name), "Pier")

    def action(self, name):
        from ennead.desk.shell.menus import all_actions

        next(a for a in all_actions(self.window.menus) if a.objectName() == name).trigger()
        self.settle()


class Editor(DeskCase):
    start = rig(INTERFACE, INTERFACE, EXPANDER)

    def setUp(self):
        super().setUp()
        self.press("Alt+2")
        self.table.select(Subject("unit", "U1"))

    def type_cell(self, dialog, name, row, column, text):
        dialog.tabs.setCurrentIndex(list(dialog.tables).index(name))
        table = dialog.tables[name]
        table.setFocus()
        table.setCurrentCell(row, column)
        self.press("F2", into=table)
        self.app.focusWidget().selectAll()
        self.type(text)
        self.press("Return")
        self.settle()

    def test_wrong_is_explained_at_its_row_and_cannot_be_used(self):
        def edit(dialog):
            self.assertEqual(dialog.use_button.text(), f"Use for {INTERFACE.capitalize()} and 1 more")
            self.type_cell(dialog, "blocks", 1, 3, "mic1")
            self.until(lambda: dialog.faults)
            self.assertFalse(dialog.use_button.isEnabled())
            self.assertIn("Numbers, row", dialog.wrong.item(0).text())
            self.assertIn("overlaps", dialog.wrong.item(0).text())
            heads = [dialog.tables["blocks"].verticalHeaderItem(n).text() for n in range(2)]
            self.assertTrue(any(h.startswith("▲") for h in heads), heads)
            self.assertEqual(dialog.tabs.tabText(2), "▲ Numbers")
            self.type_cell(dialog, "blocks", 1, 3, "spdif_in")
            self.until(lambda: not dialog.faults)
            self.assertEqual(dialog.wrong.item(0).text(), "Everything hangs together.")
            dialog.reject()
            self.assertTrue(dialog.isVisible())
            self.assertIn("once more", dialog.said.text())
            dialog.reject()

        before = self.studio
        self.in_dialog("profile_editor", edit)
        self.press("Ctrl+Shift+B")
        self.assertEqual(self.studio, before)

    def test_rows_move_and_go_and_the_rig_changes_as_one_step(self):
        def edit(dialog):
            table = dialog.tables["blocks"]
            dialog.tabs.setCurrentIndex(2)
            labels = [r["label"] for r in table.rows()]
            table.setCurrentCell(0, 2)
            self.click(dialog.findChild(type(dialog.use_button), "row_down"))
            self.assertEqual([r["label"] for r in table.rows()][:2], [labels[1], labels[0]])
            table.setCurrentCell(table.rowCount() - 2, 2)
            self.press("Ctrl+Delete", into=table)
            self.assertEqual(len(table.rows()), len(labels) - 1)
            self.until(lambda: dialog.profile is not None)
            self.click(dialog.use_button)

        before = self.studio
        first = next(c.label for c in self.table.survey.numbering.inputs)
        self.in_dialog("profile_editor", edit)
        self.press("Ctrl+Shift+B")
        self.assertNotEqual(next(c.label for c in self.table.survey.numbering.inputs), first)
        self.assertEqual(self.studio.units["U1"].profile, self.studio.units["U2"].profile)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)

    def test_a_pasted_list_becomes_the_inputs_of_the_map(self):
        def paste(dialog):
            dialog.text.setPlainText(PASTED)
            self.assertIn("ADAT 15–22", dialog.read.text())
            dialog.accept()

        def edit(dialog):
            self.in_dialog("paste_dialog", paste)
            self.click(dialog.findChild(type(dialog.use_button), "paste_list"))
            self.until(lambda: dialog.profile is not None and len(dialog.profile.driver_maps[0].inputs) == 4)
            self.click(dialog.use_button)

        self.in_dialog("profile_editor", edit)
        self.press("Ctrl+Shift+B")
        self.assertEqual(spans(self.studio.profile_of("U1"), 48_000)[-1], ("ADAT", 15, 22))
        self.assertTrue(self.studio.profile_of("U1").driver_maps[0].outputs)
