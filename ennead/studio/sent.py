"""Where destinations are taken from and come back by: read off the cables, and nowhere else."""

from collections.abc import Iterable, Iterator, Mapping
from typing import cast

from ennead.studio.bays import Bay, Cord
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, DestinationEnd, PortEnd, Span
from ennead.studio.ids import CableId, DestinationId, UnitId
from ennead.studio.patching import patch
from ennead.studio.pieces import pieces
from ennead.studio.profile import Port, Profile
from ennead.studio.record import names_of, record
from ennead.studio.session import Destination, PlacedDestination

_FIELDS = names_of(Destination)


@record(frozen=True)
class WiredLoop:
    """Boxes wired out of a converter and back into one; the ends channel by channel.

    Parameters
    ----------
    at, outputs, returns : tuple of PortEnd
        The first box's inputs, the outputs that feed them, and the inputs by which they come back.
    """

    boxes: tuple[UnitId, ...]
    at: tuple[PortEnd, ...]
    outputs: tuple[PortEnd, ...]
    returns: tuple[PortEnd, ...]


class Sent:
    """The cables of a house, as far as destinations hang on them."""

    def __init__(
        self,
        cables: Mapping[CableId, Cable],
        profiles: Mapping[UnitId, Profile],
        bays: Mapping[UnitId, Bay] = FrozenMap(),
        cords: Iterable[Cord] = (),
    ) -> None:
        self._profiles = profiles
        self._into: dict[PortEnd, PortEnd] = {}
        self._out_of: dict[PortEnd, list[PortEnd]] = {}
        self._leads: dict[DestinationId, dict[tuple[str, int], tuple[PortEnd, bool]]] = {}
        spans: list[Span] = []
        arriving: list[PortEnd] = []
        for cable in cables.values():
            straight = not cable.wires
            for piece in (cable,) if cable.is_plain else pieces(cable, self._port):
                start, end = piece.start, piece.end
                if isinstance(end, PortEnd) and not isinstance(start, PortEnd):
                    arriving.append(end)
                if isinstance(start, PortEnd) and isinstance(end, PortEnd):
                    spans.append(cast("Span", piece))
                elif isinstance(start, PortEnd) and isinstance(end, DestinationEnd):
                    self._leads.setdefault(end.destination, {})["out", end.channel] = start, straight
                elif isinstance(start, DestinationEnd) and isinstance(end, PortEnd):
                    self._leads.setdefault(start.destination, {})["return", start.channel] = end, straight
        numbered = dict(enumerate(spans))
        now = patch(bays, cords, numbered, arriving, profiles)
        self._bays = now.bays
        for span in {**numbered, **now.turned, **now.cords}.values():
            start, end = span.start, span.end
            self._into.setdefault(end, start)
            self._out_of.setdefault(start, []).append(end)

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Sent):
            return False
        return vars(self) == vars(other)

    __hash__ = None  # type: ignore[assignment]

    def of(self, destination: Destination) -> PlacedDestination:
        """Return a destination with its sockets; none where not every channel has one."""
        outputs = self._outputs(destination)
        facts = {name: getattr(destination, name) for name in _FIELDS}
        return PlacedDestination(**facts, outputs=outputs, returns=self._returns(destination))

    def stands_wired(self, destination: Destination) -> bool:
        """Say whether a loop goes out and comes back by cables of the house alone."""
        whole = len(destination.at) == destination.channels and destination.id not in self._leads
        return (
            whole
            and destination.kind == "loop"
            and all(self.after_boxes(end, destination.boxes) is not None for end in destination.at)
        )

    def _outputs(self, destination: Destination) -> tuple[PortEnd, ...]:
        found = self._by_leads(destination, "out")
        standing = iter(destination.at)
        for channel in range(1, destination.channels + 1):
            if channel not in found and (end := next(standing, None)) is not None:
                start = self.feeding(end)
                if start is not None:
                    found[channel] = start
        return _whole(found, destination.channels)

    def _returns(self, destination: Destination) -> tuple[PortEnd, ...]:
        if destination.kind != "loop":
            return ()
        found = self._by_leads(destination, "return")
        for channel, end in enumerate(destination.at, start=1):
            if (
                channel not in found
                and destination.boxes
                and (back := self.after_boxes(end, destination.boxes)) is not None
            ):
                found[channel] = back
        return _whole(found, destination.channels)

    def _by_leads(self, destination: Destination, side: str) -> dict[int, PortEnd]:
        mine = self._leads.get(destination.id, {})
        found = {channel: end for (way, channel), (end, _) in mine.items() if way == side}
        if destination.channels == 2 and list(found) == [1] and mine[side, 1][1] and self._port(found[1]).channels == 2:
            # One straight cable from a socket of two channels brings both.
            found[2] = found[1]
        return found

    def _port(self, end: PortEnd) -> Port:
        return self._profiles[end.unit].port_by_key[end.port]

    def wired_to(self, start: PortEnd) -> tuple[PortEnd, ...]:
        """Return the inputs to which cables of the house run from an output."""
        return tuple(self._out_of.get(start, ()))

    def cable_into(self, end: PortEnd) -> PortEnd | None:
        """Return the output from which a cable of the house runs into an input."""
        return self._into.get(end)

    def feeding(self, end: PortEnd) -> PortEnd | None:
        """Return the output that feeds an input by cable, looking back through amplifiers, controllers and panels in between."""
        seen: set[PortEnd] = set()
        start = self._into.get(end)
        while start is not None and start not in seen:
            seen.add(start)
            profile = self._profiles[start.unit]
            if profile.converts:
                return start
            before = next((e for e in self._inner(profile, start, back=True) if e in self._into), None)
            if before is None:
                return start
            start = self._into[before]
        return start

    def _inner(self, profile: Profile, at: PortEnd, *, back: bool) -> Iterable[PortEnd]:
        """Yield the sockets of the same box whose first channel leads to, or comes from, the first channel of one."""
        if (bay := self._bays.get(at.unit)) is not None and at.port in bay.points:
            yield at
            ports = [p for p in bay.leads_to if at.port in bay.leads_to[p]] if back else bay.leads_to.get(at.port, ())
            for port in ports:
                yield PortEnd(at.unit, port)
        for path in profile.inner_paths:
            near, far = (path.to_ports, path.from_ports) if back else (path.from_ports, path.to_ports)
            if at.port in near:
                place = near.index(at.port)
                yield PortEnd(at.unit, far[min(place, len(far) - 1)])

    def after_boxes(self, end: PortEnd, boxes: tuple[UnitId, ...]) -> PortEnd | None:
        """Return the input at which a signal comes out behind the boxes of a loop, or None where it does not."""
        seen: set[PortEnd] = set()
        while (end.unit in boxes or self._is_point(end)) and end not in seen:
            seen.add(end)
            outs = self._inner(self._profiles[end.unit], end, back=False)
            further = next((e for out in outs for e in self._out_of.get(out, ())), None)
            if further is None:
                return None
            end = further
        return end if end not in seen else None

    def _before_points(self, end: PortEnd) -> PortEnd | None:
        """Return the output from which a cable, or cables and the points of bays between them, run into an input."""
        start, seen = self._into.get(end), set[PortEnd]()
        while start is not None and self._is_point(start) and start not in seen:
            seen.add(start)
            inner = self._inner(self._profiles[start.unit], start, back=True)
            start = next((self._into[e] for e in inner if e in self._into), None)
        return start

    def _is_point(self, end: PortEnd) -> bool:
        return end.unit in self._bays and end.port in self._bays[end.unit].points

    def boxes_behind(self, at: Iterable[PortEnd]) -> tuple[UnitId, ...]:
        """Return what a signal passes behind some inputs, in order, until it comes back into a converter."""
        boxes: list[UnitId] = []
        waiting, passed = list(at), set[PortEnd]()
        while waiting:
            here = waiting.pop(0)
            unit, profile = here.unit, self._profiles[here.unit]
            if self._is_point(here):
                outs = [] if here in passed else list(self._inner(profile, here, back=False))
                passed.add(here)
            elif unit in boxes or profile.converts:
                continue
            else:
                boxes.append(unit)
                outs = [PortEnd(unit, p.key) for p in profile.ports if p.direction == "out"]
            waiting += [end for out in outs for end in self.wired_to(out)]
        return tuple(boxes)

    def wired_loops(self) -> Iterator[WiredLoop]:
        """Yield every box that is wired out of a converter and back into one, with all channels that are."""
        for unit, profile in self._profiles.items():
            if not profile.is_outboard:
                continue
            ends = [PortEnd(unit, p.key) for p in profile.ports if p.direction == "in" and not p.is_digital]
            boxes = self.boxes_behind(ends[:1])
            ways = []
            for end in ends:
                out, back = self._before_points(end), self.after_boxes(end, boxes)
                if (
                    out is not None
                    and back is not None
                    and self._profiles[out.unit].converts
                    and self._profiles[back.unit].converts
                ):
                    ways.append((end, out, back))
            if ways:
                at, outputs, returns = zip(*ways, strict=True)
                yield WiredLoop(boxes, at, outputs, returns)


def _whole(found: Mapping[int, PortEnd], channels: int) -> tuple[PortEnd, ...]:
    ends = [found.get(channel) for channel in range(1, channels + 1)]
    return tuple(e for e in ends if e is not None) if None not in ends else ()
