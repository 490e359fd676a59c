"""The story of the first ten minutes in a real window under Xvfb: only keys, judged by the file on disk."""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from ennead.checks.all_checks import find_all
from ennead.files.studio_file import read_studio_file
from ennead.studio.errors import EnneadError
from ennead.survey.survey import Survey
from ennead.survey.words import gap_text
from tests.builders import ELEVEN, EXPANDER, INTERFACE, SCRATCH

ROOT = Path(__file__).resolve().parent.parent

#: Owns the clipboard of the screen, as the spreadsheet does from which a list is copied.
CLIPBOARD = """
import sys
from PyQt6.QtWidgets import QApplication
app = QApplication([])
app.clipboard().setText(sys.argv[1])
print("ready", flush=True)
app.exec()
"""


class Story(unittest.TestCase):
    def setUp(self):
        for tool in ("Xvfb", "xdotool"):
            self.assertIsNotNone(
                shutil.which(tool), f"{tool} is missing; run: make test, or apt-get install xvfb xdotool"
            )
        held = tempfile.TemporaryDirectory(dir=SCRATCH)
        self.addCleanup(held.cleanup)
        self.home = Path(held.name)
        ear, mouth = os.pipe()
        screen = subprocess.Popen(
            ["Xvfb", "-displayfd", str(mouth), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
            pass_fds=(mouth,),
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        self.addCleanup(self.end, screen)
        os.close(mouth)
        with os.fdopen(ear) as told:
            display = told.readline().strip()
        self.env = {k: v for k, v in os.environ.items() if not k.startswith(("XDG_", "QT_"))}
        self.env |= {
            "DISPLAY": f":{display}",
            "HOME": str(self.home),
            "QT_QPA_PLATFORM": "xcb",
            "XDG_RUNTIME_DIR": str(self.home),
        }

    def end(self, process):
        if process.poll() is None:
            process.send_signal(signal.SIGTERM)
        process.wait(20)

    def start(self):
        """Start the program and wait until its window has the keyboard."""
        program = subprocess.Popen(
            [sys.executable, "-m", "ennead"], cwd=ROOT, env=self.env, stderr=subprocess.PIPE, text=True
        )
        self.addCleanup(self.end, program)
        self.addCleanup(program.stderr.close)
        self.until(lambda: self.tool("search", "--onlyvisible", "--name", "Ennead$"))
        window = self.tool("search", "--onlyvisible", "--name", "Ennead$").split()[-1]
        self.tool("windowfocus", "--sync", window)
        time.sleep(0.5)
        return program

    def tool(self, *words):
        """Have xdotool do something; return what it prints."""
        done = subprocess.run(
            ["xdotool", *words], env=self.env, capture_output=True, text=True, timeout=60, check=False
        )
        return done.stdout.strip()

    def keys(self, *names):
        for name in names:
            self.tool("key", "--clearmodifiers", name)
            time.sleep(0.12)

    def type(self, text):
        self.tool("type", "--delay", "12", text)
        time.sleep(0.2)

    def dialog(self, key, text, title):
        """Open a dialog by a key, give it the keyboard as a window manager would, type, take."""
        self.keys(key)
        self.until(lambda: self.tool("search", "--onlyvisible", "--name", title))
        for _ in range(5):
            # On a busy machine keys may arrive before the dialog listens; a person would type them again.
            self.tool("windowfocus", "--sync", self.tool("search", "--onlyvisible", "--name", title).split()[-1])
            time.sleep(0.3)
            self.keys("ctrl+a")
            self.type(text)
            self.keys("Return")
            deadline = time.monotonic() + 4
            while time.monotonic() < deadline and self.tool("search", "--onlyvisible", "--name", title):
                time.sleep(0.1)
            if not self.tool("search", "--onlyvisible", "--name", title):
                break
        self.tool("windowfocus", "--sync", self.tool("search", "--onlyvisible", "--name", "Ennead$").split()[-1])
        time.sleep(0.3)

    def until(self, condition, seconds=90.0, again=None):
        """Wait for something; where nothing has come of the keys for a while, type them again, as a person would."""
        deadline = time.monotonic() + seconds
        retry = time.monotonic() + 15
        while not condition():
            if again is not None and time.monotonic() > retry:
                again()
                retry = time.monotonic() + 15
            if time.monotonic() > deadline:
                self.fail(f"it never happened; findings: {[f.message for f in find_all(Survey(self.studio()))]}")
            time.sleep(0.1)

    def studio(self):
        drafts = sorted(
            (self.home / ".local/share/ennead/studios").glob("*.ennead"), key=lambda p: p.stat().st_mtime_ns
        )
        try:
            return read_studio_file(next(p for p in reversed(drafts) if "(2)" in p.name))
        except (EnneadError, StopIteration):
            return read_studio_file(drafts[0])

    def numbers(self):
        return [r.driver.number if r.driver else None for r in Survey(self.studio()).signal_paths]

    def rules(self):
        return {f.rule for f in find_all(Survey(self.studio())) if f.severity != "note"}

    def test_from_an_input_list_to_the_number_you_pick(self):
        owner = subprocess.Popen(
            [sys.executable, "-c", CLIPBOARD, "\n".join(ELEVEN)], env=self.env, stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(owner.stdout.close)
        self.addCleanup(self.end, owner)
        self.assertEqual(owner.stdout.readline(), "ready\n")
        program = self.start()
        self.keys("ctrl+n", "alt+1", "ctrl+v")
        self.until(
            lambda: [s.name for s in self.studio().session_sources] == list(ELEVEN),
            again=lambda: None if self.studio().session_sources else self.keys("alt+1", "ctrl+v"),
        )
        self.dialog("ctrl+k", "go 44.1", "^Find$")
        self.until(lambda: self.studio().rate_hz == 44_100)
        self.dialog("ctrl+k", "go to 48", "^Find$")
        self.until(lambda: self.studio().rate_hz == 48_000)
        self.keys("alt+2")
        self.type("eight one optical pair")
        self.keys("Return")
        self.type("eight-preamp optical expander")
        self.keys("Return")
        self.until(lambda: [u.name for u in self.studio().units.values()] == ["Interface", "Expander"])
        self.assertEqual([p.name for p in self.studio().profiles.values()], [INTERFACE, EXPANDER])
        self.dialog("ctrl+k", "expander optical out", "^Find$")
        self.dialog("Return", "interface", "^Connect")
        self.until(lambda: len(self.studio().cables) == 1)
        self.assertIn("one_fibre_expander_leads", self.rules())
        self.keys("F8", "ctrl+period")
        self.until(lambda: "one_fibre_expander_leads" not in self.rules())
        self.keys("alt+5", "ctrl+Return")
        time.sleep(1.0)
        self.keys("ctrl+Return")
        self.until(
            lambda: self.numbers() == [1, 5, 6, 2, 7, 8, 3, 4, 15, 16, 17], again=lambda: self.keys("ctrl+Return")
        )
        kept = self.studio()
        self.assertEqual(self.rules(), set())
        self.dialog("ctrl+k", "set interface optical port s/pdif", "^Find$")
        self.until(lambda: self.numbers()[8:] == [None] * 3)
        survey = Survey(self.studio())
        gaps = [gap_text(survey, r) for r in survey.signal_paths if r.gap]
        self.assertEqual(set(gaps), {"Interface's Optical in is set to S/PDIF, but Expander sends ADAT."})
        self.keys("ctrl+z")
        self.until(lambda: self.studio() == kept)
        self.keys("ctrl+q")
        self.assertEqual((program.wait(30), program.stderr.read()), (0, ""))
        again = self.start()
        self.keys("alt+1", "Home", "Delete")
        self.until(lambda: [s.name for s in self.studio().session_sources] == list(ELEVEN[1:]))
        self.keys("ctrl+z")
        self.until(lambda: self.studio() == kept)
        self.keys("ctrl+q")
        self.assertEqual(again.wait(30), 0)
