"""Input lists as people really have them, and text that must stay text."""

import csv
import io
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from ennead.edits.session import add_source
from ennead.files.errors import FileTrouble
from ennead.files.exports import export_list
from ennead.files.input_list import csv_text, list_csv, read_lines, read_list_file
from ennead.planning.guessing import guess
from ennead.studio.document import empty_studio
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, plug, rig


def names(text):
    return [line["name"] for line in read_lines(text)]


class Reading(unittest.TestCase):
    def test_a_line_each_numbered_or_not(self):
        self.assertEqual(names("Kick\n\n  Snare \r\nOH L\rOH R"), ["Kick", "Snare", "OH L", "OH R"])
        self.assertEqual(names("1. Kick\n2) Snare\n03 OH\n4: Vox\n10\tBass"), ["Kick", "Snare", "OH", "Vox", "Bass"])
        self.assertEqual(names("57 mic\n12-string"), ["mic", "12-string"])

    def test_tables_with_and_without_headings(self):
        with_heads = "Source;Type;48 V;Stereo;Room;Group\nChoir;condenser;yes;stereo;Hall;Choir\nFiddle;ribbon mic;never;;Hall;\n"
        choir, fiddle = read_lines(with_heads)
        self.assertEqual((choir["kind"], choir["phantom"], choir["channels"], choir["place"]), ("condenser", "needed", 2, "Hall"))
        self.assertEqual((fiddle["kind"], fiddle["phantom"], fiddle.get("channels", 1)), ("ribbon", "forbidden", 1))
        bare = read_lines("1\tKick\tdynamic\n2\tKeys\tstereo\n")
        self.assertEqual([(b["name"], b["kind"], b.get("channels", 1)) for b in bare], [("Kick", "dynamic", 1), ("Keys", "line", 2)])
        quoted = read_lines('name,place\n"Choir, low",Hall\n')
        self.assertEqual(quoted[0]["name"], "Choir, low")

    def test_what_is_said_is_no_guess(self):
        line = read_lines("name\tkind\nOH L\tribbon\n")[0]
        self.assertEqual((line["kind"], line["guessed"]), ("ribbon", ("phantom",)))

    def test_files_in_every_usual_encoding(self):
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "list.csv"
            for encoding in ("utf-8", "utf-8-sig", "utf-16", "latin-1"):
                path.write_bytes("name,place\nFlûte,Hall\n".encode(encoding))
                self.assertEqual(read_list_file(path)[0]["name"], "Flûte", encoding)
            path.write_text("\n\n")
            self.assertRaises(FileTrouble, read_list_file, path)
            self.assertRaises(FileTrouble, read_list_file, Path(held) / "none.csv")

    @given(st.text(max_size=300))
    def test_any_text_is_read_into_a_list_a_session_takes(self, text):
        studio = empty_studio()
        for line in read_lines(text):
            if line["name"].split() and any(c.isprintable() and not c.isspace() for c in line["name"]):
                studio = add_source(studio, **line)
                self.assertEqual(studio.session_sources[-1].kind, line.get("kind", "dynamic"))

    def test_guesses_are_marked_and_modest(self):
        for name, kind, phantom in (
            ("Kick in", "dynamic", "tolerated"), ("OH L", "condenser", "needed"), ("Bass DI", "instrument", "tolerated"),
            ("Lead vox", "dynamic", "tolerated"), ("Keys", "line", "tolerated"), ("ribbon on fiddle", "ribbon", "forbidden"),
            ("S/PDIF tape", "digital", "tolerated"), ("Bass", "instrument", "tolerated"),
        ):  # fmt: skip
            facts = guess(name)
            self.assertEqual((facts["kind"], facts["phantom"]), (kind, phantom), name)
            self.assertEqual(set(facts["guessed"]), set(facts) - {"guessed"})
        self.assertEqual(guess("Bass DI")["di"], "passive")
        self.assertEqual(guess("Room pair")["channels"], 2)
        self.assertEqual((guess("Kazimir"), guess("Dishwasher")), ({}, {}))


class Writing(unittest.TestCase):
    def test_a_list_comes_back_as_it_was(self):
        studio = add_source(add_source(empty_studio(), "=SUM(A1)", kind="line", group="-x"), "Choir, low", channels=2, place="Hall")
        text = list_csv(studio)
        self.assertIn("'=SUM(A1)", text)
        back = empty_studio()
        for line in read_lines(text):
            back = add_source(back, **line)
        facts = [(s.name, s.kind, s.phantom, s.channels, s.group) for s in studio.session_sources]
        self.assertEqual([(s.name, s.kind, s.phantom, s.channels, s.group) for s in back.session_sources], facts)

    @given(st.lists(st.text(max_size=20), min_size=1, max_size=4))
    def test_no_cell_begins_a_formula(self, cells):
        (_, row) = csv.reader(io.StringIO(csv_text(("a",) * len(cells), [[c.replace("\r", " ").replace("\n", " ").replace("\0", "") for c in cells]])))
        for cell in row:
            self.assertFalse(cell.startswith(("=", "+", "-", "@")), cell)

    def test_exports_by_ending(self):
        studio = plug(rig(INTERFACE), "a|b <i>", "U1", "mic1")
        with tempfile.TemporaryDirectory() as held:
            for what, word in (("cables", "XLR, balanced"), ("drivers", "Loopback 4")):
                for ending in ("csv", "json", "md"):
                    path = Path(held) / f"{what}.{ending}"
                    export_list(Survey(studio), what, path)
                    self.assertIn(word, path.read_text(encoding="utf-8"))
            self.assertIn("a\\|b \\<i\\>", (Path(held) / "cables.md").read_text(encoding="utf-8"))
            with self.assertRaises(FileTrouble) as caught:
                export_list(Survey(studio), "cables", Path(held) / "x.xls")
            self.assertIn("Use .csv, .json or .md", str(caught.exception))
