"""Leads of several plugs that could be made up from a socket: Y leads, stereo leads, insert leads, looms."""

from collections.abc import Iterator
from itertools import islice
from typing import Final, NamedTuple

from ennead.edits.cables import make_up, misfit
from ennead.edits.change import Change, change
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.house import PortEnd, Unit, Wire
from ennead.studio.profile import Port
from ennead.studio.ranges import in_ranges
from ennead.survey.survey import Survey

#: A list longer than this is not read; the finder of partners leads on from there. House default.
MOST_OFFERS: Final = 120


class LeadOffer(NamedTuple):
    """One lead: what it is, wire by wire, and the change that adds it."""

    text: str
    wires: tuple[str, ...]
    does: Change


def lead_offers(survey: Survey, end: PortEnd) -> tuple[LeadOffer, ...]:
    """Return the leads that could be made up from a free socket to free ones, those of the next boxes first.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    port = survey.studio.port(end)
    if port.is_digital or survey.cables_at(end):
        return ()
    if port.wiring == "insert" and port.direction == "both":
        found = _inserts(survey, end, port)
    elif port.channels > 2 or port.wiring == "multi":
        found = _looms(survey, end, port)
    elif port.channels == 2:
        found = _pairs(survey, end, port, split=False)
    elif port.direction == "out":
        found = _pairs(survey, end, port, split=True)
    else:
        found = iter(())
    return tuple(islice(found, MOST_OFFERS))


def _free(survey: Survey, unit: Unit, direction: str, like: Port) -> list[Port]:
    """Return the free analogue sockets of one channel that a plug may join, in the order of the strip."""
    studio, found = survey.studio, []
    for port in studio.profile_of(unit.id).ports:
        out, into = (like, port) if direction == "in" else (port, like)
        if port.direction == direction and port.channels == 1 and not port.is_digital and not misfit(out, into):
            end = PortEnd(unit.id, port.key)
            if not survey.cables_at(end) and port.key not in unit.faults:
                found.append(port)
    return found


def _others(survey: Survey, end: PortEnd) -> list[Unit]:
    """Return the other units, those in the same place first."""
    units = [u for u in survey.studio.units.values() if u.id != end.unit]
    here = survey.studio.units[end.unit].place
    return sorted(units, key=lambda u: here is None or u.place != here)


def _pairs(survey: Survey, end: PortEnd, port: Port, *, split: bool) -> Iterator[LeadOffer]:
    """Yield a lead to every two neighbouring sockets: a Y lead from one channel, a stereo lead from a jack of two."""
    direction = "in" if port.direction == "out" else "out"
    for unit in _others(survey, end):
        free = _free(survey, unit, direction, port)
        for one, other in zip(free[::2], free[1::2], strict=False):
            if one.row == other.row:
                ends = (end, PortEnd(unit.id, one.key), PortEnd(unit.id, other.key))
                wires = (Wire(0, 1, 1, 1), Wire(0, 1 if split else 2, 2, 1))
                yield _offer(
                    survey,
                    f"{'Y lead' if split else 'Stereo lead'}, {CONNECTOR_LABELS[port.connector]} to two",
                    ends,
                    wires,
                )


def _inserts(survey: Survey, end: PortEnd, port: Port) -> Iterator[LeadOffer]:
    """Yield an insert lead through every box with a free input and output."""
    send, back = port.lane_directions.index("out") + 1, port.lane_directions.index("in") + 1
    for unit in _others(survey, end):
        if survey.studio.profile_of(unit.id).role not in ("processor", "preamp"):
            continue
        for into, out in zip(_free(survey, unit, "in", port), _free(survey, unit, "out", port), strict=False):
            ends = (end, PortEnd(unit.id, into.key), PortEnd(unit.id, out.key))
            yield _offer(survey, f"Insert lead through {unit.name}", ends, (Wire(0, send, 1, 1), Wire(2, 1, 0, back)))


def _looms(survey: Survey, end: PortEnd, port: Port) -> Iterator[LeadOffer]:
    """Yield a loom from a multipin to a row of sockets of each box, or to another multipin."""
    studio, direction = survey.studio, "in" if port.direction == "out" else "out"
    for unit in _others(survey, end):
        for far in studio.profile_of(unit.id).ports:
            there = PortEnd(unit.id, far.key)
            if (
                far.direction == direction
                and far.channels == port.channels
                and not far.is_digital
                and not survey.cables_at(there)
            ):
                yield _offer(
                    survey,
                    f"Loom, {port.channels} channels",
                    (end, there),
                    tuple(Wire(0, n, 1, n) for n in range(1, port.channels + 1)),
                )
        rows: dict[str, list[Port]] = {}
        for free in _free(survey, unit, direction, port):
            rows.setdefault(free.row, []).append(free)
        for row in rows.values():
            taken = row[: port.channels]
            if len(taken) > 1:
                ends = (end, *(PortEnd(unit.id, p.key) for p in taken))
                yield _offer(
                    survey,
                    f"Loom, multipin to {len(taken)} tails",
                    ends,
                    tuple(Wire(0, n, n, 1) for n in range(1, len(taken) + 1)),
                )


def _offer(survey: Survey, what: str, ends: tuple[PortEnd, ...], wires: tuple[Wire, ...]) -> LeadOffer:
    studio = survey.studio
    words = [studio.end_text(e) for e in ends]
    lines = tuple(
        _wire_text(studio.port(ends[w.a]), words[w.a], w.a_lane, studio.port(ends[w.b]), words[w.b], w.b_lane)
        for w in wires
    )
    to = in_ranges(words[1:])
    return LeadOffer(f"{what}: {to}", lines, change(f"Make up a lead from {words[0]}", make_up, ends, wires))


def _wire_text(a: Port, a_text: str, a_lane: int, b: Port, b_text: str, b_lane: int) -> str:
    return f"{a_text}{_contact(a, a_lane)} – {b_text}{_contact(b, b_lane)}"


def _contact(port: Port, lane: int) -> str:
    """Return which contact of a plug a lane is, where it has several."""
    if port.channels == 1:
        return ""
    if port.channels == 2 and port.connector in ("trs", "combo"):
        return " (tip)" if lane == 1 else " (ring)"
    return f" ({lane})"
