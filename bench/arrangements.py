"""Random studios with loops over bays, cues, mirrored outputs and consoles: allocated, taken, written, read, checked, allocated again.

Of small ones the least that has to be left out is counted by trying every way of placing, from the sockets alone.
"""

import random
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Final

from bench.loop_houses import HOW, loop_house, tried
from bench.report import Report
from bench.verbs import json_of
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination, change_destination
from ennead.edits.house import add_unit
from ennead.edits.scenes import add_scene
from ennead.edits.session import add_source, set_loop_numbers, set_mains_silent
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf_profile
from ennead.files.studio_path import read_studio, write_studio
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.survey import Survey

_BESIDE: Final = (
    "console, twenty-four channels with tape sends and returns",
    "split console, sixteen channels with direct outs",
    "summing mixer, sixteen to two",
    "headphone amplifier, four outputs",
    "cue master, twelve channels",
    "monitor controller, three loudspeaker sets",
    "two-channel power amplifier",
    "active loudspeaker",
    "microphone panel, twelve ways",
)
_BOXES: Final = ("mono compressor", "stereo bus compressor", "channel strip", "mono equaliser")


def arrangement(seed: int) -> Studio:
    """Return a loop that stands, wired in any of the six ways, in a house with more: consoles, cues, a mirroring interface, loops to be placed."""
    dice = random.Random(seed)
    studio = loop_house(seed, dice.choice(HOW))
    if dice.random() < 0.5:
        # Its phones mirror two of its outputs.
        studio = add_unit(studio, shelf_profile("two-preamp interface, optical in only"), "Lantern")
    for name in dice.sample(_BESIDE, dice.randint(1, 3)):
        studio = add_unit(studio, shelf_profile(name))
        box = list(studio.units)[-1]
        ins = [PortEnd(box, p.key) for p in studio.profile_of(box).ports if p.direction == "in" and not p.is_digital]
        outs = [PortEnd(box, p.key) for p in studio.profile_of(box).ports if p.direction == "out" and not p.is_digital]
        survey = Survey(studio)
        free = [
            p.end for p in survey.output_points if not survey.cables_at(p.end) and not studio.port(p.end).is_digital
        ]
        back = [p.end for p in survey.input_points if not survey.cables_at(p.end) and not studio.port(p.end).is_digital]
        points = [PortEnd(u, key) for u, bay in studio.bays.items() for row in bay.rows for key in row if key]
        for _ in range(dice.randint(0, 5)):
            studio = tried(studio, connect, dice.choice([*free, *points[20:26]] or ins), dice.choice(ins or free))
            if outs and back and dice.random() < 0.4:
                studio = tried(studio, connect, dice.choice(outs), dice.choice([*back, *points[-5:]]))
    for n in range(dice.randint(0, 3)):
        studio = add_source(studio, f"Line {n}", kind=dice.choice(("line", "dynamic")), channels=dice.choice((1, 1, 2)))
    for n in range(dice.randint(1, 4)):
        kind = dice.choice(("cue", "cue", "mains", "send", "click", "loop"))
        channels = dice.choice((1, 2))
        name = f"Out {n}"
        if kind == "loop":
            studio = add_unit(studio, shelf_profile(_BOXES[channels - 1]), name)
        studio = add_destination(studio, name, kind, channels=channels)
        if dice.random() < 0.15:
            studio = change_destination(studio, list(studio.destinations)[-1], pinned=True)
    return set_loop_numbers(studio, dice.choice(("paired", "free")))


def small(seed: int) -> tuple[Studio, int]:
    """Return a studio of few free sockets that want too much, direct or all over a bay, and the most that can be placed of it."""
    dice = random.Random(seed)
    over_bay = dice.random() < 0.5
    studio = add_unit(empty_studio("Small"), shelf_profile("twelve-line interface"), "Pier")
    outs = [PortEnd(UnitId("U1"), f"line_out{n}") for n in range(1, 13)]
    ins = [PortEnd(UnitId("U1"), f"line{n}") for n in range(1, 13)]
    free_outs, free_ins = (set(dice.sample(range(1, 13), dice.randint(1, 6))) for _ in range(2))
    # What is not free runs to a console, or comes from it.
    studio = add_unit(studio, shelf_profile("split console, sixteen channels with direct outs"), "Desk")
    console = [p.key for p in studio.profile_of(UnitId("U2")).ports]
    for n in range(1, 13):
        if n not in free_outs:
            studio = connect(studio, outs[n - 1], PortEnd(UnitId("U2"), f"return{n}"))
        if n not in free_ins:
            studio = connect(studio, PortEnd(UnitId("U2"), f"direct_out{n}"), ins[n - 1])
    assert "return12" in console
    if over_bay:
        studio = add_scene(add_bay(studio, "A", 48, mode=""), "Tonight")
        bay = list(studio.units)[-1]
        for n in sorted(free_outs):
            studio = connect(studio, outs[n - 1], PortEnd(bay, f"a{n}"))
        for n in sorted(free_ins):
            studio = connect(studio, PortEnd(bay, f"b{n}"), ins[n - 1])
    wishes = []
    column = 12
    for n in range(dice.randint(2, 5)):
        channels, loop = dice.choice((1, 1, 2)), over_bay or dice.random() < 0.6
        wishes.append((channels, channels if loop else 0))
        if loop:
            studio = add_unit(studio, shelf_profile(_BOXES[channels - 1]), f"Out {n}")
            box = list(studio.units)[-1]
            for channel in range(1, channels + 1) if over_bay else ():
                column += 1
                studio = connect(studio, PortEnd(bay, f"b{column}"), PortEnd(box, f"line{channel}"))
                studio = connect(studio, PortEnd(box, f"line_out{channel}"), PortEnd(bay, f"a{column}"))
        studio = add_destination(studio, f"Out {n}", "loop" if loop else "send", channels=channels)
    if not over_bay:
        for n in range(dice.randint(0, 2)):
            channels = dice.choice((1, 1, 2))
            wishes.append((0, channels))
            studio = add_source(studio, f"Line {n}", kind="line", channels=channels)
    # No output is kept for monitors; a send may share what runs to a console.
    studio = set_mains_silent(
        set_loop_numbers(studio, numbers := dice.choice(("paired", "always", "free"))), silent=True
    )
    shared = frozenset(range(1, 13)) - free_outs
    return studio, most(wishes, frozenset(free_outs), frozenset(free_ins), shared, same=numbers == "always")


def most(
    wishes: list[tuple[int, int]], outs: frozenset[int], ins: frozenset[int], shared: frozenset[int], *, same: bool
) -> int:
    """Return how many wishes for so many outputs and inputs can be met at most; two of a kind sit side by side, the odd number first."""
    if not wishes:
        return 0
    (sends, returns), rest = wishes[0], wishes[1:]
    best = most(rest, outs, ins, shared, same=same)
    for used in _places(outs if returns else outs | shared, sends):
        for back in _places(ins, returns):
            if same and sends and returns and used != back:
                continue
            best = max(best, 1 + most(rest, outs - set(used), ins - set(back), shared - set(used), same=same))
            if best == len(wishes):
                return best
    return best


def _places(free: frozenset[int], channels: int) -> list[tuple[int, ...]]:
    if channels == 0:
        return [()]
    return [(n,) for n in free] if channels == 1 else [(n, n + 1) for n in free if n % 2 and n + 1 in free]


def faults_of(studio: Studio, folder: Path) -> Iterator[str]:
    """Yield whatever is not as it should be once it is allocated by the verb, read back, checked, and allocated again."""
    before, after, third = folder / "before.json", folder / "after.json", folder / "third.json"
    write_studio(before, studio)
    if read_studio(before) != studio:
        yield "it is read otherwise than it was written"
    json_of("allocate", before, "--output", after)
    text = after.read_bytes()
    if to_json(from_json(text)).encode() != text:
        yield "what allocate wrote is written otherwise once it was read"
    then, now = (_troubles(path) for path in (before, after))
    yield from (f"new trouble: {now[key]}" for key in now.keys() - then.keys())
    again = json_of("allocate", after, "--output", third)
    moved = [row for row in again["placed"] + again["destinations"] if row["moves"]]
    if again["moves"] or moved or again["switches"] or again["unplugged"] or third.read_bytes() != text:
        yield f"again: {again['moves']} moved, {again['switches']}, {again['unplugged']}, {moved}"
    stood, stands = Survey(studio), Survey(read_studio(after))
    for loop in stood.wired_loops:
        if loop not in stands.wired_loops:
            yield f"the loop through {', '.join(loop.boxes)} stands no more"


def _troubles(path: Path) -> dict[tuple[str, str], str]:
    found: list[dict[str, Any]] = json_of("check", path, status=None)["findings"]
    return {(f["rule"], f["subject"]): f["message"] for f in found if f["severity"] == "trouble"}


def left_out(studio: Studio, folder: Path) -> int:
    """Return how many wishes allocate leaves out."""
    path = folder / "small.json"
    write_studio(path, studio)
    return len(json_of("allocate", path)["unplaced"])


def run(report: Report, times: int) -> None:
    """Try that many studios, and as many small ones against every way of placing."""
    report.head(
        f"{times} random studios with loops over bays, cues, mirrored outputs, consoles: allocated, taken, read back, checked, again"
    )
    wrong = 0
    with TemporaryDirectory() as held:
        for seed in range(times):
            found = list(faults_of(arrangement(seed), Path(held)))
            studio, placed = small(seed)
            found += list(faults_of(studio, Path(held)))
            wishes = len(studio.destinations) + len(studio.sources)
            if (left := left_out(studio, Path(held))) != wishes - placed:
                found.append(f"{left} left out, where {wishes - placed} have to be")
            wrong += len(found)
            for text in found:
                report.say(f"  studio {seed}: {text}")
    report.figure("arrangements_wrong", wrong, f"{wrong} times something was wrong", 0)
