"""Random loops of any width, each hop wired in a way of its own, with what they come to by a model written apart.

The model knows what was plugged where, because it plugged it; it asks no part of the program that walks cables, counts numbers,
adds delays or levels.
"""

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Final, NamedTuple

from ennead.edits.bays import add_bay, set_normals
from ennead.edits.cables import connect, make_up
from ennead.edits.computer import set_times
from ennead.edits.delays import set_stop_delay
from ennead.edits.destinations import add_destination
from ennead.edits.house import add_unit
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.edits.scenes import add_scene, lay_cord
from ennead.edits.settings import set_clock_source
from ennead.files.profiles import shelf_profile
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd, Wire
from ennead.studio.ids import DestinationId, UnitId

LOOP: Final = DestinationId("D1")
#: A numbered socket of a converter: the number, the socket, the sockets of digital links between it and the computer.
_At = tuple[int, PortEnd, tuple[PortEnd, ...]]
_Links = Callable[[int], tuple[PortEnd, ...]]


def _end(unit: int, port: str) -> PortEnd:
    return PortEnd(UnitId(f"U{unit}"), port)


class Box(NamedTuple):
    """A type of box: its profile, inputs and outputs, and how many of each a loop may use."""

    profile: str
    ins: tuple[str, ...]
    outs: tuple[str, ...]
    widths: tuple[tuple[int, int], ...]


BOXES: Final = (
    Box("mono compressor", ("line1",), ("line_out1",), ((1, 1),)),
    Box("mono equaliser", ("line1",), ("line_out1",), ((1, 1),)),
    Box("channel strip", ("mic1",), ("line_out1",), ((1, 1),)),
    Box("stereo bus compressor", ("line1", "line2"), ("line_out1", "line_out2"), ((2, 2), (1, 1))),
    Box(
        "tape echo, two inputs mixed", ("line1", "line2"), ("line_out1", "line_out2"), ((1, 2), (2, 1), (2, 2), (1, 1))
    ),
    Box("summing mixer, sixteen to two", ("lines1",) * 8, ("mix_out1", "mix_out2"), ((4, 2), (8, 2), (3, 2), (6, 2))),
)


@dataclass
class Expected:
    """What a loop comes to.

    Parameters
    ----------
    delay : float, samples
        The round trip.
    headrooms : list of list of float, dB
        By path, at each stop whose level is stated.
    """

    sends: list[int] = field(default_factory=list)
    returns: list[int] = field(default_factory=list)
    boxes: list[UnitId] = field(default_factory=list)
    delay: float = 0.0
    headrooms: list[list[float]] = field(default_factory=list)


class Wirer:
    """A studio that is being wired."""

    def __init__(self, dice: random.Random) -> None:
        self.dice, self.hops, self.late = dice, 0, dict[PortEnd, float]()
        self.panel: UnitId | None = None
        self.bays: dict[str, UnitId] = {}
        self.studio = empty_studio("Loop")
        self.outs: list[_At] = []
        self.ins: list[_At] = []
        kind = dice.choice(("own sockets", "optical", "MADI"))
        if kind == "own sockets":
            self._add("twelve-line interface")
            self._number(1, 12, 0, lambda _: (), lambda _: ())
        elif kind == "optical":
            self._add("optical interface, four pairs, no analogue sockets")
            self._add("sixteen-channel line converter, four optical pairs")
            for a in "ab":
                self._join(1, f"optical_{a}_out", 2, f"optical_{a}_in")
                self._join(2, f"optical_{a}_out", 1, f"optical_{a}_in")
            self._follow(2, 1)
            self._number(
                2,
                16,
                0,
                lambda n: (_end(1, f"optical_{'ab'[n > 8]}_out"), _end(2, f"optical_{'ab'[n > 8]}_in")),
                lambda n: (_end(2, f"optical_{'ab'[n > 8]}_out"), _end(1, f"optical_{'ab'[n > 8]}_in")),
            )
        else:
            self._over_madi(dice.choice((0, 2, 5)))

    def _over_madi(self, shift: int) -> None:
        """Wire a converter behind a bridge, its first eight channels on a later optical pair of it."""
        for name in (
            "MADI interface, one optical and one coaxial pair",
            "MADI bridge, eight optical pairs",
            "sixteen-channel line converter, four optical pairs",
        ):
            self._add(name)
        self._join(1, "madi_a_out", 2, "madi_in")
        self._join(2, "madi_out", 1, "madi_a_in")
        for k, a in enumerate("ab", start=1 + shift):
            self._join(2, f"optical_out{k}", 3, f"optical_{a}_in")
            self._join(3, f"optical_{a}_out", 2, f"optical_in{k}")
        self._follow(2, 1)
        self._follow(3, 1)
        out, back = (_end(1, "madi_a_out"), _end(2, "madi_in")), (_end(2, "madi_out"), _end(1, "madi_a_in"))
        self._number(
            3,
            16,
            8 * shift,
            lambda n: (*out, _end(2, f"optical_out{1 + shift + (n > 8)}"), _end(3, f"optical_{'ab'[n > 8]}_in")),
            lambda n: (_end(3, f"optical_{'ab'[n > 8]}_out"), _end(2, f"optical_in{1 + shift + (n > 8)}"), *back),
        )

    def _add(self, profile: str) -> None:
        self.studio = add_unit(self.studio, shelf_profile(profile))

    def _join(self, a: int, out: str, b: int, into: str) -> None:
        self.studio = connect(self.studio, _end(a, out), _end(b, into))

    def _follow(self, unit: int, source: int) -> None:
        key = UnitId(f"U{unit}")
        self.studio = set_clock_source(self.studio, key, self.studio.profile_of(key).clock_sources[source].key)

    def _number(self, unit: int, many: int, before: int, out: _Links, back: _Links) -> None:
        """Note the number of each line socket of a unit, and the sockets of links that lie before it."""
        self.outs = [(before + n, _end(unit, f"line_out{n}"), out(n)) for n in range(1, many + 1)]
        self.ins = [(before + n, _end(unit, f"line{n}"), back(n)) for n in range(1, many + 1)]

    def lateness(self, end: PortEnd) -> float:
        """Return what passing a socket adds, stated the first time it is asked for; a whole unit's ports alike are not needed."""
        if end not in self.late:
            samples = float(self.dice.randint(0, 40))
            self.studio = set_stop_delay(self.studio, end, samples)
            self.late[end] = samples
        return self.late[end]

    def bay(self, kind: str) -> UnitId:
        """Return a bay of a kind, made when it is first asked for."""
        if kind not in self.bays:
            self.studio = add_bay(self.studio, f"Bay {len(self.bays)}", 48)
            unit = list(self.studio.units)[-1]
            if kind in ("half", "full"):
                self.studio = set_normals(self.studio, unit, [f"a{n}" for n in range(1, 49)], kind)
            if not self.studio.scenes:
                self.studio = add_scene(self.studio, "Tonight")
            self.bays[kind] = unit
        return self.bays[kind]

    def run(self, start: PortEnd, end: PortEnd) -> None:
        """Bring a signal from one socket to another, somehow."""
        self.hops += 1
        n, how = self.hops, self.dice.choice(("direct", "panel", "half", "full", "cord", "cord over half", "two bays"))
        if how == "panel" and n <= 12:
            if self.panel is None:
                self.studio = add_unit(self.studio, shelf_profile("microphone panel, twelve ways"), "Quay")
                self.panel = list(self.studio.units)[-1]
            self.studio = connect(self.studio, start, PortEnd(self.panel, f"wall{n}"))
            self.studio = connect(self.studio, PortEnd(self.panel, f"tail{n}"), end)
        elif how in ("half", "full"):
            bay = self.bay(how)
            self.studio = connect(self.studio, start, PortEnd(bay, f"a{n}"))
            self.studio = connect(self.studio, PortEnd(bay, f"b{n}"), end)
        elif how in ("cord", "cord over half"):
            bay = self.bay("none" if how == "cord" else "half")
            far = 48 - n
            self.studio = connect(self.studio, start, PortEnd(bay, f"a{n}"))
            self.studio = connect(self.studio, PortEnd(bay, f"b{far}"), end)
            self.studio = lay_cord(self.studio, PortEnd(bay, f"a{n}"), PortEnd(bay, f"b{far}"))
        elif how == "two bays":
            one, other = self.bay("half"), self.bay("none")
            self.studio = connect(self.studio, start, PortEnd(one, f"a{n}"))
            self.studio = connect(self.studio, PortEnd(one, f"b{n}"), PortEnd(other, f"a{n}"))
            self.studio = connect(self.studio, PortEnd(other, f"b{n}"), end)
            self.studio = lay_cord(self.studio, PortEnd(other, f"a{n}"), PortEnd(other, f"b{n}"))
        else:
            self.studio = connect(self.studio, start, end)

    def level(self, end: PortEnd) -> tuple[float, float]:
        """Return the strongest level and the impedance of a socket, as its profile states them."""
        levels = self.studio.profile_of(end.unit).port_by_key[end.port].levels
        level = levels.get("line") or next(iter(levels.values()))
        return level.max_dbu, level.impedance_ohm or math.nan


def chain(dice: random.Random) -> list[tuple[Box, int, int]]:
    """Return one to four types of boxes in series, each with the channels it takes and gives."""
    found: list[tuple[Box, int, int]] = []
    width = 0
    for _ in range(dice.randint(1, 4)):
        fitting = [(box, *w) for box in BOXES for w in box.widths if w[0] == width or not width]
        if not found and dice.random() < 0.7:
            fitting = [f for f in fitting if f[1] <= 2]
        box, into, out = dice.choice(fitting)
        found.append((box, into, out))
        width = out
    return found


def random_loop(seed: int) -> tuple[Studio, Expected]:
    """Return a studio with one wired loop that is on the list and not yet placed, and what it comes to."""
    dice = random.Random(seed)
    w, boxes = Wirer(dice), chain(dice)
    found = Expected()
    out_wide, back_wide = boxes[0][1], boxes[-1][2]
    first_out = dice.randrange(0, len(w.outs) - out_wide + 1)
    first_back = dice.randrange(0, len(w.ins) - back_wide + 1)
    outs, ins = w.outs[first_out : first_out + out_wide], w.ins[first_back : first_back + back_wide]
    found.sends, found.returns = [n for n, _, _ in outs], [n for n, _, _ in ins]
    units = []
    for box, _, _ in boxes:
        w.studio = add_unit(w.studio, shelf_profile(box.profile), f"Box {len(units) + 1}")
        units.append(list(w.studio.units)[-1])
    found.boxes = units
    here = [end for _, end, _ in outs]
    for (box, into, out), unit in zip(boxes, units, strict=True):
        if "summing" in box.profile:
            plug = PortEnd(unit, "lines1")
            w.studio = make_up(w.studio, [*here, plug], [Wire(k, 1, len(here), k + 1) for k in range(len(here))])
        else:
            for k in range(into):
                w.run(here[k], PortEnd(unit, box.ins[k]))
        here = [PortEnd(unit, box.outs[k]) for k in range(out)]
    for start, (_, end, _) in zip(here, ins, strict=True):
        w.run(start, end)
    _delays(w, found, boxes, units, outs, ins)
    w.studio = add_destination(w.studio, "Box 1", "loop", channels=out_wide, back=back_wide)
    _levels(w, found, boxes, units, outs, ins)
    return w.studio, found


def _delays(
    w: Wirer, found: Expected, boxes: list[tuple[Box, int, int]], units: list[UnitId], outs: list[_At], ins: list[_At]
) -> None:
    buffer, ahead, behind = w.dice.choice((32, 64, 256)), w.dice.randint(0, 30), w.dice.randint(0, 30)
    (computer,) = w.studio.hosts
    w.studio = set_times(w.studio, computer, 48_000, buffer=buffer, safety_in=ahead, safety_out=behind)
    within = 0.0
    for (box, _, _), unit in zip(boxes, units, strict=True):
        if w.dice.random() < 0.5:
            samples = float(w.dice.randint(1, 90))
            for port in sorted(set(box.outs)):
                w.studio = set_stop_delay(w.studio, PortEnd(unit, port), samples)
            within += samples
    # The latest of its paths: every output to every return that it can come to.
    ways = []
    for n in range(max(len(outs), len(ins))):
        (_, start, links), (_, end, links_back) = outs[n % len(outs)], ins[n % len(ins)]
        ways.append(sum(map(w.lateness, (*links, start, end, *links_back))))
    found.delay = 2 * buffer + ahead + behind + within + max(ways)


def _levels(
    w: Wirer, found: Expected, boxes: list[tuple[Box, int, int]], units: list[UnitId], outs: list[_At], ins: list[_At]
) -> None:
    peak, gain = w.dice.uniform(-20, 0), w.dice.uniform(-6, 6)
    w.studio = set_loop_use(w.studio, LOOP, peak_dbfs=peak, send_gain_db=gain)
    loud = {unit: w.dice.uniform(-10, 22) for unit in units}
    for unit, dbu in loud.items():
        w.studio = set_box_peak(w.studio, LOOP, unit, dbu)
    for n in range(max(len(outs), len(ins))):
        start, end = outs[n % len(outs)][1], ins[n % len(ins)][1]
        full, ohm = w.level(start)
        dbu = peak + gain + full
        rooms = [-(peak + gain)]
        stops = [(unit, box.ins[0], box.outs[0]) for (box, _, _), unit in zip(boxes, units, strict=True)]
        for unit, into, out in stops:
            most, load = w.level(PortEnd(unit, into))
            dbu += 20 * math.log10(load / (load + ohm))
            rooms.append(most - dbu)
            most, ohm = w.level(PortEnd(unit, out))
            dbu = loud[unit]
            rooms.append(most - dbu)
        most, load = w.level(end)
        rooms.append(most - dbu - 20 * math.log10(load / (load + ohm)))
        found.headrooms.append(rooms)


def unjoined(seed: int) -> tuple[Studio, list[UnitId], tuple[int, int], bool]:
    """Return a studio of boxes that stand in no loop yet, in series, with the width asked for, and whether they are on a bay.

    On a bay every socket of converters and boxes ends at a point; outputs above inputs, some of them with a normal between.
    """
    dice = random.Random(seed)
    w, boxes = Wirer(dice), [b for b in chain(dice) if "summing" not in b[0].profile] or [(BOXES[0], 1, 1)]
    while any(a[2] != b[1] for a, b in pairwise(boxes)):
        boxes.pop()
    units = []
    for box, _, _ in boxes:
        w.studio = add_unit(w.studio, shelf_profile(box.profile), f"Box {len(units) + 1}")
        units.append(list(w.studio.units)[-1])
    on_bay = dice.random() < 0.7
    if on_bay:
        w.studio = add_bay(w.studio, "A", 48)
        bay = list(w.studio.units)[-1]
        outs = [end for _, end, _ in w.outs] + [
            PortEnd(u, o) for (b, _, _), u in zip(boxes, units, strict=True) for o in b.outs
        ]
        ins = [end for _, end, _ in w.ins] + [
            PortEnd(u, i) for (b, _, _), u in zip(boxes, units, strict=True) for i in b.ins
        ]
        above, below = dice.sample(range(1, 25), len(outs)), dice.sample(range(25, 49), len(ins))
        for n, end in zip(above, outs, strict=False):
            w.studio = connect(w.studio, end, PortEnd(bay, f"a{n}"))
        for n, end in zip(below, ins, strict=False):
            w.studio = connect(w.studio, PortEnd(bay, f"b{n}"), end)
    return w.studio, units, (boxes[0][1], boxes[-1][2]), on_bay
