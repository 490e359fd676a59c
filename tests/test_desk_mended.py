"""A window in trouble stays of use; what the margin, the session and a proposal learned to say, by real keys and undo."""

import os
import random
import subprocess
import sys
from itertools import pairwise
from pathlib import Path
from unittest import mock

from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import QComboBox

from bench.nonsense import nonsense
from bench.odd_sheets import every_sheet
from ennead.checks import all_checks
from ennead.desk.dialogs.handbook import fenced, handbook_pages
from ennead.desk.shell import sheet_box
from ennead.drawings.layouts.rehearsal_layout import lay_rehearsal
from ennead.edits.cables import connect
from ennead.edits.change import change
from ennead.edits.computer import attach
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source, set_rate
from ennead.edits.settings import set_phantom
from ennead.files.interchange import from_json
from ennead.files.studio_file import read_studio_file
from ennead.studio.errors import EnneadError
from ennead.studio.subjects import Subject
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey
from tests import desk_case
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, plug, rig
from tests.desk_case import DeskCase
from tests.trials import few

BOTH = "eight-preamp interface or expander, by mode"
MADI, BRIDGE = "MADI interface, one optical and one coaxial pair", "MADI bridge, eight optical pairs"


class InTrouble(DeskCase):
    start = one_fibre()

    def rename(self, name):
        self.table.do(change("Rename", rename_unit, "U1", name))

    def test_overwritten_in_place_is_said_before_the_edit_counts_and_all_is_kept(self):
        self.rename("Pier")
        self.until(lambda: not self.table.autosave.is_behind)
        other = self.home / "other.ennead"
        desk_case.write_studio(other, rename_unit(one_fibre(), "U1", "Somebody else's"))
        self.path.write_bytes(other.read_bytes())
        self.rename("Slipway")
        self.until(lambda: self.window.tally._disk.text() == "▲ not on disk")
        said = self.window.tally.told
        self.assertIn("All of it is kept in", said)
        (copy,) = self.home.rglob("*rescued*.ennead")
        self.assertEqual(read_studio_file(copy), self.studio)
        self.rename("Harbour")
        self.until(lambda: read_studio_file(copy) == self.studio)
        self.assertEqual(
            (len(list(self.home.rglob("*rescued*.ennead"))), self.path.read_bytes()), (1, other.read_bytes())
        )

    def test_a_second_window_through_another_name_looks_on(self):
        code = (
            "import sys; from pathlib import Path; from ennead.desk.shell.app import *; from PyQt6.QtWidgets import QApplication\n"
            "app = QApplication(['ennead', *STYLE]); prepare(); window = build_window(Path(sys.argv[1]))\n"
            "print(window.table.autosave.read_only); window.close(); take_down(window)"
        )
        hard, soft = self.home / "elsewhere" / "hard.ennead", self.home / "soft.ennead"
        hard.parent.mkdir()
        os.link(self.path, hard)
        soft.symlink_to(self.path)
        root = Path(__file__).resolve().parent.parent
        self.rename("Pier")
        for name in (hard, soft):
            done = subprocess.run(
                [sys.executable, "-c", code, str(name)], cwd=root, capture_output=True, text=True, check=True
            )
            self.assertIn("only be looked at here", done.stdout)
        self.rename("Slipway")
        self.until(lambda: not self.table.autosave.is_behind)
        self.assertEqual(read_studio_file(soft).units["U1"].name, "Slipway")
        # Under the other name the journal is not seen; once it is folded in, all is there.
        self.table.autosave.fold_soon()
        self.table.autosave.wait()
        self.assertEqual(read_studio_file(hard).units["U1"].name, "Slipway")
        self.assertEqual([p.name for p in hard.parent.iterdir()], ["hard.ennead"])

    def test_a_rule_and_a_sheet_that_fail_leave_a_window_that_works_and_closes(self):
        def fail(*_):
            return next(iter(()))

        checks = {"clock": (fail, *all_checks.CHECKS["clock"])}
        with (
            mock.patch.dict(sheet_box.MAKERS, {4: fail}),
            mock.patch.object(all_checks, "strict", False),
            mock.patch.dict(all_checks.CHECKS, checks),
        ):
            self.open(one_fibre())
            self.assertIn("rule_failed", [f.rule for f in self.table.findings])
            self.press("Alt+4")
            self.assertIn("cannot be shown", self.window.sheets[4].text())
            self.rename("Pier")
            self.press("Alt+3", "Ctrl+Z")
            self.assertEqual(self.studio, self.start)
            with mock.patch.object(self.window.preferences, "remember", side_effect=StopIteration):
                self.window.close()
            self.settle()
            self.assertFalse(self.window.isVisible())
        self.assertTrue(desk_case._messages)
        self.assertTrue(all("StopIteration" in m for m in desk_case._messages), desk_case._messages)
        desk_case._messages.clear()

    def test_odd_but_readable_studios_are_shown_on_every_sheet(self):
        dice, shown = random.Random(9), 0
        with mock.patch.object(all_checks, "strict", True):
            for _ in range(few(12, 20)):
                try:
                    studio = from_json(nonsense(b"", dice))
                except EnneadError:
                    continue
                every_sheet(self.window, studio)
                shown += 1
        self.assertGreater(shown, few(2, 4))
        self.assertEqual(desk_case._messages, [])


class Margin(DeskCase):
    start = rig(INTERFACE, BOTH, EXPANDER)

    def choose(self, label, text):
        box = self.window.margin.findChild(QComboBox, f"fact_{label}")
        at = next(n for n in range(box.count()) if text in box.itemText(n))
        box.setFocus()
        while box.currentIndex() != at:
            self.press("Down" if at > box.currentIndex() else "Up")
            box = self.window.margin.findChild(QComboBox, f"fact_{label}")

    def write(self, label, text):
        field = self.window.margin._fields[f"fact_{label}"]
        field.setFocus()
        field.selectAll()
        self.type(text, into=field)
        self.press("Return", into=field)

    def test_how_far_off_the_rate_is_typed_or_chosen(self):
        before = self.studio
        for text, ppm in (("0.1 % down", -1e6 / 1001), ("12,5 %", 125_000.0), ("-999 ppm", -999.0), ("0", 0.0)):
            self.table.select(Subject())
            self.settle()
            self.write("Pulled", text)
            self.assertAlmostEqual(self.studio.current.pull_ppm, ppm, msg=text)
        kept = self.studio
        for wrong in ("much", "13 %"):
            self.write("Pulled", wrong)
            self.assertIn(wrong.split()[0], self.said[-1])
        self.assertEqual(self.studio, kept)
        pull = self.window.sheets[1].pull
        self.press("Alt+1")
        pull.setFocus()
        self.press("Down")
        self.assertNotEqual(self.studio.current.pull_ppm, 0.0)
        told = [f.message for f in self.table.findings if f.rule == "rate_pulled"]
        self.assertEqual(len(told), 3)
        self.assertRegex(told[0], r"4[78].\d{3}(\.\d+)? samples/s")
        self.undo_all()
        self.assertEqual(self.studio, before)

    def test_a_box_beside_the_interfaces_and_a_chain(self):
        before = self.studio
        self.table.select(Subject("unit", "U2"))
        self.settle()
        self.choose("Serves as", "set up")
        self.assertEqual(dict(self.studio.hosts["H1"].beside), {"U2": "setup"})
        self.choose("Serves as", "one of its interfaces")
        self.assertEqual((dict(self.studio.hosts["H1"].beside), self.studio.hosts["H1"].interfaces), ({}, ("U1", "U2")))
        self.undo_all()
        self.assertEqual(self.studio, before)

    def test_a_chain_is_chosen_at_the_socket(self):
        self.open(attach(rig(MADI, MADI), "U1", "thunderbolt-c"))
        before = self.studio
        self.table.select(Subject("unit", "U2"))
        self.settle()
        self.choose("Socket", "behind")
        self.assertEqual(self.studio.hosts["H1"].attachments["U2"].behind, "U1")
        self.undo_all()
        self.assertEqual(self.studio, before)

    def test_a_t_piece_ends_the_finding_and_undo_brings_it_back(self):
        studio = rig("word-clock generator, six outputs", "eight-preamp interface that also stands alone")
        self.open(connect(studio, end("U1", "word_out1"), end("U2", "word_in")))
        told = lambda: [f.rule for f in self.table.findings if f.rule.startswith("word_line")]  # noqa: E731
        self.assertEqual(told(), ["word_line_open"])
        self.table.select(Subject("unit", "U2"))
        self.settle()
        box = next(w for name, w in self.window.margin._fields.items() if "75 Ω" in name)
        box.setFocus()
        self.press("Space")
        self.assertEqual(told(), [])
        self.press("Ctrl+Z")
        self.assertEqual(told(), ["word_line_open"])


class Proposals(DeskCase):
    start = add_source(
        set_phantom(
            plug(rig(INTERFACE), "Ribbon", "U1", "mic1", kind="ribbon", phantom="forbidden"), "U1", "a", on=True
        ),
        "Condenser",
        kind="condenser",
        phantom="needed",
    )

    def test_switches_are_said_and_taken_with_the_places_as_one_step(self):
        self.press("Alt+5", "Ctrl+Return")
        bar = self.window.lines_sheet.bar
        self.until(lambda: self.window.lines_sheet.chart.proposal is not None)
        self.assertIn("48 V switch", bar.words.text())
        self.press("Ctrl+Return")
        after = self.studio
        self.assertEqual(after.settings_of("U1").phantom, ("b",))
        self.assertEqual([f.rule for f in self.table.findings if "phantom" in f.rule], [])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(self.studio, after)

    def test_silent_mains_are_ticked_and_taken_back(self):
        def tick(dialog):
            dialog.silent.setFocus()
            self.press("Space", into=dialog.silent)
            dialog.accept()

        self.press("Alt+5")
        self.in_dialog("aims_dialog", tick)
        self.click(self.window.lines_sheet.aims_button)
        self.assertTrue(self.studio.current.mains_silent)
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)


class Drawn(DeskCase):
    def test_every_track_ends_at_its_number_on_both_rulers(self):
        studio = one_fibre()
        for n in range(1, 9):
            studio = plug(studio, f"Mic {n}", "U2", f"mic{n}")
        told = rehearse(Survey(studio), Survey(set_rate(studio, 96_000)))
        for scale in (1.0, 2.0):
            layout = lay_rehearsal(told, (), 900, lambda m, k=scale: round(m * k))
            for side in layout.sides:
                ticks = {t.text: t for t in side.ticks}
                for thread in side.threads:
                    for number, y in ((thread.moving.before, thread.from_y), (thread.moving.after, thread.to_y)):
                        self.assertEqual(y is None, number is None)
                        if number is not None:
                            tick = ticks[str(number)]
                            self.assertTrue(tick.y < y < tick.y + tick.height)
                for above, below in pairwise(side.ticks):
                    self.assertEqual(above.y + above.height, below.y)

    def test_arithmetic_in_the_handbook_keeps_its_lines(self):
        for page in handbook_pages():
            text = page.read_text(encoding="utf-8")
            document = QTextDocument()
            document.setMarkdown(fenced(text))
            shown = document.toPlainText().splitlines()
            for line in text.splitlines():
                if line.startswith("    ") and "=" in line and not line.strip().startswith(("-", "*")):
                    self.assertIn(line.strip(), [s.strip() for s in shown], page.name)
