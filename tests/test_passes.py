"""Print passes against brute force over every partition, a bound worked out apart, and studios worked out by hand."""

import random
import unittest
from itertools import pairwise
from pathlib import Path
from tempfile import TemporaryDirectory

from bench.verbs import json_of
from ennead.demo.skerry import skerry
from ennead.edits.print_jobs import add_job, change_job, move_job, remove_job, set_printed, set_printing
from ennead.edits.session import set_missing
from ennead.edits.sessions import choose_session, session_named
from ennead.files.studio_path import write_studio
from ennead.planning.passes.pass_bound import lower_bound_s
from ennead.planning.passes.pass_plan import first_fit, plan_passes
from ennead.planning.passes.pass_problem import Job, PassProblem
from ennead.planning.passes.print_plan import print_plan
from ennead.planning.passes.redials import dials_of
from ennead.reports.pass_rows import afterwards, clock_text, pass_rows, passes_said
from ennead.studio.errors import EnneadError
from ennead.studio.ids import JobId, RecallId, UnitId
from ennead.studio.print_job import waits_for
from ennead.survey.survey import Survey
from tests.builders import SCRATCH, plug, rig
from tests.trials import few


def jobs(seed, count, boxes, *, share=False, limited=True, songs=1):
    """Return a random problem: tracks with several jobs, a bus here and there."""
    dice, made, latest = random.Random(seed), [], {}
    for n in range(count):
        song, track = f"song {dice.randrange(songs)}", f"track {dice.randrange(max(2, count * 3 // 4))}"
        through = frozenset(f"box {b}" for b in dice.sample(range(boxes), dice.choice((1, 1, 2, 2, 3))))
        after = {latest[song, track]} if (song, track) in latest else set()
        if n and dice.random() < 0.1:
            after.add(f"J{dice.randrange(n)}")
        latest[song, track] = f"J{n}"
        channels = dice.choice((1, 2))
        made.append(
            Job(
                JobId(f"J{n}"),
                song,
                float(dice.randrange(30, 300)),
                through | {f"{song} {track}"},
                dice.choice((0.0, 0.0, 60.0, 120.0)) if share else 0.0,
                {"sends": channels} if limited else {},
                {b: dice.choice(("A", "B", "")) for b in through},
                through,
                frozenset(JobId(w) for w in after),
            )
        )
    return PassProblem(tuple(made), {"sends": 6} if limited else {}, 120.0, share)


def may_meet(problem, one, other):
    """Say by the words of the rule whether two jobs may stand in one pass."""
    if one.song != other.song or one.id in other.after or other.id in one.after:
        return False
    for thing in one.takes & other.takes:
        apart = one.from_s + one.length_s <= other.from_s or other.from_s + other.length_s <= one.from_s
        same = thing in one.dials and one.dials[thing] != "" and one.dials[thing] == other.dials.get(thing)
        if not (problem.share and apart and same and thing in one.boxes):
            return False
    return True


def is_plan(problem, groups):
    """Say whether groups of jobs, in some order, are passes: each possible, and nothing before what it waits for."""
    for group in groups:
        if any(not may_meet(problem, a, b) for n, a in enumerate(group) for b in group[:n]):
            return False
        times = sorted({j.from_s for j in group}) if problem.share else [None]
        for at in times:
            there = [j for j in group if at is None or j.from_s <= at < j.from_s + j.length_s]
            if problem.limits and sum(j.needs["sends"] for j in there) > problem.limits["sends"]:
                return False
    left, done, known = list(groups), set(), {j.id for j in problem.jobs}
    while left:
        ready = [g for g in left if all(j.after & known <= done for j in g)]
        if not ready:
            return False
        done |= {j.id for g in ready for j in g}
        left = [g for g in left if g not in ready]
    return True


def total(problem, groups):
    return sum(max(j.from_s + j.length_s for j in g) - min(j.from_s for j in g) + problem.setup_s for g in groups)


def partitions(rest):
    if not rest:
        yield []
        return
    for groups in partitions(rest[1:]):
        yield [[rest[0]], *groups]
        for n, group in enumerate(groups):
            yield [*groups[:n], [rest[0], *group], *groups[n + 1 :]]


class Planner(unittest.TestCase):
    def test_few_jobs_are_as_short_as_any_partition_and_said_to_be(self):
        for seed in range(few(60, 600)):
            count = random.Random(seed).randrange(1, few(7, 8))
            problem = jobs(seed, count, 4, share=seed % 3 == 0, limited=seed % 2 == 0, songs=1 + seed % 2)
            plan = plan_passes(problem)
            groups = [[problem.jobs[n] for n in one] for one in plan.passes]
            self.assertTrue(is_plan(problem, groups), seed)
            for n, (before, _) in enumerate(pairwise(plan.passes)):
                self.assertTrue(
                    all(problem.jobs[j].after.isdisjoint(i.id for g in groups[n + 1 :] for i in g) for j in before)
                )
            best = min(total(problem, g) for g in partitions(list(problem.jobs)) if is_plan(problem, g))
            self.assertAlmostEqual(plan.total_s, best, msg=str(seed))
            self.assertAlmostEqual(total(problem, groups), best)
            self.assertEqual((plan.proven, plan.bound_s), (True, plan.total_s))
            self.assertLessEqual(lower_bound_s(problem), best + 1e-9)

    def test_the_bound_is_that_of_the_busiest_thing(self):
        # Two on the compressor, two on the equaliser, one on both: by hand 300 + 200 + 100, and three times two minutes.
        rows = (("a", 300, "c"), ("b", 100, "c"), ("c", 250, "e"), ("d", 200, "ce"), ("e", 90, "e"))
        problem = PassProblem(
            tuple([Job(JobId(k), "", s, frozenset([*b, f"track {k}"])) for k, s, b in rows]), {}, 120.0
        )
        self.assertEqual(lower_bound_s(problem), 300 + 200 + 100 + 3 * 120.0)
        plan = plan_passes(problem)
        self.assertEqual((plan.total_s, plan.proven), (300 + 200 + 100 + 360.0, True))
        # Of three channels, jobs of two each go by one at a time, whatever their boxes.
        apart = tuple([Job(JobId(k), "", s, frozenset([k]), needs={"sends": 2}) for k, s, _ in rows])
        self.assertEqual(lower_bound_s(PassProblem(apart, {"sends": 3}, 0.0)), 300 + 250 + 200 + 100 + 90)

    def test_two_that_just_fit_share_a_pass(self):
        apart = [
            Job(JobId(k), "", s, frozenset([k]), needs={"sends": 2})
            for k, s in zip("abcde", (300, 250, 200, 100, 90), strict=True)
        ]
        four = PassProblem(tuple(apart), {"sends": 4}, 0.0)
        self.assertEqual((lower_bound_s(four), plan_passes(four).total_s), (300 + 200 + 90, 300 + 200 + 90))
        # One box, set the same, on two stretches that touch: one roll, with as many sends as either needs.
        box, stand, needs = frozenset(["box"]), {"box": "A"}, {"sends": 2}
        two = tuple([Job(JobId(f"{at}"), "", 60.0, box | {f"{at}"}, at, needs, stand, box) for at in (0.0, 60.0)])
        self.assertEqual(plan_passes(PassProblem(two, {"sends": 2}, 10.0, share=True)).total_s, 130.0)
        self.assertEqual(plan_passes(PassProblem(two, {"sends": 2}, 10.0)).total_s, 140.0)

    def test_many_jobs_are_never_longer_than_by_longest_job_and_a_claim_is_true(self):
        for seed in range(few(2, 20)):
            problem = jobs(seed, 40, 12, limited=False)
            plan = plan_passes(problem, longest_s=few(1.0, 5.0))
            order = sorted(range(40), key=lambda n: -problem.jobs[n].length_s)
            greedy = problem.total_s(first_fit(problem, order))
            self.assertLessEqual(plan.total_s, greedy)
            self.assertTrue(is_plan(problem, [[problem.jobs[n] for n in one] for one in plan.passes]))
            self.assertEqual(sorted(n for one in plan.passes for n in one), list(range(40)))
            self.assertEqual(plan.proven, plan.total_s <= lower_bound_s(problem) + 1e-6)
            self.assertLess(plan.total_s / plan.bound_s, few(1.12, 1.08), seed)
        stopped = plan_passes(problem, stopped=lambda: True)
        self.assertLessEqual(stopped.total_s, greedy)

    def test_passes_follow_each_other_so_that_little_is_dialled(self):
        cards = ("A", "B", "A", "B", "A")
        made = [Job(JobId(f"J{n}"), "", 60.0, frozenset(["c", f"t{n}"]), dials={"c": c}) for n, c in enumerate(cards)]
        plan = plan_passes(PassProblem(tuple(made), {}, 60.0))
        self.assertEqual((len(plan.passes), plan.dials), (5, 2))
        # Without a card a box is dialled for every job.
        self.assertEqual(
            dials_of(PassProblem((Job(JobId("J0"), "", 1.0, frozenset("c"), dials={"c": ""}),) * 2, {}, 0.0), [1, 2]),
            [{"c": ""}] * 2,
        )


class OfAStudio(unittest.TestCase):
    def setUp(self):
        studio = skerry(finished=True)
        self.studio = choose_session(studio, session_named(studio, "Mix of the drama"))
        self.unit = {u.name: u.id for u in self.studio.units.values()}

    def test_the_demo_s_song_is_planned_and_what_is_away_or_waits_is_said(self):
        found = print_plan(Survey(self.studio))
        rows = pass_rows(self.studio, found)
        tracks = [sorted(f"{j.track} {len(j.boxes)}" for j in row.jobs) for row in rows]
        self.assertEqual(
            sorted(n for row in tracks for n in row),
            sorted(f"{j.track} {len(j.boxes)}" for j in self.studio.prints.values()),
        )
        # The bus after its tracks; by hand: Capstan has 744, 248 and 747 s, and each pass three minutes before it.
        self.assertEqual(rows[-1].jobs[-1].track, "Drama bus")
        self.assertEqual(rows[0].starts_s, 180.0)
        self.assertEqual(found.plan.total_s, 614 + 744 + 747 + 3 * 180.0)
        # A track goes through its boxes in the order of the list.
        self.assertEqual(waits_for(self.studio.prints)["J6"], {"J5"})
        self.assertIn("no plan is shorter", passes_said(found))
        away = set_missing(self.studio, self.unit["Capstan"], missing=True)
        cannot = print_plan(Survey(away)).cannot
        self.assertEqual({self.studio.prints[k].track for k in cannot}, {"Narrator", "Choir", "Drama bus"})
        self.assertIn("away", cannot[JobId("J1")])

    def test_what_is_printed_is_planned_no_more_and_once_more_when_it_is_wanted(self):
        studio = self.studio
        for key in studio.prints:
            studio = set_printed(studio, key, "2026-09-03")
        self.assertEqual(passes_said(print_plan(Survey(studio))), "Nothing is left to print.")
        again = print_plan(Survey(set_printed(studio, JobId("J4"), "")))
        self.assertEqual([[again.jobs[n].track for n in one] for one in again.plan.passes], [["Choir"]])
        steps = afterwards(set_printed(studio, JobId("J4"), ""), studio.prints["J4"])
        self.assertEqual(len(steps), 5)
        self.assertIn("Capstan is free again.", steps)
        self.assertIn("faster than it plays", steps[-1])
        # While others still pass the box it is not free.
        self.assertNotIn("free again", " ".join(afterwards(self.studio, self.studio.prints["J4"])))

    def test_the_verb_gives_what_the_planner_found(self):
        path = Path(self.enterContext(TemporaryDirectory(dir=SCRATCH))) / "passes.json"
        write_studio(path, self.studio)
        said = json_of("passes", path)
        self.assertEqual(
            set(said) & {"passes", "total_s", "lower_bound_s", "proven"},
            {"passes", "total_s", "lower_bound_s", "proven"},
        )
        self.assertEqual((said["total_s"], said["proven"]), (print_plan(Survey(self.studio)).plan.total_s, True))
        self.assertEqual(
            {(j["track"], *j["boxes"]) for p in said["passes"] for j in p["jobs"]}
            - {("Narrator", "Tiller", "Capstan"), ("Foley", "Rudder")},
            {
                ("Wind and sea", "Tiller"),
                ("Choir", "Capstan"),
                ("Fiddle", "Rudder"),
                ("Fiddle", "Tiller"),
                ("Drama bus", "Capstan"),
            },
        )

    def test_free_sends_and_returns_bind_where_boxes_have_no_loop(self):
        # Four line outputs and four line inputs, and no box in a loop: two stereo pairs at a time.
        studio = rig(*["two-channel valve preamp"] * 5, "four-input interface, loopback before S/PDIF")
        for n, box in enumerate([u for u in studio.units if not studio.profile_of(u).driver_maps]):
            studio = add_job(studio, "", f"Track {n}", [box], 60.0, channels=2)
        found = print_plan(Survey(studio))
        self.assertEqual((sorted(map(len, found.plan.passes)), found.plan.total_s), ([1, 2, 2], 3 * 240.0))
        # One input is taken by a source: a pair at a time is left.
        taken = plug(studio, "Fiddle", "U6", "mic1", kind="line")
        self.assertEqual(len(print_plan(Survey(taken)).plan.passes), 5)
        wide = change_job(studio, JobId("J1"), channels=60)
        self.assertIn("it needs 60", print_plan(Survey(wide)).cannot["J1"])

    def test_edits_of_the_list_keep_it_possible(self):
        studio, capstan = self.studio, self.unit["Capstan"]
        for wrong in (
            lambda: add_job(studio, "", "", [capstan], 10.0),
            lambda: add_job(studio, "", "x", [], 10.0),
            lambda: add_job(studio, "", "x", [capstan, capstan], 10.0),
            lambda: add_job(studio, "", "x", [capstan], 0.0),
            lambda: add_job(studio, "", "x", [capstan], 14_400.1),
            lambda: add_job(studio, "", "x", [UnitId("U0")], 10.0),
            lambda: add_job(studio, "", "x", [capstan], 10.0, cards={capstan: RecallId("M99")}),
            lambda: add_job(studio, "", "x", [capstan], 10.0, after=(JobId("J99"),)),
            lambda: change_job(studio, JobId("J1"), after=(JobId("J7"),)),
            lambda: set_printed(studio, JobId("J1"), "yesterday"),
            lambda: set_printing(studio, setup_s=7_200.5),
            lambda: change_job(studio, JobId("J99"), song="x"),
        ):
            with self.assertRaises(EnneadError):
                wrong()
        self.assertEqual(set_printing(studio, setup_s=7_200.0).printing.setup_s, 7_200.0)
        # The bus moves before its tracks and still waits for them; what it waits for goes by their new places.
        moved = move_job(studio, JobId("J7"), -6)
        self.assertEqual(moved.prints["J1"].track, "Drama bus")
        self.assertEqual(
            [moved.prints[w].track for w in moved.prints["J1"].after], ["Narrator", "Foley", "Wind and sea"]
        )
        self.assertEqual(move_job(moved, JobId("J1"), 6), studio)
        gone = remove_job(studio, JobId("J1"))
        self.assertEqual(gone.prints["J7"].after, (JobId("J2"), JobId("J3")))
        self.assertEqual([clock_text(s) for s in (0.4, 65, 3_600)], ["0:00", "1:05", "1:00:00"])
