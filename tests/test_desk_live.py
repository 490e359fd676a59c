"""Loops measured live and the computer read, in their windows: refused without a server, by keys with one, undone."""

import os
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from bench.audio_servers import audio_server
from ennead.standin.loop_player import LoopPlayer, hardware_of
from ennead.studio.ids import DestinationId
from ennead.survey.survey import Survey
from ennead.survey.system_names import first_computer
from tests.desk_case import DeskCase
from tests.test_loop_figures import chain

LOOP = DestinationId("D1")


class Live(DeskCase):
    start = chain()

    def test_without_a_server_one_sentence_and_the_way_by_files(self):
        self.press("Alt+7")

        def measure(dialog):
            self.until(dialog.again.isEnabled)
            self.assertIn("Measure by files instead", dialog.answer.text())
            self.assertFalse(dialog.start.isEnabled())
            self.press("Escape", into=dialog)

        def read(dialog):
            self.until(dialog.again.isEnabled)
            self.assertIn("No audio server", dialog.words.text())
            self.assertFalse(dialog.note.isEnabled() or dialog.copy.isEnabled())
            self.press("Escape", into=dialog)

        nobody = {"JACK_DEFAULT_SERVER": "nobody", "XDG_RUNTIME_DIR": "/nowhere", "PIPEWIRE_RUNTIME_DIR": "/nowhere"}
        with mock.patch.dict(os.environ, nobody):
            self.in_dialog("live_dialog", measure)
            self.window.actions_by_name["measure_live"].trigger()
            self.in_dialog("read_computer_dialog", read)
            self.window.actions_by_name["read_computer"].trigger()
        self.assertEqual(self.studio, self.start)

    def test_a_loop_is_measured_nudged_taken_and_the_computer_noted(self):
        self.open(self.start)
        before, survey = self.studio, Survey(self.studio)
        self.press("Alt+7")

        def measure(dialog):
            choice = dialog.choice
            self.until(lambda: choice.found is not None)
            self.assertIn("4096 samples a period", choice.server.text())
            self.assertFalse(dialog.start.isEnabled(), "before the monitors are down")
            choice.down.setFocus()
            self.press("Space", into=choice.down)
            item = choice.loops.item(0)
            item.setCheckState(Qt.CheckState.Unchecked)
            self.assertFalse(dialog.start.isEnabled(), "with no loop")
            item.setCheckState(Qt.CheckState.Checked)
            self.click(dialog.start)
            # Stopped on the way, nothing is measured, and it can begin again.
            self.until(lambda: dialog.work.progress.value() > 2)
            self.click(dialog.work.stop)
            self.assertIn("Stopped", dialog.answer.text())
            self.click(dialog.start)
            self.until(lambda: dialog.takes or (dialog.answer.text() and dialog.start.isEnabled()), 240)
            self.assertTrue(dialog.takes, dialog.answer.text())
            self.assertIn("round trip", dialog.pane.lines.item(0).text())
            self.press("Shift+Right", into=dialog.pane.curve)
            self.assertEqual(dialog.pane.nudge_of(dialog.takes[0][1].ports.loop), 1.0)
            self.click(dialog.take)

        def read(dialog):
            self.until(lambda: dialog.found is not None)
            self.assertIn("as planned by name and number", dialog.words.text())
            self.click(dialog.copy)
            lines = QApplication.clipboard().text().splitlines()
            self.assertEqual(len(lines) - 1, len(survey.numbering.inputs) + len(survey.numbering.outputs))
            self.click(dialog.note)

        with audio_server("jack", 4_096), LoopPlayer(hardware_of(survey, 4_096, {}), "hall") as player:
            self.assertTrue(player.ready.startswith("hall "))
            self.in_dialog("live_dialog", measure)
            self.window.actions_by_name["measure_live"].trigger()
            self.settle()
            (noted,) = self.studio.destinations[LOOP].measured
            # With another buffer than planned, it is kept as what it is, and holds for that alone.
            self.assertEqual(noted.buffer, 4_096)
            # Planned: 262 come round and 186 are reported.
            self.assertAlmostEqual(noted.samples, 262 - 186 - 1.0, places=2)
            self.in_dialog("read_computer_dialog", read)
            self.window.actions_by_name["read_computer"].trigger()
            self.settle()
        computer = first_computer(survey)
        names = self.studio.hosts[computer].names_at(self.studio.rate_hz)
        self.assertEqual(list(names.outputs), [d.label for d in survey.numbering.outputs])
        self.assertEqual(self.studio.hosts[computer].times_at(self.studio.rate_hz).buffer, 4_096)
        self.press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z", "Ctrl+Shift+Z")
        self.assertEqual(self.studio.destinations[LOOP].measured, (noted,))
