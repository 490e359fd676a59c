"""What was said to be done is there after a kill; set-up says what it needs; damaged interchange never upsets."""

import copy
import json
import os
import random
import signal
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from ennead.demo.skerry import skerry
from ennead.files.errors import FileTrouble
from ennead.files.interchange import from_json, to_json
from ennead.files.studio_file import StudioFile

ROOT = Path(__file__).resolve().parent.parent

WRITER = """
import sys
from pathlib import Path
from ennead.edits.session import add_source
from ennead.files.studio_file import StudioFile
file = StudioFile(Path(sys.argv[1]))
for n in range(100000):
    file.commit(add_source(file.studio, f"Edit {n}"))
    print(n, flush=True)
"""


class Killed(unittest.TestCase):
    def test_no_edit_said_to_be_done_is_lost(self):
        dice = random.Random(8)
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "a.ennead"
            StudioFile(path, create=skerry()).close()
            before = len(skerry().sources)
            for _ in range(8):
                writer = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], cwd=ROOT, stdout=subprocess.PIPE, text=True)
                writer.stdout.readline()
                time.sleep(dice.uniform(0, 0.15))
                writer.send_signal(signal.SIGKILL)
                said = 1 + len(writer.stdout.read().splitlines())
                writer.wait(20)
                writer.stdout.close()
                file = StudioFile(path)
                there = len(file.studio.sources) - before
                file.close()
                # One more than was said may be on disk: it was written and not yet reported.
                self.assertIn(there, (said, said + 1))
                before += there


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


class Mutated(unittest.TestCase):
    """A few hundred wrong documents: each is refused in one sentence or means something whole."""

    def places(self, value, path=()):
        yield path
        children = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
        for key, child in children:
            yield from self.places(child, (*path, key))

    def test_one_thing_wrong_anywhere(self):
        dice = random.Random(9)
        whole = json.loads(to_json(skerry()))
        paths = [p for p in self.places(whole) if p]
        odd = (None, -1, 0, 3.5, 10**30, "", "x" * 600, "U1", "\u202e<b>", [], {}, [[]], {"a": 1}, True)
        refused = 0
        for path in dice.sample(paths, 300):
            bad = copy.deepcopy(whole)
            at = bad
            for part in path[:-1]:
                at = at[part]
            if isinstance(at, list) and dice.random() < 0.3:
                at.append(copy.deepcopy(at[path[-1]]))
            elif dice.random() < 0.2:
                del at[path[-1]]
            else:
                at[path[-1]] = dice.choice(odd)
            try:
                studio = from_json(json.dumps(bad).encode(), "bad.json")
            except FileTrouble as error:
                refused += 1
                self.assertEqual(str(error).count("\n"), 0)
                self.assertTrue(str(error).startswith("bad.json: "))
            else:
                self.assertEqual(from_json(to_json(studio).encode()), studio)
        self.assertGreater(refused, 150)
