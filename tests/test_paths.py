"""What is proven to be in a path: take any other box away and the line still arrives, take one of these away and it does not."""

import unittest

from ennead.demo.skerry import skerry
from ennead.edits.bays import set_normals
from ennead.edits.house import remove_unit
from ennead.edits.scenes import choose_scene
from ennead.reports.path_proof import path_proof
from ennead.studio.document import Studio
from ennead.studio.ids import SceneId, UnitId
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey


def named(studio: Studio, name: str) -> UnitId:
    return next(u.id for u in studio.units.values() if u.name == name)


def line(survey: Survey, signal: str) -> SignalPath:
    return next(run for run in survey.signal_paths if run.signal == signal)


class Paths(unittest.TestCase):
    def setUp(self) -> None:
        self.studio = choose_scene(skerry(finished=True), SceneId("K2"))

    def test_no_other_box_is_needed_and_each_of_these_is(self) -> None:
        survey = Survey(self.studio)
        for signal in ("Fiddle", "Whistle"):
            run = line(survey, signal)
            proof = path_proof(survey, run)
            self.assertTrue(proof.holds)
            within = set(proof.works) | set(proof.joins)
            for unit in self.studio.units.values():
                after = line(Survey(remove_unit(self.studio, unit.id)), signal)
                arrives = after.gap is None and after.stops == run.stops
                self.assertEqual(arrives, unit.name not in within, f"{signal} without {unit.name}")
        fiddle = path_proof(survey, line(survey, "Fiddle"))
        self.assertEqual((fiddle.works, fiddle.joins), (("Winch", "Buoy", "Groyne", "Mole"), ("Quay", "A", "B")))
        self.assertEqual(fiddle.parted, ("cord W3 breaks the normal A · 5 above → A · 5 below",))
        self.assertEqual(
            [row.by for row in fiddle.rows],
            [
                "",
                "cable C61",
                "cable C22",
                "cord W3",
                "cable C52",
                "cable C51",
                "cord W4",
                "cable C40",
                "within it",
                "cable C15",
                "within it",
                "cable C13",
            ],
        )
        whistle = path_proof(survey, line(survey, "Whistle"))
        self.assertIn("only joins, goes on by its normal to A · 6 below", [row.does for row in whistle.rows])

    def test_what_hangs_on_it_besides_and_what_does_not_arrive_are_said(self) -> None:
        tapped = Survey(set_normals(self.studio, named(self.studio, "A"), ["a5"], "half"))
        proof = path_proof(tapped, line(tapped, "Fiddle"))
        hangs = ("Winch · Mic is fed by the same copper", "Mole · MADI A in lane 3 is sent the same signal")
        self.assertEqual((proof.holds, proof.beside, proof.works), (False, hangs, ("Pier",)))
        self.assertEqual(proof.sentence, f"More than the path hangs on it: {'; '.join(hangs)}.")
        ended = Survey(remove_unit(self.studio, named(self.studio, "Winch")))
        proof = path_proof(ended, line(ended, "Fiddle"))
        self.assertFalse(proof.holds)
        self.assertIn("Fiddle does not arrive: ", proof.sentence)
