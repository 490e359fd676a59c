"""The same loop in every way of wiring: the same answers, from every verb, and after writing and reading."""

import tempfile
import unittest
from pathlib import Path

from bench.loop_houses import HOW, loop_house
from bench.verbs import json_of
from ennead.checks.all_checks import find_all
from ennead.files.studio_path import read_studio, write_studio
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.survey.survey import Survey
from tests.trials import few

#: What a rule about bays, levels or numbers may say of one way of wiring and not of another.
_BESIDE = {
    "loop_points_apart",
    "loop_comes_back_late",
    "loop_numbers_differ",
    "phantom_through_bay",
    "rate_by_hand",
    "mic_beside_line",
    "outputs_have_no_way_back",
    "row_convention",
    "cord_left_over",
    "routing_not_stored",
    "generator_not_followed",
    "loop_level_not_stated",
    "loop_not_measured",
    "export_in_real_time",
    "send_not_fixed",
}


class EveryWay(unittest.TestCase):
    def answers(self, seed, how, folder):
        studio = loop_house(seed, how)
        survey = Survey(studio)
        proposal = allocate(survey)
        after = take(survey, proposal).apply(studio)
        path = folder / "loop.json"
        write_studio(path, after)
        again = read_studio(path)
        self.assertEqual(again, after)
        self.assertFalse(allocate(Survey(again)).changes)
        now = Survey(again)
        (loop,) = now.destinations
        numbers = [p.number for end in loop.outputs for p in now.output_points if p.end == end]
        backs = [now.arrival(end).number for end in loop.returns]
        sheet = json_of("driver-map", path)
        named = {
            way: [row["number"] for row in sheet[way] if (row["track"] or "").startswith("Box 1")]
            for way in ("outputs", "inputs")
        }
        self.assertEqual((named["outputs"], named["inputs"]), (numbers, backs))
        lines = [r for r in json_of("lines", path, "--direction", "out")["runs"] if r["destination"] == "Box 1"]
        self.assertTrue(all(r["complete"] for r in lines), lines)
        self.assertEqual(
            [r["stops"][-1]["text"].rsplit(" ", 1)[-1].rstrip(")") for r in lines], [str(n) for n in backs]
        )
        self.assertEqual([f.rule for f in find_all(now) if f.rule not in _BESIDE], [])
        changed = proposal.moves, len(after.cables) - len(studio.cables)
        kinds = [again.units[u].name for u in loop.boxes]
        (wired,) = now.wired_loops
        return (
            kinds,
            [again.units[u].name for u in wired.boxes],
            len(wired.ways),
            len(loop.outputs),
            changed,
            [f.severity for f in find_all(now) if f.severity == "trouble"],
        )

    def test_a_loop_has_the_same_answers_however_it_is_wired(self):
        with tempfile.TemporaryDirectory() as held:
            for seed in range(few(7, 12)):
                found = {how: self.answers(seed, how, Path(held)) for how in HOW}
                for how in HOW[1:]:
                    with self.subTest(seed=seed, how=how):
                        self.assertEqual(found[how], found["direct"])
                self.assertEqual(found["direct"][4], (0, 0), "it stands, and no cable is run")
