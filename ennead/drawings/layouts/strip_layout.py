"""Where every port of every rear strip lies: rectangles from a survey, nothing drawn."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import groupby

from ennead.drawings.layouts.wrapping import Measure, Scale, wrap
from ennead.reports.cable_schedule import cable_state
from ennead.reports.computers import computer_spans
from ennead.standards.computer_ports import COMPUTER_ADAPTERS, COMPUTER_SOCKETS
from ennead.standards.links import WORD
from ennead.studio.house import Computer, PortEnd, Unit
from ennead.studio.ids import ComputerId, PlaceId, UnitId
from ennead.studio.profile import Port
from ennead.survey.survey import Survey

_NUMBERED = re.compile(r"^(.*\S)\s+(\d+)$")


@dataclass(frozen=True, slots=True)
class PortBox:
    """One port on a strip; x, y, width, height in px."""

    end: PortEnd
    port: Port
    x: float
    y: float
    width: float
    height: float
    label: str
    user: tuple[str, ...]
    state: str
    live: bool
    lost: bool
    fault: bool


@dataclass(frozen=True, slots=True)
class StripBox:
    """One unit's rear strip."""

    unit: UnitId
    name: str
    profile: str
    x: float
    y: float
    width: float
    height: float
    ports: tuple[PortBox, ...]
    row_labels: tuple[tuple[str, float], ...]
    clock: str
    unlocked: bool


@dataclass(frozen=True, slots=True)
class ComputerBox:
    """A computer with a line for each interface on it."""

    computer: ComputerId
    name: str
    system: str
    x: float
    y: float
    width: float
    height: float
    lines: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True, slots=True)
class RigLayout:
    """The whole drawing."""

    width: float
    height: float
    places: tuple[tuple[str, float], ...] = ()
    strips: tuple[StripBox, ...] = ()
    by_end: dict[PortEnd, PortBox] = field(default_factory=dict)
    hosts: tuple[ComputerBox, ...] = ()

    def port_at(self, x: float, y: float) -> PortBox | None:
        """Return the port at a point."""
        for strip in self.strips:
            if strip.y <= y <= strip.y + strip.height:
                for box in strip.ports:
                    if box.x <= x <= box.x + box.width and box.y <= y <= box.y + box.height:
                        return box
        return None

    def strip_at(self, x: float, y: float) -> StripBox | None:
        """Return the strip at a point."""
        return next((s for s in self.strips if s.x <= x <= s.x + s.width and s.y <= y <= s.y + s.height), None)

    def computer_at(self, x: float, y: float) -> ComputerBox | None:
        """Return the computer at a point."""
        return next((h for h in self.hosts if h.x <= x <= h.x + h.width and h.y <= y <= h.y + h.height), None)


class _Sockets:
    """The use of each socket, computed once a layout."""

    def __init__(self, survey: Survey) -> None:
        self._studio, self._survey = survey.studio, survey

    def user(self, end: PortEnd) -> tuple[str, str]:
        """Return what is at the other end, and the state of that cable; empty where nothing is."""
        cables = self._survey.cables_at(end)
        if not cables:
            return "", ""
        cable = cables[0]
        text = self._studio.far_text(cable, end)
        more = f" +{len(cables) - 1}" if len(cables) > 1 else ""
        return text + more, cable_state(self._studio, cable)


def lay_rig(survey: Survey, width: float, measure: Measure, px: Scale) -> RigLayout:
    """Return the layout of all strips, grouped by place, for a width in px."""
    y = float(px(2))
    sockets = _Sockets(survey)
    places, strips = [], []
    rooms: list[tuple[PlaceId | None, str]] = [(p.id, p.name) for p in survey.studio.places.values()]
    for place, name in [*rooms, (None, "No place yet")]:
        units = [u for u in survey.studio.units.values() if u.place == place]
        if not units:
            continue
        places.append((name, y))
        y += px(30)
        for unit in units:
            strip = _lay_strip(survey, sockets, unit, y, width, measure, px)
            strips.append(strip)
            y += strip.height + px(12)
        y += px(6)
    by_end = {b.end: b for s in strips for b in s.ports}
    hosts: list[ComputerBox] = []
    if survey.studio.hosts:
        places.append(("Computers" if len(survey.studio.hosts) > 1 else "Computer", y))
        y += px(30)
    for computer in survey.studio.hosts.values():
        hosts.append(_lay_computer(survey, computer, y, width, px))
        y += hosts[-1].height + px(12)
    return RigLayout(width, y, tuple(places), tuple(strips), by_end, tuple(hosts))


def _lay_computer(survey: Survey, computer: Computer, top: float, width: float, px: Scale) -> ComputerBox:
    lines = []
    for place, (unit, span) in enumerate(
        zip(computer.interfaces, computer_spans(survey, computer), strict=True), start=1
    ):
        chosen = computer.attachments.get(unit)
        bus = survey.views[unit].profile.bus or "bus not stated"
        way = COMPUTER_SOCKETS[chosen.socket].label if chosen else f"{bus}, socket not chosen"
        over = "".join(f", {COMPUTER_ADAPTERS[a].label}" for a in chosen.adapters) if chosen else ""
        note = f"{way}{over}" + ("  △ resampled" if unit in computer.corrected else "")
        lines.append((str(place), span, note))
    system = f"system {computer.system}" if computer.system else "computer"
    height = float(px(34 + 22 * max(1, len(lines))))
    return ComputerBox(computer.id, computer.name, system, float(px(4)), top, width - 2 * px(4), height, tuple(lines))


def _lay_strip(
    survey: Survey, sockets: _Sockets, unit: Unit, top: float, width: float, measure: Measure, px: Scale
) -> StripBox:
    profile = survey.studio.profiles[unit.profile]
    left, gutter = float(px(4)), px(84)
    y = top + px(30)
    placed: list[tuple[PortBox, float, float]] = []
    labels = []
    for row, ports in _rows(profile.ports):
        stems = {_stem(p.label) for p in ports}
        shared = len(stems) == 1 and len(ports) > 1 and None not in stems
        labels.append((next(iter(stems)) or row if shared else row, y))
        x = left + gutter
        for port in ports:
            number = _NUMBERED.match(port.label)
            label = number.group(2) if shared and number else port.label
            box = _box(survey, sockets, unit, port, label, measure, px)
            if x + box.width > width - px(8) and x > left + gutter:
                x = left + gutter
                y += px(72)
            placed.append((box, x, y))
            x += box.width
        y += px(72) if any(b.user for b, _, at in placed if at == y) else px(50)
    used = {at for b, _, at in placed if b.user}
    # An unused row needs no room for names beneath its sockets.
    boxes = [_put(b, x, at, px(70) if at in used else px(48)) for b, x, at in placed]
    clock, unlocked = _clock(survey, unit.id)
    height = y - top + px(2)
    return StripBox(
        unit.id,
        unit.name,
        profile.name,
        left,
        top,
        width - 2 * left,
        height,
        tuple(boxes),
        tuple(labels),
        clock,
        unlocked,
    )


def _put(box: PortBox, x: float, y: float, height: float) -> PortBox:
    # Made anew by hand: `dataclasses.replace` took a third of the time of the whole drawing.
    return PortBox(
        box.end, box.port, x, y, box.width, height, box.label, box.user, box.state, box.live, box.lost, box.fault
    )


def _rows(ports: tuple[Port, ...]) -> Iterator[tuple[str, list[Port]]]:
    order = list(dict.fromkeys(p.row for p in ports))
    for row, group in groupby(sorted(ports, key=lambda p: order.index(p.row)), key=lambda p: p.row):
        mixed: dict[str | None, list[Port]] = {}
        for port in group:
            mixed.setdefault(_stem(port.label) if row != "digital" else None, []).append(port)
        singles = [p for ports_ in mixed.values() if len(ports_) == 1 for p in ports_]
        for ports_ in mixed.values():
            if len(ports_) > 1:
                yield row, ports_
        if singles:
            yield row, singles


def _stem(label: str) -> str | None:
    found = _NUMBERED.match(label)
    return found.group(1) if found else None


def _box(survey: Survey, sockets: _Sockets, unit: Unit, port: Port, label: str, measure: Measure, px: Scale) -> PortBox:
    end = PortEnd(unit.id, port.key)
    user, state = sockets.user(end)
    profile = survey.studio.profiles[unit.profile]
    bank = profile.bank_of_port.get(port.key)
    live = bank is not None and bank.key in survey.phantom_on[unit.id]
    wide = px(98)
    needed = max(measure(label, 12), px(24)) + px(12)
    width = max(wide, needed) if user else max(needed, px(40) if not live else px(56))
    lines = wrap(user, width - px(8), 12, measure) if user else ()
    view = survey.views[unit.id]
    lost = port.is_digital and view.lanes[port.key] == 0 and view.formats[port.key] not in WORD
    return PortBox(end, port, 0, 0, width, px(70), label, lines, state, live, lost, port.key in unit.faults)


def _clock(survey: Survey, unit: UnitId) -> tuple[str, bool]:
    """Return how a unit stands to the clock, in words, and whether it has none to follow."""
    if unit in survey.session_facts.missing:
        return "missing on this session", False
    if survey.views[unit].off:
        return "switched off", False
    clock = survey.clocks.by_unit.get(unit)
    if clock is None:
        return "", False
    if clock.state == "leads":
        alone = len(survey.clocks.domain_of(unit).units) == 1
        return "own clock" if alone else "leads the clock", False
    entry = survey.studio.profile_of(unit).clock_source(clock.source)
    label = entry.label if entry else ""
    said = {
        "locked": f"follows {label}",
        "silent": f"no clock on {label}",
        "adrift": f"{label}: not locked",
        "ring": f"{label}: in a ring",
    }
    return said[clock.state], clock.state != "locked"
