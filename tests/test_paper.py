"""Strips measured back from the strokes in the PDF, as a steel rule would."""

import re
import tempfile
import unittest
import zlib
from itertools import pairwise
from pathlib import Path

from bench.verbs import run
from ennead.demo.skerry import skerry
from ennead.drawings.layouts.label_strips import MARGIN_MM, PAPERS, edges, pages_of
from ennead.edits.bays import add_bay, label_point
from ennead.files.studio_path import write_studio
from ennead.paper.flags import modules
from ennead.paper.strips import write_strips
from ennead.reports.flag_rows import flag_rows
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey
from tests.builders import end
from tests.desk_case import application

Stroke = tuple[float, float, float, float]


def strokes(path: Path) -> list[list[Stroke]]:
    """Return the straight strokes on each page of a PDF, mm from its upper left corner; ISO 32000-1, 8.3.2 and 8.5.2."""
    pages = []
    for packed in re.findall(rb"stream\r?\n(.*?)endstream", path.read_bytes(), re.DOTALL):
        try:
            text = zlib.decompress(packed).decode("latin-1")
        except zlib.error:
            continue
        matrix = re.search(r"^([\d.]+) 0 0 -([\d.]+) 0 ([\d.]+) cm$", text, re.MULTILINE)
        if matrix is None:
            continue
        across, down = float(matrix[1]) * 25.4 / 72, float(matrix[2]) * 25.4 / 72
        found = re.findall(r"^([\d.]+) ([\d.]+) m\n([\d.]+) ([\d.]+) l$", text, re.MULTILINE)
        pages.append([(float(a) * across, float(b) * down, float(c) * across, float(d) * down) for a, b, c, d in found])
    return pages


def ticks(page: list[Stroke]) -> list[list[float]]:
    """Return where the upper ticks of each strip stand, strip by strip from above."""
    rows: dict[float, list[float]] = {}
    for x0, y0, x1, y1 in page:
        if x0 == x1 and abs(abs(y1 - y0) - 1.2) < 0.02:
            rows.setdefault(round(min(y0, y1), 1), []).append(x0)
    return [sorted(rows[y]) for y in sorted(rows)][::2]


class Strips(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.app = application()

    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.path = Path(held.name) / "strips.pdf"

    def house(self) -> Studio:
        studio = add_bay(add_bay(empty_studio("Test"), "A", 24), "B", 48, connector="tt", in_pairs=True)
        return label_point(
            add_bay(studio, "C", 16, rows=1, connector="xlr"), end("U1", "a3"), first="Hall 3", second="x" * 60
        )

    def test_pitch_and_joints_are_true_on_every_paper(self) -> None:
        survey = Survey(self.house())
        for paper, (_, long) in PAPERS.items():
            for measured in (150.0, 148.5):
                pages = pages_of(survey, paper, measured, test=False)
                write_strips(self.path, pages, "Test")
                printed = [row for page in strokes(self.path) for row in ticks(page)]
                pieces = [piece for page in pages for piece in page.pieces]
                self.assertEqual(len(printed), len(pieces))
                for unit in ("U1", "U2", "U3"):
                    bay = survey.bays[UnitId(unit)]
                    for at, keys in enumerate(bay.rows):
                        row = (
                            survey.units[UnitId(unit)].name
                            + ("" if len(bay.rows) > 1 else " row 1")
                            + (" above", " below")[at] * (len(bay.rows) > 1)
                        )
                        mine = [marks for marks, piece in zip(printed, pieces, strict=True) if piece.name == row]
                        gaps = [b - a for marks in mine for a, b in pairwise(marks)]
                        wanted = [(right - left) * 150 / measured for left, right in edges(bay, len(keys))]
                        self.assertEqual(len(gaps), len(keys), row)
                        for gap, want in zip(gaps, wanted, strict=True):
                            self.assertAlmostEqual(gap, want, delta=0.05)
                        # Cut and joined, the pieces are as long as the row.
                        self.assertAlmostEqual(sum(marks[-1] - marks[0] for marks in mine), sum(wanted), delta=0.1)
                        self.assertEqual(len(mine) > 1, sum(wanted) > long - 2 * MARGIN_MM, (paper, row))
                        for marks in mine:
                            self.assertLessEqual(marks[-1], long - MARGIN_MM + 0.05)

    def test_the_ruler_is_150_mm_and_what_it_measured_is_put_right(self) -> None:
        write_strips(self.path, pages_of(Survey(self.house()), "A4", 150.0, test=True), "Test")
        ((page,), tens) = strokes(self.path), []
        tens = sorted(x0 for x0, y0, x1, y1 in page if x0 == x1 and abs(abs(y1 - y0) - 8.0) < 0.02)
        self.assertEqual(len(tens), 16)
        self.assertAlmostEqual(tens[-1] - tens[0], 150.0, delta=0.05)
        for wrong in (0.0, 119.9, 180.1, float("nan")):
            with self.assertRaises(EnneadError):
                pages_of(Survey(self.house()), "A4", wrong, test=False)
        with self.assertRaises(EnneadError):
            pages_of(Survey(empty_studio()), "A4", 150.0, test=False)

    def test_labels_by_the_command_line(self) -> None:
        studio = self.path.with_name("s.json")
        write_studio(studio, self.house())
        self.assertEqual(run("export", studio, "--what", "labels", "--output", self.path, "--paper", "A3")[0], 0)
        self.assertEqual(len([r for page in strokes(self.path) for r in ticks(page)]), 2 * 2 + 2 * 2 + 2)
        table = self.path.with_suffix(".csv")
        run("export", studio, "--what", "labels", "--output", table)
        self.assertIn("A,3 above,3,Hall 3,", table.read_text(encoding="utf-8"))
        svg = self.path.with_suffix(".svg")
        self.assertEqual(run("export", studio, "--what", "labels", "--output", svg)[0], 0)
        self.assertIn("Hall 3", svg.with_name("strips-1.svg").read_text(encoding="utf-8"))
        self.assertEqual(run("export", studio, "--what", "labels", "--output", self.path, "--measured", "90")[0], 2)


class Flags(unittest.TestCase):
    def test_every_plug_has_a_flag_that_folds_at_true_scale_and_its_code_says_the_same(self) -> None:
        application()
        survey = Survey(skerry())
        flags = flag_rows(survey)
        plugs = [plug for cable in survey.in_use.values() for plug in cable.plugs]
        self.assertEqual(len(flags), len(plugs))
        two = [(a, b) for a, b in zip(flags[::2], flags[1::2], strict=True) if a.cable == b.cable]
        self.assertTrue(two and all((a.here, a.there) == (b.there, b.here) for a, b in two))
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "house.json"
            write_studio(path, survey.studio)
            self.assertEqual(run("export", str(path), "--what", "flags", "--output", f"{held}/flags.pdf")[0], 0)
            pages = strokes(Path(held) / "flags.pdf")
        folds = [x0 for page in pages for x0, y0, x1, y1 in page if x0 == x1 and abs(abs(y1 - y0) - 13.0) < 0.02]
        self.assertEqual(len(folds), 2 * len(flags))
        for one, other in zip(folds[::2], folds[1::2], strict=True):
            self.assertAlmostEqual(other - one, 14.0, delta=0.05)
        # Three finder patterns, and the row and column of alternate modules between them: ISO/IEC 18004, 6.3.3 and 6.3.5.
        for text in (flags[0].code, flags[-1].code):
            code = modules(text)
            last = len(code) - 7
            for down, across in ((0, 0), (0, last), (last, 0)):
                square = [row[across : across + 7] for row in code[down : down + 7]]
                self.assertEqual(["".join("#" if dark else "." for dark in row) for row in square], FINDER)
            self.assertEqual(code[6][8 : last - 1], [n % 2 == 0 for n in range(last - 9)])


FINDER = ["#######", "#.....#", "#.###.#", "#.###.#", "#.###.#", "#.....#", "#######"]
