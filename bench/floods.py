"""Random houses against a flood written apart: what every socket reaches, what drives what, which lines arrive; forwards and backwards."""

import contextlib
import json
import random
from collections.abc import Iterator

from bench.arrangements import arrangement
from bench.evenings import wired_evening, with_leads
from bench.flood import Contact, Flood
from bench.report import Report
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect, make_up
from ennead.edits.house import add_unit
from ennead.edits.scene_switches import set_apart
from ennead.edits.scenes import add_scene, lay_cord
from ennead.edits.session import add_source
from ennead.edits.sessions import copy_session
from ennead.edits.settings import set_mode
from ennead.files.interchange import to_json
from ennead.files.profiles import shelf, shelf_profile
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Computer, LineEnd, Plug, PortEnd, SourceEnd, Unit, Wire
from ennead.studio.ids import CableId, ComputerId, ProfileId, SourceId, UnitId
from ennead.studio.profile import Block, Choice, DriverMap, InnerPath, Mode, Port, Profile
from ennead.studio.record import replace
from ennead.studio.session import SourceFacts, Wish
from ennead.survey.survey import Survey
from ennead.survey.traces import trace
from ennead.survey.walk import is_record, reach


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
        studio,
        hosts=FrozenMap({ComputerId("H1"): Computer(ComputerId("H1"), "Computer", numbered)}),
        profiles=profiles,
        units=FrozenMap({u.id: u for u in units}),
        sources=FrozenMap({s.id: s for s in sources}),
        counters=FrozenMap({"U": 9, "S": 9, "F": 9, "C": 0, "N": 1}),
        sessions=studio.sessions.put(
            studio.session, replace(studio.current, wishes=tuple(Wish(s.id) for s in sources))
        ),
    )
    if dice.random() < 0.4:
        # Switches then belong to the second session, and some of them to its scene.
        studio = copy_session(studio, "Other")
        if dice.random() < 0.5:
            studio = add_scene(studio, "Apart")
            studio = set_apart(studio, dice.choice(units).id, True)
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
        except EnneadError:
            continue
        if dice.random() < 0.2:
            # As an old file may have it: one socket holds two plugs.
            key = CableId(f"C{studio.counters['C'] + 1}")
            twin = replace(next(reversed(studio.cables.values())), id=key)
            studio = replace(
                studio, cables=studio.cables.put(key, twin), counters=studio.counters.put("C", int(key[1:]))
            )
    return studio


#: What stands in real houses beside an interface: consoles with a bay built in, panels, splitters, multipins, insert jacks, converters.
_SHELF = (
    "console, eight channels, bay built in",
    "split console, sixteen channels with direct outs",
    "console, twenty-four channels with tape sends and returns",
    "microphone panel, twelve ways",
    "microphone splitter, eight ways",
    "stage box, eight ways to a multipin",
    "two-channel preamp with insert jacks",
    "monitor controller, three loudspeaker sets",
    "eight-channel line converter, two optical pairs",
    "summing mixer, sixteen to two",
    "mono compressor",
)


def shelf_house(seed: int) -> Studio:
    """Return boxes of the shelf, a bay with normals and cords, leads of several plugs and stereo lines, plugged at random wherever they fit."""
    dice = random.Random(seed)
    studio = add_unit(empty_studio(), dice.choice([p for p in shelf() if p.driver_maps]))
    for name in dice.sample(_SHELF, dice.randint(2, 4)):
        studio = add_unit(studio, shelf_profile(name))
    if dice.random() < 0.5:
        studio = add_bay(studio, "A", 12, mode=dice.choice(("", "half", "full", "parallel")))
    points = [PortEnd(u, key) for u, bay in studio.bays.items() for row in bay.rows for key in row if key]
    ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports] + points
    for n in range(1, 7):
        studio = add_source(studio, f"Line {n}", kind=dice.choice(("dynamic", "line")), channels=dice.choice((1, 2, 2)))
        for channel in (1, 2):
            with contextlib.suppress(EnneadError):
                studio = connect(studio, SourceEnd(SourceId(f"S{n}"), channel), dice.choice(ends))
    for _ in range(60):
        with contextlib.suppress(EnneadError):
            studio = connect(studio, *dice.sample(ends, 2))
    analogue = [e for e in ends if studio.is_point(e) or not studio.port(e).is_digital]
    for _ in range(12):
        plugs: list[Plug] = [*dice.sample(analogue, dice.choice((2, 3, 3, 4)))]
        if dice.random() < 0.3:
            plugs[0] = LineEnd(dice.choice(list(studio.sources)))
        lanes = [studio.port(p).channels if isinstance(p, PortEnd) else 2 for p in plugs]
        wires = [Wire(0, dice.randint(1, lanes[0]), n, dice.randint(1, lanes[n])) for n in range(1, len(plugs))]
        with contextlib.suppress(EnneadError):
            studio = make_up(studio, plugs, wires)
    if points:
        studio = add_scene(studio, "Tonight")
        for _ in range(dice.randint(0, 4)):
            with contextlib.suppress(EnneadError):
                studio = lay_cord(studio, dice.choice(points), dice.choice([None, *points]))
    return studio


def houses(seed: int) -> Studio:
    """Return a house of one of the five kinds by turns."""
    if seed % 5 == 0:
        return random_house(seed)
    if seed % 5 == 1:
        return arrangement(seed)
    return with_leads(wired_evening(seed), seed) if seed % 5 == 2 else shelf_house(seed)


def flood_of(studio: Studio) -> Flood:
    """Return the second reading of a studio."""
    return Flood(json.loads(to_json(studio)))


def differing(studio: Studio) -> Iterator[str]:
    """Yield where the program and the flood do not agree."""
    survey, flood = Survey(studio), flood_of(studio)
    ask = survey.passages.__getitem__
    lanes = [
        (u, p, n) for u, view in survey.views.items() for p, many in view.lanes.items() for n in range(1, many + 1)
    ]
    for here in lanes:
        side = survey.views[here[0]].sides[here[1]]
        # What is in an input by a cable is the cable's other end's to say.
        if side not in ("in", "both") or here[:2] not in flood.plugged or not flood.taking(here):
            mine = {c for c in reach(ask, here, is_record).lanes if flood.taking(c)}
            if mine != (theirs := {c for c in flood.reach(here) if flood.taking(c)}):
                yield f"from {here}: {sorted(mine ^ theirs)[:4]}"
    for contact, net in survey.nets.items():
        if (joined := flood.net(contact)) != frozenset(net.contacts):
            yield f"at {contact}: {sorted(joined ^ frozenset(net.contacts))[:4]}"
    recorded: dict[Contact, set[tuple[str, int]]] = {}
    heard: dict[Contact, set[tuple[str, int]]] = {}
    for line in [r for r in survey.signal_paths if r.of is not None and r.of.kind != "digital"]:
        key = line.source or "", line.channel
        start: Contact = (key[0], "", key[1])
        if start not in flood.copper:
            # An instrument that stands wired begins at its own output, unless a lead is made up for it.
            start = next(((e.unit, e.port, 1) for e in line.of.at[line.channel - 1 : line.channel]), start)  # type: ignore[union-attr]
        ends = {c for c in flood.reach(start) if c in flood.records}
        if line.complete != bool(ends):
            yield f"{line.signal}: it {'arrives' if ends else 'does not arrive'}"
        for contact in ends:
            recorded.setdefault(contact, set()).add(key)
        # Backwards: what an input hears is asked of every leg a line has.
        for leg in trace(survey, line).legs if line.into is not None else ():
            if leg.run.way.lands:
                unit, at = leg.run.way.lands
                heard.setdefault((unit, at.port, at.lane), set()).add(key)
    for contact in sorted({*recorded, *heard}):
        if heard.get(contact) != recorded.get(contact):
            yield f"{contact} hears {heard.get(contact)} and not {recorded.get(contact)}"


def run(report: Report, times: int) -> None:
    """Compare that many houses."""
    report.head(f"{times} random houses flooded a second time: what reaches what, what joins what, which lines arrive")
    wrong = 0
    for seed in range(times):
        for text in differing(houses(seed)):
            wrong += 1
            report.say(f"  house {seed}: {text}")
    report.figure("floods_wrong", wrong, f"{wrong} times it was read otherwise", 0)
