"""Nets and traces against brute force: contacts flooded as an electrician would, and every way walked one by one."""

import contextlib
import random
import unittest
from collections import Counter

from bench.flood import Contact
from bench.floods import differing, flood_of, houses, random_house
from ennead.checks.all_checks import find_all
from ennead.edits.cables import connect
from ennead.edits.house import add_unit
from ennead.edits.scenes import lay_cord
from ennead.edits.session import add_source
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import ProfileId, SourceId, UnitId
from ennead.studio.profile import Block, DriverMap, InnerPath, Port, Profile
from ennead.survey.paths_onward import straight_over, walked_in
from ennead.survey.paths_out import straight_out, walked_out
from ennead.survey.rings import rings
from ennead.survey.survey import Survey
from ennead.survey.traces import trace
from tests.trials import few


def mixers(seed: int) -> Studio:
    """Return boxes that send all that comes in to every output, cabled at random into each other and an interface."""
    dice = random.Random(seed)
    ports = tuple(Port(f"{way}{n}", f"{way} {n}", way, "trs", ("line",)) for way in ("in", "out") for n in (1, 2, 3))  # type: ignore[arg-type]
    ins, outs = ("in1", "in2", "in3"), ("out1", "out2", "out3")
    every = tuple(InnerPath((a,), (b,), kind="passes") for a in ins for b in outs)
    mixer = Profile(ProfileId("F1"), "mixer", "processor", "", ports, inner_paths=every)
    maps = (DriverMap("d", "d", "collapsing", (Block("b", "In", ins),), ()),)
    interface = Profile(ProfileId("F2"), "interface", "interface", "", ports, driver_maps=maps)
    studio = add_unit(empty_studio(), interface)
    for _ in range(dice.randint(2, 4)):
        studio = add_unit(studio, mixer)
    studio = add_source(studio, "Line", kind="line")
    ends = [PortEnd(u, p) for u in studio.units for p in ins]
    dice.shuffle(ends)
    starts = [PortEnd(u, p) for u in studio.units for p in outs if u != "U1"]
    studio = connect(studio, SourceEnd(SourceId("S1")), next(e for e in ends if e.unit != "U1"))
    for into in ends[: dice.randint(3, len(ends))]:
        with contextlib.suppress(EnneadError):
            studio = connect(studio, dice.choice(starts), into)
    return studio


class Nets(unittest.TestCase):
    def test_copper_is_flooded_as_by_hand(self) -> None:
        sizes: Counter[int] = Counter()
        # In 1484 a box joins two sockets that it drives as well, and nothing else of it is copper; in 1727 and 2865 a straight lead
        # brings the second channel of a line of which another lead has that channel, too.
        for seed in (*range(250), 1484, 1727, 2865):
            studio = random_house(seed)
            nets = Survey(studio).nets
            flood = flood_of(studio)
            for contact in flood.copper:
                joined = flood.net(contact)
                with self.subTest(seed=seed, contact=contact):
                    if contact in nets:
                        self.assertEqual(frozenset(nets[contact].contacts), joined)
                        self.assertEqual(set(nets[contact].drivers) & set(nets[contact].receivers), set())
                        sizes[min(len(joined), 5)] += 1
                    else:
                        cabled = any(a[0] != b[0] for a in joined for b in flood.copper[a])
                        self.assertTrue(
                            len(joined) == 2 or not cabled, "two ends of one cable need no net written down"
                        )
        self.assertTrue(all(sizes[n] > 30 for n in (2, 3, 4, 5)), sizes)

    def test_who_drives_is_told_where_two_do(self) -> None:
        told = 0
        for seed in range(150):
            studio = random_house(seed)
            found = [f for f in find_all(Survey(studio)) if f.rule == "two_outputs_joined"]
            flood = flood_of(studio)
            driving = set()
            for contact in flood.copper:
                others = flood.net(contact)
                drives = [c for c in others if _drives(studio, c)]
                if len(drives) > 1:
                    driving.add(others)
                told += len(drives) > 1
            with self.subTest(seed=seed):
                self.assertEqual(len(found), len(driving))
        self.assertGreater(told, 100)


def _drives(studio: Studio, contact: Contact) -> bool:
    key, port, lane = contact
    if key.startswith("S"):
        return True
    profile = studio.profile_of(UnitId(key))
    there = profile.port_by_key[port]
    joined = [p for p in profile.inner_paths if p.kind == "joins" or (not p.kind and profile.role in ("panel", "bay"))]
    only_joins = any(port in (*p.from_ports, *p.to_ports) for p in joined) and not any(
        port in p.to_ports for p in profile.inner_paths if p not in joined
    )
    gives = there.direction == "out" or (there.direction == "both" and there.lane_directions[lane - 1] == "out")
    return gives and not only_joins


class Traces(unittest.TestCase):
    def test_every_leaf_is_found_and_a_second_way_counted(self) -> None:
        split = twice = 0
        for seed in range(400):
            studio = random_house(seed) if seed % 2 else mixers(seed)
            survey, flood = Survey(studio), flood_of(studio)
            for run in survey.signal_paths:
                if run.into is None:
                    continue
                tree, ways = trace(survey, run), flood.ways((run.source or "", "", run.channel))
                with self.subTest(seed=seed, run=run.signal):
                    ends = {
                        (leg.run.way.lands[0], leg.run.way.lands[1].port, leg.run.way.lands[1].lane): leg.ways
                        for leg in tree.legs
                        if leg.run.way.lands
                    }
                    self.assertEqual(set(ends), set(ways))
                    self.assertEqual(run.complete, bool(ways))
                    if tree.legs:
                        self.assertEqual(tree.legs[0].run, run)
                        self.assertTrue(all(stray.gap is not None for stray in tree.strays))
                    # Where a signal runs in a ring, ways that touch it may be counted once less.
                    if not survey.once(rings):
                        self.assertEqual({e: n > 1 for e, n in ends.items()}, {e: n > 1 for e, n in ways.items()})
                split += len(ways) > 1
                twice += any(n > 1 for n in ways.values())
        self.assertGreater(min(split, twice), 10, (split, twice))


class Rings(unittest.TestCase):
    def test_what_feeds_itself_is_what_some_way_brings_back(self) -> None:
        some = none = 0
        # In 2020 a socket feeds its other contact; in 2755 an output is joined inside to the socket that holds the lead.
        for seed in (*range(few(120, 3_000)), 2020, 2755):
            studio = (mixers, random_house, houses)[seed % 3](seed)
            survey, flood = Survey(studio), flood_of(studio)
            inputs = {c for c in (*flood.copper, *flood.ahead) if flood.taking(c) and flood.ahead.get(c)}
            with self.subTest(seed=seed):
                # An insert jack in which nothing is plugged is passed inside, and no input that feeds itself.
                inputs = {
                    c for c in inputs if (c[0], c[1]) in flood.plugged or flood.port(c[0], c[1])["wiring"] != "insert"
                }
                told = {lane for ring in survey.once(rings) for lane in ring}
                self.assertEqual({c for c in inputs if flood.comes_back(c)}, told)
            some, none = some + bool(told), none + (not told)
        self.assertGreater(min(some, none), few(24, 400), (some, none))


class Reached(unittest.TestCase):
    def test_houses_of_every_kind_are_read_as_a_flood_reads_them(self) -> None:
        complete = 0
        # In 253 a lead is in one contact of an insert jack; in 594 and 1805 a line has a channel twice, or meets an output; in 940 two lines
        # are joined by two leads.
        for seed in (*range(few(55, 250)), 253, 594, 940, 1805):
            studio = houses(seed)
            with self.subTest(seed=seed):
                self.assertEqual(list(differing(studio)), [])
            complete += sum(run.complete for run in Survey(studio).signal_paths)
        self.assertGreater(complete, few(36, 180))

    def test_a_way_without_branches_is_the_one_that_the_walk_finds(self) -> None:
        seen: Counter[int | str] = Counter()
        for seed in range(few(40, 400)):
            studio = houses(seed)
            dice = random.Random(seed)
            points = [PortEnd(u, key) for u, bay in studio.bays.items() for key in sorted(bay.points)]
            for _ in range(8 if points and studio.scenes else 0):
                with contextlib.suppress(EnneadError):
                    studio = lay_cord(studio, *dice.sample(points, 2))
            passages = Survey(studio).passages
            ask = passages.__getitem__
            for unit, here in passages.items():
                for at in [(port, lane) for port, most in here.view.lanes.items() for lane in range(1, most + 1)]:
                    straight = straight_out(ask, (unit, *at))
                    if straight is not None:
                        self.assertEqual(straight, walked_out(ask, (unit, *at)), (seed, unit, at))
                        seen[len(straight.stops)] += 1
                    over = straight_over(ask, (unit, *at))
                    if over is not None:
                        self.assertEqual(over, walked_in(ask, (unit, *at)), (seed, unit, at))
                        seen["over, " + (over.gap.cause if over.gap else "arrives")] += 1
        self.assertGreater(min(seen[n] for n in range(4)), 10, seen)
        self.assertGreater(min(seen[n] for n in ("over, arrives", "over, no-cable")), few(0, 10), seen)
