"""Places behind a cord: taken only where no normal leads, laid as proposed, and left alone the next time."""

import random
import unittest
from contextlib import suppress

from ennead.checks.all_checks import find_all
from ennead.edits.bays import add_bay, set_normals
from ennead.edits.cables import connect
from ennead.edits.house import add_unit, mark_fault
from ennead.edits.scenes import add_scene, lay_cord
from ennead.edits.session import add_source
from ennead.files.profiles import shelf_profile
from ennead.planning.routing.placing import NoPlace, place_anew, place_at_number
from ennead.planning.routing.why import why_not_there
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.allocation_rows import cord_rows, placed_rows
from ennead.studio.document import Studio, empty_studio
from ennead.studio.ids import SourceId
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, plug

LINES = "twelve-line interface"


def lined() -> Studio:
    """Return the same with a line converter as Pier: no microphone input anywhere."""
    return panelled("", "line", LINES)


def panelled(normals: str = "", lowers: str = "mic", profile: str = INTERFACE) -> Studio:
    """Return a panel (U1) of twelve ways on the upper row of the bay A (U3), whose lower row leads to Pier's (U2) eight inputs."""
    studio = add_unit(empty_studio("Test"), shelf_profile("microphone panel, twelve ways"), "Quay")
    studio = add_bay(add_unit(studio, shelf_profile(profile), "Pier"), "A", 24)
    for n in range(1, 13):
        studio = connect(studio, end("U1", f"tail{n}"), end("U3", f"a{n}"))
    for n in range(1, 9):
        studio = connect(studio, end("U3", f"b{n}"), end("U2", f"{lowers}{n}"))
    return set_normals(studio, end("U3", "a1").unit, [f"a{n}" for n in range(1, 25)], normals)


def arriving(studio: Studio) -> dict[str, int]:
    return {r.signal: r.driver.number for r in Survey(studio).signal_paths if r.driver is not None}


class Corded(unittest.TestCase):
    def taken(self, studio: Studio) -> Studio:
        """Return the studio allocated: all arrive where it was said, no trouble, and a second time nothing changes."""
        survey = Survey(studio)
        proposal = allocate(survey)
        self.assertTrue(proposal.proven)
        after = take(survey, proposal).apply(studio)
        said = {row["source"]: row["driver_number"] for row in placed_rows(survey, proposal)}
        self.assertEqual(arriving(after), said)
        self.assertEqual(len(after.cords) - len(studio.cords), len(cord_rows(survey, proposal)))
        self.assertEqual([f.message for f in find_all(Survey(after)) if f.severity == "trouble"], [])
        self.assertFalse(allocate(Survey(after)).changes)
        return after

    def test_a_cord_is_laid_where_no_normal_leads_and_none_where_one_does(self) -> None:
        for normals, cords in (("", 3), ("full", 0), ("half", 0)):
            studio = panelled(normals)
            for name in ("Voice", "Fiddle", "Drum"):
                studio = add_source(studio, name, kind="dynamic")
            after = self.taken(studio)
            self.assertEqual(len(after.cords), cords)
            self.assertEqual(sorted(arriving(after).values()), [1, 2, 3])
        # Four normals, six lines: two cords, and a point out of service is gone around.
        studio = mark_fault(
            set_normals(panelled(), end("U3", "a1").unit, [f"a{n}" for n in range(1, 5)], "full"),
            end("U3", "b5"),
            "scratchy",
        )
        for n in range(6):
            studio = add_source(studio, f"Line {n + 1}", kind="dynamic")
        after = self.taken(studio)
        self.assertEqual(sorted(p.port for c in after.cords for p in c.plugs if p.port.startswith("b")), ["b6", "b7"])

    def test_one_that_is_placed_anew_gets_a_cord_where_no_normal_leads(self) -> None:
        studio = set_normals(panelled(), end("U3", "a1").unit, ["a1"], "full")
        for name in ("Voice", "Drum"):
            studio = add_source(studio, name, kind="dynamic")
        for source, cords in (("S1", 0), ("S2", 1)):
            studio = place_anew(Survey(studio), SourceId(source)).apply(studio)
            self.assertEqual(len(studio.cords), cords)
        self.assertEqual(arriving(studio), {"Voice": 1, "Drum": 2})
        self.assertEqual([f.message for f in find_all(Survey(studio)) if f.severity == "trouble"], [])
        for n in range(7):
            studio = add_source(studio, f"More {n}", kind="dynamic")
            with suppress(NoPlace):
                studio = place_anew(Survey(studio), SourceId(f"S{n + 3}")).apply(studio)
        self.assertEqual((len(arriving(studio)), len(studio.cords)), (8, 7))

    def test_a_panel_is_no_preamp(self) -> None:
        studio = set_normals(lined(), end("U3", "a1").unit, [f"a{n}" for n in range(1, 9)], "full")
        self.assertEqual(Survey(studio).input_point_at[end("U1", "wall1").unit, "wall1"].carries, ("line",))
        voice = add_source(studio, "Voice", kind="dynamic")
        proposal = allocate(Survey(voice))
        self.assertEqual((proposal.placements, len(proposal.unplaced)), ((), 1))
        keys = add_source(studio, "Keys", kind="line")
        self.assertIn("Keys", arriving(self.taken(keys)))

    def test_random_benches_are_allocated_as_said_and_no_cord_is_laid_in_vain(self) -> None:
        for seed in range(25):
            dice = random.Random(seed)
            studio = panelled()
            led = dice.sample(range(1, 9), dice.randint(0, 6))
            studio = set_normals(studio, end("U3", "a1").unit, [f"a{n}" for n in led], dice.choice(("full", "half")))
            for n in dice.sample(range(1, 13), dice.randint(0, 3)):
                studio = mark_fault(studio, end("U3", f"{dice.choice('ab')}{n}"), "scratchy")
            if dice.random() < 0.3:
                studio = lay_cord(add_scene(studio, "Tonight"), end("U3", "a12"), end("U3", "b20"))
            free = list(range(1, 13))
            dice.shuffle(free)
            for n in range(dice.randint(1, 6)):
                if dice.random() < 0.5:
                    studio = plug(studio, f"Line {n}", "U1", f"wall{free[n]}", kind="dynamic")
                else:
                    studio = add_source(studio, f"Line {n}", kind="dynamic")
            after = self.taken(studio)
            survey = Survey(after)
            used = {(c.end.unit, c.end.port) for c in survey.leads.values()}
            unused = [
                p for p in survey.input_points if (p.unit, p.port.key) not in used and p.unit == "U1" and not p.fault
            ]
            laid = [c for c in after.cords if c not in studio.cords]
            # Who is plugged in anew sits behind a cord only where every way with a normal is taken.
            anew = {c.end for c in survey.leads.values() if c.id not in studio.cables}
            points = {p.port.replace("a", "wall") for c in laid for p in c.plugs if p.port.startswith("a")}
            if any(e.port in points for e in anew):
                self.assertEqual([p.port.label for p in unused], [], seed)

    def test_by_number_a_line_goes_there_by_a_cord_and_by_a_normal_by_none(self) -> None:
        studio = plug(panelled("full"), "Voice", "U1", "wall3", kind="dynamic")
        after = place_at_number(Survey(studio), studio.session_sources[0].id, 6).apply(studio)
        self.assertEqual(arriving(after), {"Voice": 6})
        self.assertEqual(after.cables, studio.cables)
        self.assertEqual([[p.port for p in c.plugs] for c in after.cords], [["a3", "b6"]])
        other = plug(studio, "Drum", "U1", "wall6", kind="dynamic")
        with self.assertRaisesRegex(NoPlace, "driver input 6 is taken by Drum"):
            place_at_number(Survey(other), other.session_sources[0].id, 6)

    def test_why_not_there_knows_what_a_cord_costs(self) -> None:
        studio = add_source(panelled(), "Voice", kind="dynamic")
        source = studio.session_sources[0]
        found = why_not_there(Survey(studio), source.id, end("U1", "wall2"))
        self.assertEqual((found.broken, found.numbers), ("", (2,)))
        self.assertIsNotNone(found.proposal)
        self.assertEqual(len(found.proposal.cords), 1)  # type: ignore[union-attr]
