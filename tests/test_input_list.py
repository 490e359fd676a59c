"""Input lists as people really have them, and text that must stay text."""

import csv
import io
import random
import tempfile
import unittest
import zipfile
from datetime import date
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from ennead.edits.session import add_source, add_sources
from ennead.files.errors import FileTrouble
from ennead.files.exports import export_list
from ennead.files.input_list import MOST_LINES, csv_text, list_csv, read_lines, read_list_file
from ennead.files.spreadsheet import MOST_BYTES
from ennead.planning.boxes.guessing import guess
from ennead.studio.document import empty_studio
from ennead.studio.errors import BadValue
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
        self.assertEqual(
            (choir["kind"], choir["phantom"], choir["channels"], choir["place"]), ("condenser", "needed", 2, "Hall")
        )
        self.assertEqual((fiddle["kind"], fiddle["phantom"], fiddle.get("channels", 1)), ("ribbon", "forbidden", 1))
        bare = read_lines("1\tKick\tdynamic\n2\tKeys\tstereo\n")
        self.assertEqual(
            [(b["name"], b["kind"], b.get("channels", 1)) for b in bare], [("Kick", "dynamic", 1), ("Keys", "line", 2)]
        )
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

    def test_a_file_far_too_long_is_refused_whole(self):
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "log.csv"
            path.write_text("name\n" + "Kick\n" * MOST_LINES)
            self.assertEqual(len(read_list_file(path)), MOST_LINES)
            for text in ("name\n" + "Kick\n" * (MOST_LINES + 1), "Kick\n" * 100_000):
                path.write_text(text)
                with self.assertRaisesRegex(FileTrouble, r"log.csv: it has [0-9,]+ lines; an input list has 5,000"):
                    read_list_file(path)
            path.write_bytes(b"\0" * 21_000_000)
            self.assertRaisesRegex(FileTrouble, "far longer", read_list_file, path)

    @given(st.text(max_size=300))
    def test_any_text_is_read_into_a_list_a_session_takes(self, text):
        studio = empty_studio()
        for line in read_lines(text):
            if line["name"].split() and any(c.isprintable() and not c.isspace() for c in line["name"]):
                studio = add_source(studio, **line)
                self.assertEqual(studio.session_sources[-1].kind, line.get("kind", "dynamic"))

    def test_guesses_are_marked_and_modest(self):
        for name, kind, phantom in (
            ("Kick in", "dynamic", "tolerated"),
            ("OH L", "condenser", "needed"),
            ("Bass DI", "instrument", "tolerated"),
            ("Lead vox", "dynamic", "tolerated"),
            ("Keys", "line", "tolerated"),
            ("ribbon on fiddle", "ribbon", "forbidden"),
            ("S/PDIF tape", "digital", "tolerated"),
            ("Bass", "instrument", "tolerated"),
        ):
            facts = guess(name)
            self.assertEqual((facts["kind"], facts["phantom"]), (kind, phantom), name)
            self.assertEqual(set(facts["guessed"]), set(facts) - {"guessed"})
        self.assertEqual(guess("Bass DI")["di"], "passive")
        self.assertEqual(guess("Room pair")["channels"], 2)
        self.assertEqual((guess("Kazimir"), guess("Dishwasher")), ({}, {}))

    def test_places_are_guessed_from_those_there_are_and_from_rooms(self):
        there = ("Boathouse", "Boathouse loft", "A", "Hall")
        for name, place in (
            ("Fiddle, boathouse loft", "Boathouse loft"),
            ("Boathouse spot", "Boathouse"),
            ("HALL pair", "Hall"),
            ("Vox booth", "Booth"),
            ("Challenger", None),
            ("A guitar", None),
            ("Room L", None),
        ):
            facts = guess(name, there)
            self.assertEqual(
                (facts.get("place"), "place" in facts.get("guessed", ())), (place, place is not None), name
            )
        self.assertEqual([s["place"] for s in read_lines("Vox booth\nPad, boathouse", there)], ["Booth", "Boathouse"])
        (said,) = read_lines("name;place\nVox booth;Hall")
        self.assertEqual((said["place"], said["guessed"]), ("Hall", ("kind", "phantom")))


class Spreadsheets(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.path = Path(held.name) / "list.xlsx"

    def write(self, *sheets):
        book = Workbook()
        for number, rows in enumerate(sheets):
            sheet = book.active if number == 0 else book.create_sheet()
            for row in rows:
                sheet.append(row)
        book.save(self.path)

    def test_the_first_sheet_with_anything_in_it_is_the_list(self):
        self.write(
            [],
            [
                ["No", "Source", "48V", "Stereo", "Room"],
                [1, "Choir", True, "stereo", "Hall"],
                [],
                [2.0, "=SUM(A1)", None, None, None],
                [3, 57, "no", None, date(2026, 5, 1)],
            ],
        )
        choir, number = read_list_file(self.path)
        self.assertEqual(
            (choir["name"], choir["phantom"], choir["channels"], choir["place"]), ("Choir", "needed", 2, "Hall")
        )
        # A formula nobody has worked out has no value; a number is a name like any other.
        self.assertEqual((number["name"], number["phantom"]), ("57", "tolerated"))

    def test_bombs_cut_files_and_other_archives_are_refused_in_a_sentence(self):
        self.write([["Kick"]] * 20)
        whole = self.path.read_bytes()
        with zipfile.ZipFile(self.path, "a", zipfile.ZIP_DEFLATED) as package:
            package.writestr("xl/more.xml", b"0" * (MOST_BYTES + 1))
        self.assertLess(self.path.stat().st_size, 100_000)
        self.assertRaisesRegex(FileTrouble, "unpack to 32 MB", read_list_file, self.path)
        entities = "".join(f'<!ENTITY e{n} "{f"&e{n - 1};" * 10}">' for n in range(1, 12))
        bomb = f'<!DOCTYPE s [<!ENTITY e0 "Kick">{entities}]><worksheet>&e11;</worksheet>'
        self.path.write_bytes(whole)
        with zipfile.ZipFile(self.path) as package:
            parts = {name: package.read(name) for name in package.namelist()}
        with zipfile.ZipFile(self.path, "w") as package:
            for name, body in parts.items():
                package.writestr(name, bomb if name.endswith("sheet1.xml") else body)
        self.assertRaisesRegex(FileTrouble, "list.xlsx: it is not a spreadsheet", read_list_file, self.path)
        dice = random.Random(4)
        refused = 0
        for _ in range(60):
            bad = bytearray(whole)
            for _ in range(dice.randint(1, 30)):
                bad[dice.randrange(4, len(bad))] = dice.randrange(256)
            self.path.write_bytes(bad[: dice.choice((len(bad), dice.randrange(4, len(bad))))])
            try:
                self.assertLessEqual(len(read_list_file(self.path)), 20)
            except FileTrouble as error:
                refused += 1
                self.assertRegex(str(error), r"list\.xlsx: [^\n]+\.$")
        self.assertGreater(refused, 30)
        self.write(*[[["Kick"]] * (MOST_LINES + 2)])
        self.assertRaisesRegex(FileTrouble, "more than 5,001 lines", read_list_file, self.path)

    def test_one_cell_in_the_very_last_row_is_not_waited_for(self):
        book = Workbook()
        book.active["A1"] = "Kick"
        book.active.cell(row=1_048_576, column=16_384, value="Snare")
        book.save(self.path)
        self.assertEqual([line["name"] for line in read_list_file(self.path)], ["Kick"])


class AddingMany(unittest.TestCase):
    def test_it_is_the_same_as_one_after_the_other(self):
        lines = read_lines(
            "name,kind,place,channels\nKick,,Hall,1\nOH,,Booth,stereo\nVox hall,ribbon,,1\nBell,,hall,1\n", ["Hall"]
        )
        one = two = add_source(empty_studio(), "First", place="Hall")
        for line in lines:
            one = add_source(one, **line)
        self.assertEqual(add_sources(two, lines), one)
        self.assertIs(add_sources(two, []), two)
        with self.assertRaises(BadValue):
            add_sources(two, [*lines, {"name": "X", "kind": "kazoo"}])


class Writing(unittest.TestCase):
    def test_a_list_comes_back_as_it_was(self):
        studio = add_source(
            add_source(empty_studio(), "=SUM(A1)", kind="line", group="-x"), "Choir, low", channels=2, place="Hall"
        )
        text = list_csv(studio)
        self.assertIn("'=SUM(A1)", text)
        back = empty_studio()
        for line in read_lines(text):
            back = add_source(back, **line)
        facts = [(s.name, s.kind, s.phantom, s.channels, s.group) for s in studio.session_sources]
        self.assertEqual([(s.name, s.kind, s.phantom, s.channels, s.group) for s in back.session_sources], facts)

    @given(st.lists(st.text(max_size=20), min_size=1, max_size=4))
    def test_no_cell_begins_a_formula(self, cells):
        (_, row) = csv.reader(
            io.StringIO(
                csv_text(
                    ("a",) * len(cells), [[c.replace("\r", " ").replace("\n", " ").replace("\0", "") for c in cells]]
                )
            )
        )
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
