"""Nets and traces against brute force: contacts flooded as an electrician would, and every way walked one by one."""

import random
import unittest
from collections import Counter
from dataclasses import replace

from ennead.checks.all_checks import find_all
from ennead.edits.cables import make_up
from ennead.edits.settings import set_mode
from ennead.studio.document import Studio, empty_studio
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, Computer, LineEnd, Plug, PortEnd, Unit, Wire
from ennead.studio.ids import CableId, ComputerId, ProfileId, SourceId, UnitId
from ennead.studio.profile import Block, Choice, DriverMap, InnerPath, Mode, Port, Profile
from ennead.studio.session import SourceFacts, Wish
from ennead.survey.rings import rings
from ennead.survey.runs import Run
from ennead.survey.survey import Survey
from ennead.survey.traces import trace

Contact = tuple[str, str, int]


def random_box(dice: random.Random, key: int) -> Profile:
    """Return a box with sockets of every kind, copper and other ways inside, some of them on a switch."""
    ports = []
    for n in range(dice.randint(2, 5)):
        way = dice.choice(("in", "out", "in", "out", "both"))
        lanes = dice.choice((1, 1, 2, 3))
        both = tuple(dice.choice(("in", "out")) for _ in range(lanes)) if way == "both" else ()
        ports.append(Port(f"p{n}", f"P {n}", way, "trs", ("line",), channels=lanes, lane_directions=both))  # type: ignore[arg-type]
    ins, outs = ([p.key for p in ports if p.direction in (d, "both")] for d in ("in", "out"))
    paths = [
        InnerPath(
            (dice.choice(ins),),
            (dice.choice(outs),),
            kind=dice.choice(("", "joins", "passes")),
            when=dice.choice(({}, {"m": "a"}, {"m": "b"})),
        )
        for _ in range(dice.randint(0, 3))
        if ins and outs
    ]
    maps = (
        (DriverMap("d", "d", "collapsing", (Block("b", "In", tuple(ins[:1])),), ()),)
        if dice.random() < 0.4 and ins
        else ()
    )
    role = "interface" if maps else dice.choice(("panel", "bay", "processor", "console"))
    mode = Mode("m", "m", (Choice("a", "a"), Choice("b", "b")))
    return Profile(
        ProfileId(f"F{key}"), f"box {key}", role, "", tuple(ports), (mode,), driver_maps=maps, inner_paths=tuple(paths)
    )  # type: ignore[arg-type]


def random_house(seed: int) -> Studio:
    """Return a house of such boxes, switched at random, with leads of up to five plugs; a socket may hold two."""
    dice = random.Random(seed)
    profiles = FrozenMap({p.id: p for p in (random_box(dice, n) for n in range(1, dice.randint(3, 6)))})
    units = [Unit(UnitId(f"U{n}"), f"Unit {n}", dice.choice(list(profiles))) for n in range(1, dice.randint(3, 8))]
    units = [replace(u, settings=replace(u.settings, off=dice.random() < 0.2)) for u in units]
    sources = [SourceFacts(SourceId(f"S{n}"), f"Source {n}", channels=dice.choice((1, 2))) for n in range(1, 4)]
    studio = empty_studio()
    numbered = tuple(u.id for u in units if profiles[u.profile].driver_maps)
    studio = replace(
        studio, hosts=FrozenMap({ComputerId("H1"): Computer(ComputerId("H1"), "Computer", numbered)}), profiles=profiles, units=FrozenMap({u.id: u for u in units}), sources=FrozenMap({s.id: s for s in sources}),
        counters=FrozenMap({"U": 9, "S": 9, "F": 9, "C": 0, "N": 1}),
        sessions=studio.sessions.put(studio.session, replace(studio.current, wishes=tuple(Wish(s.id) for s in sources))),
    )  # fmt: skip
    for unit in units:
        if dice.random() < 0.5:
            studio = set_mode(studio, unit.id, "m", "b")
    plugs: list[Plug] = [PortEnd(u.id, p.key) for u in units for p in studio.profile_of(u.id).ports]
    plugs += [LineEnd(s.id) for s in sources]
    for _ in range(dice.randint(2, 9)):
        mine = dice.sample(plugs, min(dice.choice((2, 2, 3, 4, 5)), len(plugs)))
        lanes = [
            studio.port(p).channels if isinstance(p, PortEnd) else studio.source(SourceId(p.line)).channels
            for p in mine
        ]
        wires: list[Wire] = []
        for b in range(1, len(mine)) if len(mine) > 2 or dice.random() < 0.4 else ():
            for _ in range(dice.randint(1, 2)):
                a = dice.randrange(b)
                wires.append(Wire(a, dice.randint(1, lanes[a]), b, dice.randint(1, lanes[b])))
        try:
            studio = make_up(studio, mine, tuple(dict.fromkeys(wires)))
        except Exception:  # noqa: BLE001 - what the edit refuses is not in the house
            continue
        if dice.random() < 0.2:
            # As an old file may have it: one socket holds two plugs.
            key = CableId(f"C{studio.counters['C'] + 1}")
            twin = replace(next(reversed(studio.cables.values())), id=key)
            studio = replace(
                studio, cables=studio.cables.put(key, twin), counters=studio.counters.put("C", int(key[1:]))
            )
    return studio


def joints(studio: Studio) -> list[tuple[Contact, Contact]]:
    """Return every piece of copper, read off the document one by one."""
    found: list[tuple[Contact, Contact]] = []
    for unit in studio.units.values():
        profile = studio.profile_of(unit.id)
        for path in profile.inner_paths:
            on = all(unit.settings.modes.get(m, "a") == wanted for m, wanted in path.when.items())
            if on and (path.kind == "joins" or (not path.kind and profile.role in ("panel", "bay"))):
                a, b = profile.port_by_key[path.from_ports[0]], profile.port_by_key[path.to_ports[0]]
                ins = [
                    n
                    for n in range(1, a.channels + 1)
                    if a.direction == "in" or (a.direction == "both" and a.lane_directions[n - 1] == "in")
                ]
                outs = [
                    n
                    for n in range(1, b.channels + 1)
                    if b.direction == "out" or (b.direction == "both" and b.lane_directions[n - 1] == "out")
                ]
                found += [((unit.id, a.key, i), (unit.id, b.key, o)) for i, o in zip(ins, outs, strict=False)]
    for cable in studio.cables.values():
        ends = [(p.unit, p.port) if isinstance(p, PortEnd) else (p.line, p.side) for p in cable.plugs]
        if cable.wires:
            found += [((*ends[w.a], w.a_lane), (*ends[w.b], w.b_lane)) for w in cable.wires]
        else:
            lanes = min(studio.port(p).channels for p in cable.plugs if isinstance(p, PortEnd))
            found += [((*ends[0], n), (*ends[1], n)) for n in range(1, lanes + 1)]
    return found


def flooded(studio: Studio) -> dict[Contact, frozenset[Contact]]:
    """Return with which contacts each is joined: labels spread over the copper until nothing changes any more."""
    copper = joints(studio)
    label = {c: n for n, c in enumerate(dict.fromkeys(c for pair in copper for c in pair))}
    while True:
        wrong = [(a, b) for a, b in copper if label[a] != label[b]]
        if not wrong:
            break
        for a, b in wrong:
            label[a] = label[b] = min(label[a], label[b])
    return {c: frozenset(o for o in label if label[o] == label[c]) for c in label}


def every_way(studio: Studio, run: Run) -> Counter[Contact]:
    """Return at which driver inputs a signal arrives, and by how many ways, each walked by itself; no lane is entered twice on one."""
    survey = Survey(studio)
    over: dict[Contact, list[Contact]] = {}
    for cable in studio.cables.values():
        for start, end, crosses in _spans(studio, cable):
            for lane, into in crosses.items():
                over.setdefault((start.unit, start.port, lane), []).append((end.unit, end.port, into))
    arrives = {
        (u, c.port, c.lane)
        for u, view in survey.views.items()
        for c in view.inputs
        if c.live and u in survey.numbering.starts
    }
    found: Counter[Contact] = Counter()

    def walk(at: Contact, met: frozenset[Contact]) -> None:
        if at in arrives:
            found[at] += 1
            return
        unit = studio.units[UnitId(at[0])]
        for out, lane in survey.views[unit.id].inside.get((at[1], at[2]), ()):
            for there in over.get((unit.id, out, lane), ()):
                if there not in met:
                    walk(there, met | {there})

    for lead in (
        survey.leads[run.source or SourceId(""), run.channel],
        *survey.further_leads.get((run.source, run.channel), ()),
    ):
        start = (lead.end.unit, lead.end.port, lead.lane)
        walk(start, frozenset({start}))
    return found


def _spans(studio: Studio, cable: Cable) -> list[tuple[PortEnd, PortEnd, dict[int, int]]]:
    survey = Survey(studio)
    pieces = [s for s in survey.spans.values() if s.id == cable.id]
    return [
        (
            p.start,
            p.end,
            dict(
                p.crosses
                or {n: n for n in range(1, min(studio.port(p.start).channels, studio.port(p.end).channels) + 1)}
            ),
        )
        for p in pieces
    ]


class Nets(unittest.TestCase):
    def test_copper_is_flooded_as_by_hand(self) -> None:
        sizes: Counter[int] = Counter()
        # In 1484 a box joins two sockets that it drives as well, and nothing else of it is copper; in 1727 and 2865 a straight lead
        # brings the second channel of a line of which another lead has that channel, too.
        for seed in (*range(400), 1484, 1727, 2865):
            studio = random_house(seed)
            nets = Survey(studio).nets
            for contact, joined in flooded(studio).items():
                with self.subTest(seed=seed, contact=contact):
                    if contact in nets:
                        self.assertEqual(frozenset(nets[contact].contacts), joined)
                        self.assertEqual(set(nets[contact].drivers) & set(nets[contact].receivers), set())
                        sizes[min(len(joined), 5)] += 1
                    else:
                        cabled = [pair for pair in joints(studio) if set(pair) <= joined and pair[0][0] != pair[1][0]]
                        self.assertTrue(
                            len(joined) == 2 or not cabled, "two ends of one cable need no net written down"
                        )
        self.assertTrue(all(sizes[n] > 50 for n in (2, 3, 4, 5)), sizes)

    def test_who_drives_is_told_where_two_do(self) -> None:
        told = 0
        for seed in range(150):
            studio = random_house(seed)
            found = [f for f in find_all(Survey(studio)) if f.rule == "two_outputs_joined"]
            joined = flooded(studio)
            driving = set()
            for contact, others in joined.items():
                drives = [c for c in others if _drives(studio, c)]
                if len(drives) > 1:
                    driving.add(others)
                told += len(drives) > 1
                del contact
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
        for seed in range(800):
            studio = random_house(seed)
            survey = Survey(studio)
            for run in survey.runs:
                if run.into is None:
                    continue
                tree, ways = trace(survey, run), every_way(studio, run)
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
        self.assertGreater(min(split, twice), 20, (split, twice))
