"""The same random loop in six ways of wiring: direct, over a panel, normals, cords, two bays, converters."""

import random
from collections.abc import Callable
from typing import Any, Final

from ennead.edits.bays import add_bay, set_normals
from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination
from ennead.edits.house import add_unit
from ennead.edits.scenes import add_scene, lay_cord
from ennead.edits.settings import set_clock_source
from ennead.files.profiles import shelf_profile
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId

HOW: Final = ("direct", "panel", "normals", "cords", "two bays", "converters")
_MONO: Final = {
    "mono compressor": ("line1", "line_out1"),
    "mono equaliser": ("line1", "line_out1"),
    "channel strip": ("mic1", "line_out1"),
}
_INTERFACE: Final = "twelve-line interface"
_OPTICAL: Final = "eight-preamp interface, two optical pairs"
_CONVERTER: Final = "eight-channel line converter, two optical pairs"


class House:
    """A studio that is being wired: what stands between two sockets depends on how."""

    def __init__(self, how: str, dice: random.Random) -> None:
        self.how, self.dice, self.used = how, dice, 0
        converters = how == "converters"
        studio = add_unit(empty_studio("Loop"), shelf_profile(_OPTICAL if converters else _INTERFACE), "Pier")
        self.outs = [PortEnd(UnitId("U1"), f"line_out{n}") for n in range(3, 9)]
        self.ins = [PortEnd(UnitId("U1"), f"line{n}") for n in range(1, 9)]
        if converters:
            studio = add_unit(studio, shelf_profile(_CONVERTER), "Beacon")
            studio = connect(studio, PortEnd(UnitId("U1"), "optical_a_out"), PortEnd(UnitId("U2"), "optical_a_in"))
            studio = connect(studio, PortEnd(UnitId("U2"), "optical_a_out"), PortEnd(UnitId("U1"), "optical_a_in"))
            studio = set_clock_source(studio, UnitId("U2"), "optical")
            self.outs = [PortEnd(UnitId("U2"), f"line_out{n}") for n in range(1, 9)]
            self.ins = [PortEnd(UnitId("U2"), f"line{n}") for n in range(1, 9)]
        if how == "panel":
            studio = add_unit(studio, shelf_profile("microphone panel, twelve ways"), "Quay")
        self.panel = list(studio.units)[-1]
        self.bays: list[UnitId] = []
        for name in {"normals": "A", "cords": "A", "two bays": "AB"}.get(how, ""):
            studio = add_bay(studio, name, 24)
            self.bays.append(list(studio.units)[-1])
        for bay in self.bays:
            mode = (
                "" if how == "cords" or (how == "two bays" and bay == self.bays[1]) else dice.choice(("half", "full"))
            )
            studio = set_normals(studio, bay, [f"a{n}" for n in range(1, 25)], mode)
        self.studio = add_scene(studio, "Tonight") if self.bays else studio

    def run(self, start: PortEnd, end: PortEnd) -> None:
        """Bring a signal from one socket to another."""
        self.used += 1
        n, how = self.used, self.how
        if how in ("direct", "converters"):
            self.studio = connect(self.studio, start, end)
        elif how == "panel":
            self.studio = connect(
                connect(self.studio, start, PortEnd(self.panel, f"wall{n}")), PortEnd(self.panel, f"tail{n}"), end
            )
        else:
            first = self.bays[0]
            self.studio = connect(self.studio, start, PortEnd(first, f"a{n}"))
            if how == "two bays":
                second = self.bays[1]
                ends = [PortEnd(first, f"b{n}"), PortEnd(second, f"a{n}")]
                if self.dice.random() < 0.5:
                    # A tie line lies neither way.
                    ends.reverse()
                self.studio = connect(self.studio, *ends)
                self._cord(PortEnd(second, f"a{n}"), PortEnd(second, f"b{n}"))
                self.studio = connect(self.studio, PortEnd(second, f"b{n}"), end)
                return
            if how == "cords":
                self._cord(PortEnd(first, f"a{n}"), PortEnd(first, f"b{n}"))
            self.studio = connect(self.studio, PortEnd(first, f"b{n}"), end)

    def _cord(self, one: PortEnd, other: PortEnd) -> None:
        plugs = [one, other]
        self.dice.shuffle(plugs)
        self.studio = lay_cord(self.studio, *plugs)


def tried(studio: Studio, edit: Callable[..., Studio], *args: Any) -> Studio:
    """Return what an edit makes of a studio, or the studio where it is refused."""
    try:
        return edit(studio, *args)
    except EnneadError:
        return studio


def loop_house(seed: int, how: str) -> Studio:
    """Return a studio with one loop through one to four boxes, wired so, and a destination of that name that nobody has placed."""
    plan = random.Random(seed)
    channels = plan.choice((1, 1, 2))
    boxes = [plan.choice(list(_MONO)) for _ in range(plan.randint(1, 4 if channels == 1 else 2))]
    send, back = plan.randrange(0, 5, 2), plan.randrange(0, 6, 2)
    house = House(how, random.Random(seed * 7 + len(how)))
    units: list[list[UnitId]] = []
    for number, name in enumerate(boxes if channels == 1 else ["stereo bus compressor"] * len(boxes)):
        house.studio = add_unit(house.studio, shelf_profile(name), f"Box {number + 1}")
        units.append([list(house.studio.units)[-1]])
    for channel in range(channels):
        here = house.outs[send + channel]
        for (unit,), name in zip(units, boxes, strict=True):
            into, out = _MONO[name] if channels == 1 else (f"line{channel + 1}", f"line_out{channel + 1}")
            house.run(here, PortEnd(unit, into))
            here = PortEnd(unit, out)
        house.run(here, house.ins[back + channel])
    return add_destination(house.studio, "Box 1", "loop", channels=channels)
