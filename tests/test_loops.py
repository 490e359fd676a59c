"""Loops that stand wired in the house: found, left alone, and told of where plan and cables differ."""

import unittest

from ennead.checks.all_checks import find_all
from ennead.edits.cables import connect, disconnect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.session import add_source
from ennead.planning.routing.placing_out import place_out_at_number
from ennead.planning.routing.why import why_here
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.driver_sheet import driver_rows
from ennead.reports.line_rows import line_row
from ennead.survey.output_points import output_point_at
from ennead.survey.survey import Survey, survey_of
from tests.builders import INTERFACE, end, findings, rig

COMPRESSOR, SPEAKER, STRIP = "stereo bus compressor", "active loudspeaker", "channel strip"


def wired(*more):
    """Return loudspeakers on outputs 1–2, and a compressor out of 3–4 and back into inputs 3–4."""
    studio = rig(INTERFACE, SPEAKER, SPEAKER, COMPRESSOR, *more)
    for n, unit in ((1, "U2"), (2, "U3")):
        studio = connect(studio, end("U1", f"line_out{n}"), end(unit, "line_in"))
    for n in (1, 2):
        studio = connect(studio, end("U1", f"line_out{n + 2}"), end("U4", f"line{n}"))
        studio = connect(studio, end("U4", f"line_out{n}"), end("U1", f"mic{n + 2}"))
    return studio


def ends(studio, key):
    there = survey_of(studio).placed(key)
    return [e.port for e in there.outputs], [e.port for e in there.returns]


class StandingLoops(unittest.TestCase):
    def evening(self):
        studio = add_destination(add_destination(wired(), "Mains", "mains"), "Squash", "loop")
        studio = add_destination(studio, "Click", "click", channels=1)
        for n in range(4):
            studio = add_source(studio, f"Mic {n}", kind="condenser", phantom="needed")
        return studio

    def test_it_is_found_taken_in_and_left_where_it_stands(self):
        studio = self.evening()
        self.assertEqual(
            {p.port.key: p.feeds for p in Survey(studio).output_points if p.feeds},
            {
                "line_out1": "loudspeakers",
                "line_out2": "loudspeakers",
                "line_out3": "outboard",
                "line_out4": "outboard",
            },
        )
        proposal = allocate(Survey(studio))
        after = take(Survey(studio), proposal).apply(studio)
        self.assertEqual(ends(after, "D2"), (["line_out3", "line_out4"], ["mic3", "mic4"]))
        self.assertEqual((after.destinations["D2"].boxes, ends(after, "D1")[0]), (("U4",), ["line_out1", "line_out2"]))
        # No second plug in any socket: the loop and the loudspeakers hang on the cables that stand.
        new = [after.ends_text(c) for key, c in after.cables.items() if key not in studio.cables]
        self.assertEqual(sorted(there for _, there in new if "·" not in there), ["Click"])
        self.assertTrue({"mic3", "mic4"}.isdisjoint(c.end.port for c in Survey(after).leads.values()))
        again = allocate(Survey(after))
        self.assertEqual((again.outs, take(Survey(after), again).steps), ((), ()))
        self.assertEqual([f.message for f in find_all(Survey(after)) if f.severity == "trouble"], [])
        self.assertIn("stands wired", " ".join(why_here(Survey(after), "D2").here))
        # The loop's numbers are known although a cable is in its return.
        self.assertEqual(findings(after, "loop_numbers_differ"), [])
        self.assertEqual(len(findings(after, "loop_comes_back_late")), 1)
        heard = {r["number"]: r["track"] for r in driver_rows(Survey(after))["outputs"] if r["track"]}
        self.assertEqual({n: heard[n] for n in (1, 2, 3, 4)}, {1: "Mains", 2: "Mains", 3: "Squash", 4: "Squash"})

    def test_plan_and_cables_that_differ_are_told(self):
        studio = send_out(self.evening(), "D2", [end("U1", "line_out3"), end("U1", "line_out4")])
        self.assertEqual(ends(studio, "D2")[1], ["mic3", "mic4"])
        silent = disconnect(disconnect(studio, "C4"), "C6")
        (found,) = findings(silent, "loop_wired_otherwise")
        self.assertIn("nothing brings it back", found.message)
        crossed = disconnect(disconnect(studio, "C4"), "C6")
        crossed = send_out(
            crossed, "D2", [end("U1", "line_out3"), end("U1", "line_out4")], [end("U1", "mic5"), end("U1", "mic6")]
        )
        for n in (1, 2):
            crossed = connect(crossed, end("U4", f"line_out{n}"), end("U1", f"mic{n + 2}"))
        (found,) = findings(crossed, "loop_wired_otherwise")
        self.assertIn("Mic 5", found.message)
        self.assertIn("wired to", found.message)
        mended = found.fixes[0].does.apply(crossed)
        self.assertEqual((findings(mended, "loop_wired_otherwise"), ends(mended, "D2")[1]), ([], ["mic3", "mic4"]))

    def test_crosswise_numbers_a_strip_and_a_number_typed(self):
        studio = connect(rig(INTERFACE, STRIP), end("U1", "line_out3"), end("U2", "mic1"))
        self.assertEqual(output_point_at(Survey(studio).output_points)[end("U1", "line_out3")][0].feeds, "other")
        studio = connect(studio, end("U2", "line_out1"), end("U1", "mic2"))
        self.assertEqual(output_point_at(Survey(studio).output_points)[end("U1", "line_out3")][0].feeds, "outboard")
        studio = add_destination(studio, "Strip", "loop", channels=1)
        typed = place_out_at_number(Survey(studio), "D1", 3).apply(studio)
        self.assertEqual(ends(typed, "D1"), (["line_out3"], ["mic2"]))
        (found,) = findings(typed, "loop_numbers_differ")
        self.assertIn("out by 3 and comes back by 2", found.message)

    def test_outputs_name_who_hears_and_spare_lanes_are_no_fault(self):
        studio = add_destination(rig(INTERFACE, "eight-preamp optical expander"), "Cue", "cue", channels=1)
        studio = connect(studio, end("U1", "optical_out"), end("U2", "optical_in"))
        studio = send_out(studio, "D1", [end("U2", "line_out3")])
        survey = Survey(studio)
        rows = {r.driver.number: line_row(survey, r) for r in survey.output_paths}
        self.assertEqual((rows[15]["destination"], rows[15]["complete"], rows[15]["problem"]), ("Cue", True, None))
        self.assertEqual(
            {(r["destination"], r["complete"], r["problem"]) for n, r in rows.items() if n in range(16, 21)},
            {(None, False, None)},
        )

    def test_phones_that_share_numbers_with_line_outputs_are_no_fault(self):
        studio = rig("two-preamp interface, optical in only")
        self.assertEqual(
            [(p.number, p.port.key, p.lane) for p in Survey(studio).output_points if p.number in (3, 4)],
            [(3, "line_out3", 1), (3, "phones", 1), (4, "line_out4", 1), (4, "phones", 2)],
        )
        studio = add_destination(studio, "Singer", "cue")
        studio = take(Survey(studio), allocate(Survey(studio))).apply(studio)
        self.assertEqual(ends(studio, "D1")[0], ["phones", "phones"])
        rows = {r["number"]: r["track"] for r in driver_rows(Survey(studio))["outputs"]}
        self.assertEqual(rows, {1: None, 2: None, 3: "Singer", 4: "Singer"})
        self.assertEqual([f.message for f in find_all(Survey(studio))], [])


if __name__ == "__main__":
    unittest.main()
