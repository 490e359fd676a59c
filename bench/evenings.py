"""Random evenings, allocated by the verb, taken whole, checked, and allocated again: whatever is then not as it should be."""

import random
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from bench.loop_houses import tried
from bench.report import Report
from bench.verbs import json_of
from ennead.edits.cables import connect, make_up
from ennead.edits.destinations import add_destination
from ennead.edits.house import add_unit, mark_fault
from ennead.edits.session import add_source, change_source, remove_source, set_rate
from ennead.edits.sessions import choose_session, copy_session, take_in_outputs
from ennead.edits.settings import set_phantom
from ennead.files.profiles import shelf_profile
from ennead.files.studio_path import read_studio, write_studio
from ennead.planning.routing.lead_offers import lead_offers
from ennead.rules.source_fits_port import why_unfit
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import LineEnd, PortEnd, SourceEnd, Wire
from ennead.studio.session import DESTINATION_KINDS
from ennead.survey.survey import Survey, survey_of

#: What a check says of 48 V.
_VOLTS: Final = frozenset(
    {"phantom_missing", "phantom_reaches_forbidden", "bank_wanted_both_ways", "unit_lacks_phantom"}
)
_BOXES: Final = (
    "eight-preamp interface, one optical pair",
    "two-preamp interface, optical in only",
    "eight-preamp optical expander",
)
_EXTRAS: Final = (
    "microphone panel, twelve ways",
    "active DI box",
    "microphone splitter, eight ways",
    "two-channel valve preamp",
    "mono compressor",
)
#: What may stand wired: in a loop, or as what sounds.
_WIRED: Final = ("mono compressor", "stereo bus compressor", "channel strip", "stereo synthesiser", "mono equaliser")
#: What leads of several plugs are made up from.
_MADE_UP: Final = (
    "two-channel preamp with insert jacks",
    "stage box, eight ways to a multipin",
    "stereo synthesiser",
    "mono compressor",
)


def evening(seed: int) -> Studio:
    """Return a random evening: boxes, wires of the house, and sources plugged anywhere a plug goes, some of them pinned."""
    dice = random.Random(seed)
    studio = empty_studio("Evening")
    for name in (*dice.choices(_BOXES, k=dice.randint(1, 2)), *dice.choices(_EXTRAS, k=dice.randint(0, 2))):
        studio = add_unit(studio, shelf_profile(name))
    ends = [PortEnd(u.id, p.key) for u in studio.units.values() for p in studio.profile_of(u.id).ports]
    for _ in range(dice.randint(0, 12)):
        studio = tried(studio, connect, dice.choice(ends), dice.choice(ends))
    for unit in studio.units.values():
        for bank in studio.profile_of(unit.id).banks:
            studio = set_phantom(studio, unit.id, bank.key, on=dice.random() < 0.5)
    ins = [e for e in ends if studio.port(e).direction == "in"]
    for number in range(dice.randint(2, 14)):
        studio = _with_source(studio, number, ins, dice)
    for _ in range(dice.choice((0, 0, 1, 2))):
        studio = mark_fault(studio, dice.choice(ins), "dead")
    for number in range(dice.choice((0, 0, 1, 3))):
        studio = add_destination(studio, f"Out {number}", dice.choice(DESTINATION_KINDS), channels=dice.choice((1, 2)))
    return set_rate(studio, dice.choice((48_000, 48_000, 96_000)))


def wired_evening(seed: int) -> Studio:
    """Return a random evening in a house with outboard in loops, an instrument that stands wired, and a second evening beside it."""
    dice, studio = random.Random(seed), evening(seed)
    for name in dice.sample(_WIRED, dice.randint(1, 3)):
        studio = add_unit(studio, shelf_profile(name))
        box = list(studio.units)[-1]
        points, inputs = list(Survey(studio).output_points), list(Survey(studio).input_points)
        dice.shuffle(points)
        dice.shuffle(inputs)
        ports = studio.profile_of(box).ports
        ins, outs = ([PortEnd(box, p.key) for p in ports if p.direction == way] for way in ("in", "out"))
        # Now and then a cable is missing, or runs somewhere else.
        for end, point in zip(ins, points, strict=False):
            studio = tried(studio, connect, point.end, end) if dice.random() < 0.9 else studio
        for end, into in zip(outs, inputs, strict=False):
            studio = tried(studio, connect, end, into.end) if dice.random() < 0.9 else studio
        if dice.random() < 0.7:
            studio = add_destination(studio, f"Loop {box}", "loop", channels=dice.choice((1, 2)))
        elif outs:
            studio = tried(studio, take_in_outputs, outs[: dice.choice((1, 2))])
    if dice.random() < 0.5:
        studio = copy_session(studio, "Second")
        for source in studio.current.sources[::3]:
            studio = remove_source(studio, source)
        studio = choose_session(studio, dice.choice(list(studio.sessions)))
    return studio


def _with_source(studio: Studio, number: int, ins: list[PortEnd], dice: random.Random) -> Studio:
    kind = dice.choice(("dynamic", "condenser", "condenser", "ribbon", "line", "instrument"))
    phantom = {"condenser": "needed", "ribbon": "forbidden"}.get(kind, dice.choice(("tolerated", "forbidden")))
    studio = add_source(studio, f"Source {number}", kind=kind, phantom=phantom, channels=dice.choice((1, 1, 1, 2)))
    source = list(studio.sources)[-1]
    if dice.random() < 0.7:
        for channel in range(1, studio.sources[source].channels + 1):
            studio = tried(studio, connect, SourceEnd(source, channel), dice.choice(ins))
    return change_source(
        studio, source, pinned=dice.random() < 0.15, priority=dice.choice(("", "", "must", "may wait"))
    )


def _volts(path: Path) -> dict[tuple[str, str], str]:
    """Return what is said of 48 V, by rule and subject."""
    found = json_of("check", path, status=None)["findings"]
    return {(f["rule"], f["subject"]): f["message"] for f in found if f["rule"] in _VOLTS}


def _causes(volts: dict[tuple[str, str], str]) -> dict[tuple[str, str], str]:
    """Return what is said of 48 V by what is wrong: a switch wanted both ways is one thing, whoever else wants it."""
    both = "bank_wanted_both_ways"
    return {(rule, text.split(" is ")[0] if rule == both else of): text for (rule, of), text in volts.items()}


def faults_of(studio: Studio, folder: Path) -> Iterator[str]:
    """Yield whatever is not as it should be, in words."""
    before, after = folder / "before.json", folder / "after.json"
    write_studio(before, studio)
    found = json_of("allocate", before, "--output", after)
    then, now = _volts(before), _volts(after)
    caused, known = _causes(now), _causes(then)
    yield from (f"caused: {caused[key]}" for key in caused.keys() - known.keys())
    left = {row["source"]: row["why"] for row in found["unplaced"] if "source" in row}
    taken = read_studio(after)
    yield from _not_where_it_stood(studio, taken)
    for source in taken.session_sources:
        plugged = any(
            isinstance(c.start, SourceEnd) and c.start.source == source.id and taken.is_active(c)
            for c in taken.cables.values()
        )
        about = [text for (_, subject), text in now.items() if subject == source.id]
        # What hangs on a lead made up for it stays there as if it were pinned.
        made_up = any(
            not c.is_plain and any(isinstance(p, LineEnd) and p.line == source.id for p in c.plugs)
            for c in taken.cables.values()
        )
        if source.name not in left and not source.pinned and not made_up:
            yield from (f"placed, and yet: {text}" for text in about)
        if source.name in left and plugged:
            if "stays plugged" not in left[source.name]:
                yield f"{source.name} is left out and plugged, and nobody says so"
            yield from (f"left out, and yet: {text}" for text in about if "needs" not in text)
    again = json_of("allocate", after)
    moved = [row for row in again["placed"] + again["destinations"] if row["moves"]]
    if again["moves"] or moved or again["switches"] or again["unplugged"]:
        yield f"again: {again['moves']} moved, {again['switches']}, {again['unplugged']}, {moved}"


def _not_where_it_stood(studio: Studio, taken: Studio) -> Iterator[str]:
    """Yield what was moved of that which stands: cables of the house, loops on them, and whatever other evenings have."""
    for key, cable in studio.cables.items():
        others = tuple(s for s in cable.sessions if s != studio.session)
        left = taken.cables.get(key)
        if (not cable.sessions or others or not cable.is_plain) and (
            left is None
            or (left.plugs, left.wires) != (cable.plugs, cable.wires)
            or not set(others) <= set(left.sessions)
        ):
            yield f"{key} is not where it stood"
    for there in survey_of(studio).destinations:
        if there.kind == "loop" and there.boxes and there.outputs and there.returns and not there.tap:
            now = survey_of(taken).placed(there.id)
            if (now.outputs, now.returns) != (there.outputs, there.returns):
                yield f"{there.name} stood wired and was moved"


def run(report: Report, times: int) -> None:
    """Try that many evenings."""
    report.head(f"{times} random evenings: allocated, taken whole, checked, allocated again")
    wrong = 0
    with TemporaryDirectory() as held:
        for seed in range(times):
            studio = (wired_evening if seed % 2 else evening)(seed)
            for text in faults_of(with_leads(studio, seed) if seed % 3 == 0 else studio, Path(held)):
                wrong += 1
                report.say(f"  evening {seed}: {text}")
    report.figure("evenings_wrong", wrong, f"{wrong} times something was wrong", 0)


def with_leads(studio: Studio, seed: int) -> Studio:
    """Return a studio with leads of several plugs made up in it: offered ones from free sockets, and sources split to two inputs."""
    dice = random.Random(seed)
    for name in dice.choices(_MADE_UP, k=2):
        studio = add_unit(studio, shelf_profile(name))
    for _ in range(12):
        ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
        offers = lead_offers(Survey(studio), dice.choice(ends))
        if offers:
            studio = dice.choice(offers).does.apply(studio)
    held = {c.start.source for c in studio.active_cables if isinstance(c.start, SourceEnd)}
    for source in [s for s in studio.session_sources if s.id not in held and s.channels == 1 and s.kind != "digital"][
        :2
    ]:
        free = [
            p.end for p in Survey(studio).input_points if not studio.plugged(p.end) and not why_unfit(source, p.port)
        ]
        if len(free) > 1:
            plugs = [LineEnd(source.id), *dice.sample(free, 2)]
            studio = make_up(studio, plugs, [Wire(0, 1, 1, 1), Wire(0, 1, 2, 1)])
    return studio
