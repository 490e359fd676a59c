"""What was said to be done is there after a kill; set-up says what it needs; damaged interchange never upsets."""

import json
import os
import random
import shutil
import stat
import subprocess
import sys
import tempfile
import unittest
from itertools import product
from pathlib import Path

from bench.fuzz import fuzz
from bench.kills import _rounds
from ennead.demo.skerry import skerry
from ennead.edits.house import rename_unit
from ennead.edits.session import add_source
from ennead.files.interchange import read_json, to_json
from ennead.files.rows import FORMAT_VERSION, to_plain
from ennead.files.studio_file import StudioFile, check_head, read_studio_file
from ennead.files.write_ahead import journal_of, journal_state
from ennead.studio.house import PortEnd
from ennead.studio.loop_use import LoopUse
from ennead.studio.print_job import Printing
from ennead.survey.survey import Survey, survey_of
from tests.trials import few

ROOT = Path(__file__).resolve().parent.parent


def as_json(*arguments: str) -> dict:
    # A process of its own: it forks, and this one may hold threads and a window.
    done = subprocess.run(
        [sys.executable, "-m", "bench.kills", *arguments], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return json.loads(done.stdout)


class Killed(unittest.TestCase):
    def test_storage(self):
        found = as_json("storage", str(few(20, 40)), str(random.randrange(10**6)))
        self.assertEqual((found["lost"], found["out_of_order"], found["not_opened"]), ([], [], []))
        self.assertGreater(found["edits_done"], few(20, 40))

    def test_window(self):
        found = as_json("window", str(few(2, 3)), str(random.randrange(10**6)))
        self.assertEqual((found["lost"], found["out_of_order"], found["not_opened"]), ([], [], []))
        self.assertGreaterEqual(found["edits_done"], 2)

    def test_a_loss_would_be_seen(self):
        def claims_too_much(path, _):
            file = StudioFile(path)
            file.commit(add_source(file.studio, "Edit 0"))
            file.close()
            return [0, 1]

        def breaks(path, _):
            path.write_bytes(b"")
            return [0]

        with tempfile.TemporaryDirectory() as held:
            self.assertEqual(_rounds(Path(held) / "a.ennead", 1, random.Random(1), 0.0, claims_too_much)["lost"], [0])
            self.assertEqual(len(_rounds(Path(held) / "b.ennead", 2, random.Random(1), 0.0, breaks)["not_opened"]), 2)


class CutJournal(unittest.TestCase):
    """A journal that was cut short or damaged: the file opens on a whole edit, and which is what SQLite itself says."""

    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        path = self.folder / "used.ennead"
        file = StudioFile(path, create=skerry())
        self.states = [file.studio]
        for n in range(6):
            self.states.append(rename_unit(file.studio, "U1", f"Pier {n}"))
            file.commit(self.states[-1])
        self.file, self.journal = path.read_bytes(), journal_of(path).read_bytes()
        file.close()

    def lay(self, name, journal):
        path = self.folder / name
        path.write_bytes(self.file)
        journal_of(path).write_bytes(journal)
        return path

    def test_cut_anywhere_it_opens_on_a_whole_edit(self):
        page = int.from_bytes(self.journal[8:12], "big")
        frame = 24 + page
        whole = [32 + n * frame for n in range((len(self.journal) - 32) // frame + 1)]
        dice = random.Random(3)
        seen = set()
        for number, length in enumerate([*whole, *(dice.randrange(1, len(self.journal)) for _ in range(40))]):
            path = self.lay(f"{number}.ennead", self.journal[:length])
            state = journal_state(path)
            file = StudioFile(path)
            at = self.states.index(file.studio)
            file.close()
            seen.add(at)
            ends = [n for n in whole if n <= length]
            # Every edit here is one frame or more; the last one has its commit mark on the last whole frame.
            self.assertEqual(
                state, "whole" if length in whole[1:] and at == self._edits(ends[-1], frame) else "cut", length
            )
        self.assertEqual(seen, set(range(len(self.states))))

    def _edits(self, length, frame):
        """Count the commit marks in the journal up to a length, and be right only where one ends it."""
        marks = [int.from_bytes(self.journal[at + 4 : at + 8], "big") for at in range(32, length, frame)]
        return sum(map(bool, marks)) if marks and marks[-1] else -1

    def test_a_wrong_byte_ends_the_journal_there(self):
        dice = random.Random(5)
        for number in range(40):
            bad = bytearray(self.journal)
            bad[dice.randrange(32, len(bad))] ^= 1 + dice.randrange(255)
            path = self.lay(f"{number}.ennead", bytes(bad))
            state = journal_state(path)
            file = StudioFile(path)
            self.assertIn(file.studio, self.states)
            if file.studio != self.states[-1]:
                self.assertEqual(state, "cut")
            file.close()


class OlderForm(unittest.TestCase):
    def test_golden_files_of_older_forms_are_read_and_brought_forward(self):
        golden = ROOT / "tests" / "golden"
        for form in range(1, FORMAT_VERSION):
            old = json.loads((golden / f"studio-{form}.json").read_text(encoding="utf-8"))
            self.assertEqual(old["version"], form)
            studio = read_json(golden / f"studio-{form}.json")
            self.assertEqual([u["name"] for u in old["units"]], [u.name for u in studio.units.values()])
            if form > 5:
                # Nobody had said of any cable yet how it is made up.
                old["cables"] = [{**c, "loom": None} for c in old["cables"]]
                form_of = (
                    self._form_six,
                    self._form_seven,
                    self._form_eight,
                    self._form_nine,
                    self._form_ten,
                    self._form_eleven,
                    self._form_twelve,
                    self._form_thirteen,
                    self._form_fourteen,
                    self._form_fifteen,
                )
                form_of[form - 6](old, studio)
                if form < 10:
                    self._in_every_evening(old, studio)
                path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "old.ennead"
                shutil.copyfile(golden / f"studio-{form}.ennead", path)
                StudioFile(path).close()
                self.assertEqual((check_head(path), read_studio_file(path)), (FORMAT_VERSION, studio))
                continue
            self.assertEqual(
                [c["id"] for c in old["cables"]], [c.id for c in studio.cables.values() if isinstance(c.end, PortEnd)]
            )
            # Every destination is taken from where it was.
            sockets = [tuple((tuple(e.values())) for e in d["outputs"]) for d in old.get("destinations", [])]
            now = [tuple((e.unit, e.port) for e in survey_of(studio).placed(d).outputs) for d in studio.destinations]
            self.assertEqual(now, sockets)
            ticked = {1: (10, 9), 2: (10, 9), 3: (17, 13), 4: (17, 13), 5: (44, 13)}[form]
            self.assertEqual((len(studio.as_built.cables), len(studio.as_built.settings)), ticked)
            for cable, stood in studio.as_built.cables.items():
                planned = studio.cables[cable]
                self.assertEqual(stood.words, (studio.end_text(planned.start), studio.end_text(planned.end)))
                was = next(c for c in old["cables"] if c["id"] == cable)
                self.assertEqual((to_plain(planned.start), to_plain(planned.end)), (was["start"], was["end"]))
            with tempfile.TemporaryDirectory() as held:
                path = Path(held) / "old.ennead"
                shutil.copyfile(golden / f"studio-{form}.ennead", path)
                self.assertEqual(check_head(path), form)
                self.assertEqual(read_studio_file(path), studio)
                self.assertEqual(path.read_bytes(), (golden / f"studio-{form}.ennead").read_bytes())
                StudioFile(path).close()
                self.assertEqual(check_head(path), FORMAT_VERSION)
                self.assertEqual(read_studio_file(path), studio)

    def _form_six(self, old, studio):
        self.assertEqual([to_plain(c) for c in studio.cables.values()], old["cables"])
        wished = ("group", "track", "pinned", "note", "coherent", "priority", "preamp", "outboard")
        for session in old["sessions"]:
            now = studio.sessions[session["id"]]
            was = {s["id"]: s for s in old["sources"]}
            self.assertEqual(
                [{f: getattr(w, f) for f in wished} for w in now.wishes],
                [{f: was[s][f] for f in wished} for s in session["sources"]],
            )
        self.assertTrue(any(w.track for s in studio.sessions.values() for w in s.wishes))

    def _form_seven(self, old, studio):
        # A bay whose pairs were joined by one switch for all has become points with a normal each.
        self.assertEqual([to_plain(c) for c in studio.cables.values()], old["cables"])
        (bay,) = studio.bays.values()
        self.assertEqual((len(bay.rows), {len(row) for row in bay.rows}), (2, {24}))
        self.assertEqual([n.mode for n in bay.normals], ["half"] * 24)
        self.assertEqual((bay.normals[2].start, bay.normals[2].end), ("upper3", "lower3"))
        run = next(r for r in Survey(studio).output_paths if r.driver.number == 7)
        self.assertEqual([s.port for s in run.stops if s.unit][:4], ["line_out7", "upper3", "lower3", "line7"])

    def _form_eight(self, old, studio):
        self.assertEqual([to_plain(c) for c in studio.cables.values()], old["cables"])
        self.assertEqual([to_plain(b) for b in studio.bays.values()], old["bays"])
        self.assertEqual(
            [to_plain(s) for s in studio.scenes.values()], [{**s, "settings": {}, "tracks": []} for s in old["scenes"]]
        )
        self.assertEqual((studio.spares, studio.revisions), ((), {}))

    def _form_nine(self, old, studio):
        self.assertEqual((old["scene"], set(old["resting"])), (studio.scene, set(studio.scenes[studio.scene].settings)))
        self.assertEqual((len(studio.sessions), len(studio.scenes)), (4, 6))
        # A scene kept for another session is not in force on this one.
        kept = {s["id"]: s["session"] for s in old["scenes"]}
        self.assertTrue(
            all(kept.get(s.scene, "") in ("", s.id) for s in studio.sessions.values() if s.id != old["session"])
        )

    def _form_ten(self, old, studio):
        # Nothing was set aside, and nothing measured; all the rest is as it was.
        units = [{**u, "delays": {}} for u in old["units"]]
        destinations = [{**d, "measured": []} for d in old["destinations"]]
        self._form_eleven({**old, "set_aside": [], "units": units, "destinations": destinations}, studio)

    def _form_eleven(self, old, studio):
        # No mix had a level, no output another feed, and no source a number without a socket.
        unsaid = {"mixes": {}, "feeds": {}}
        stood = {u: {**settings, **unsaid} for u, settings in old["as_built"]["settings"].items()}
        now = {
            **old,
            "version": FORMAT_VERSION,
            "units": [{**u, "settings": {**u["settings"], **unsaid}} for u in old["units"]],
            "profiles": [{**p, "mixes": []} for p in old["profiles"]],
            "sources": [{**s, "inside": []} for s in old["sources"]],
            "as_built": {**old["as_built"], "settings": stood},
        }
        self._form_twelve(now, studio)

    def _form_twelve(self, old, studio):
        # Nothing was said of how a loop is used.
        use = to_plain(LoopUse())
        destinations = [{**d, "use": use} for d in old["destinations"]]
        self._form_thirteen({**old, "destinations": destinations}, studio)

    def _form_thirteen(self, old, studio):
        # No box had a recall card, and nothing was to be printed.
        unsaid = {"recalls": [], "prints": [], "printing": to_plain(Printing())}
        self._form_fourteen({**old, **unsaid}, studio)

    def _form_fourteen(self, old, studio):
        # Every loop came back with as many channels as it went out, and no switch chose a level.
        ports = {"level_mode": "", "levels_at": {}}
        profiles = [{**p, "ports": [{**port, **ports} for port in p["ports"]]} for p in old["profiles"]]
        destinations = [
            {**d, "back": 0, "measured": [{**m, "by_channel": []} for m in d["measured"]]} for d in old["destinations"]
        ]
        self._form_fifteen({**old, "profiles": profiles, "destinations": destinations}, studio)

    def _form_fifteen(self, old, studio):
        # No computer had been read.
        hosts = [{**h, "names": {}} for h in old["hosts"]]
        self.assertEqual(json.loads(to_json(studio)), {**old, "hosts": hosts, "version": FORMAT_VERSION})

    def _in_every_evening(self, old, studio):
        """Boxes stand on every evening, in every scene, as taking turns in the units made them stand."""
        turns = ("modes", "phantom", "clock_source", "rate_hz", "pads", "off")
        usual = {"modes": {}, "phantom": [], "clock_source": "", "rate_hz": None, "pads": [], "off": False}
        scene, resting = old.get("scene", ""), old.get("resting", {})
        tried = 0
        for unit, session, name in product(old["units"], old["sessions"], ["", *studio.scenes]):
            key, now = unit["id"], {**usual, **unit["settings"]}
            stands = now if session["id"] == old["session"] else session.get("settings", {}).get(key)
            if stands is None or (session["id"] == old["session"] and key in resting):
                stands = resting.get(key, now)
            here = next((s for s in old.get("scenes", ()) if s["id"] == name), {}).get("settings", {})
            stands = (now if name == scene else here[key]) if key in here else stands
            found = to_plain(studio.settings_in(studio.sessions[session["id"]], studio.scenes.get(name))[key])
            self.assertEqual(
                {f: found[f] for f in turns},
                {f: {**usual, **stands}[f] for f in turns if f in found},
                (key, session["id"], name),
            )
            self.assertEqual(found["terminated"], now.get("terminated", []))
            tried += 1
        self.assertGreater(tried, 12)


class Fuzzed(unittest.TestCase):
    def test_damaged_files_of_every_kind(self):
        with tempfile.TemporaryDirectory() as held:
            found = fuzz(few(55, 88), few(23, 10), Path(held))
        self.assertEqual(found.pop("wrong"), [])
        # A damage that no reader ever refuses, or always, would try nothing; of few trials that cannot be said of each kind.
        for kind, counts in found.items():
            if kind != "CSV":  # Nearly any text is some list.
                self.assertGreater(counts["refused"], 0, kind)
            self.assertGreaterEqual(counts["read"], few(0, 1), kind)
        self.assertGreater(sum(counts["read"] for counts in found.values()), len(found))


class SetUp(unittest.TestCase):
    def test_missing_libraries_are_named_by_the_exact_command(self):
        with tempfile.TemporaryDirectory() as held:
            for name, body in (("ldconfig", "echo libEGL.so.1"), ("id", "echo 1000")):
                tool = Path(held) / name
                tool.write_text(f"#!/bin/sh\n{body}\n", encoding="utf-8")
                tool.chmod(tool.stat().st_mode | stat.S_IXUSR)
            env = os.environ | {"PATH": f"{held}:/usr/bin:/bin"}
            script = ["bash", str(ROOT / "tools" / "system_packages.sh"), "app"]
            done = subprocess.run(script, env=env, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (1, ""))
        self.assertIn("apt-get install -y --no-install-recommends libgl1 libfontconfig1", done.stderr)
        self.assertNotIn("libegl1", done.stderr)
