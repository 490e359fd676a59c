"""Over which cables a clock could go from unit to unit: those that are there, and those that free sockets allow."""

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator
from typing import Final, NamedTuple

from ennead.standards.links import LINKS, MOST_ON_T_LINE, WORD, Adapter, adapters_between, formats_join
from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId, UnitId
from ennead.studio.profile import Port
from ennead.survey.survey_interface import Parts

#: What a way costs: a cable; a doubtful adapter and a T-piece each nearly as much again, so that of two plans that would
#: weigh the same the one with fewer cables wins. House defaults; the search proves whole cables, and settles ties as it goes.
NEW_CABLE: Final = 20
_PART: Final = 19

#: Among ways of one cost: rather without an adapter, rather a clock cable than a socket for sound, nothing to pull first, the same room.
_KEEP: Final = {
    "word": 0,
    "word-base": 0,
    "word-256": 0,
    "spdif": 1,
    "spdif-optical": 1,
    "aes3": 1,
    "aes3-id": 1,
    "adat": 2,
}
_KEEP_MADI: Final = 3


class ClockWay(NamedTuple):
    """A cable that brings a clock, there already or to be added.

    Parameters
    ----------
    source : str
        The entry of the receiver's clock menu that takes it.
    cable : CableId or None
        None for one to be added.
    group : tuple
        The kind of output it uses up; empty where the cable is there already.
    shared : bool
        Whether it needs a T-piece on a word-clock output that feeds another unit too.
    pulls : CableId or None
        A word-clock cable that has to leave the input first.
    sets : pair of mode and position, or None
        What the receiver must be set to before it understands the cable that is there.
    """

    start: PortEnd
    end: PortEnd
    source: str
    kind: str
    cable: CableId | None
    cost: int
    group: tuple[UnitId, str, str] | tuple[()] = ()
    adapters: tuple[Adapter, ...] = ()
    shared: bool = False
    pulls: CableId | None = None
    sets: tuple[str, str] | None = None


class Sockets(NamedTuple):
    """The ways, and how many outputs of each kind are free."""

    ways: list[ClockWay]
    free: dict[tuple[UnitId, str, str], list[PortEnd]]
    room: dict[tuple[UnitId, str, str], int]


def clock_ways(survey: Parts, units: Iterable[UnitId]) -> Sockets:
    """Return every way a clock could go among some units.

    Outputs of one unit that carry the same format over the same connector are interchangeable and stand as one kind.
    """
    # In their order, so that of several trees alike the same one is found each time.
    among = dict.fromkeys(units)
    ways = list(_ways_there(survey, among))
    free, room, ports = _free_outputs(survey, among)
    takers = _free_inputs(survey, among)
    for group, outputs in free.items():
        unit = group[0]
        for end, into, source, takes, pulls in takers:
            # The cable that is in the way may come from here: then it is no new way.
            if end.unit == unit or (pulls is not None and survey.links[pulls].start.unit == unit):
                continue
            out, sends = ports[group], group[1].removesuffix("+")
            adapters = _joined((out, sends), (into, takes))
            if adapters is None:
                continue
            shared = group[1].endswith("+")
            cost = NEW_CABLE + _PART * (any(a.caution for a in adapters) + shared)
            ways.append(ClockWay(outputs[0], end, source, sends, None, cost, group, adapters, shared, pulls))
    units = survey.units
    # A fibre back from where its own goes brings sound as well.
    fed = {(n.end.unit, n.start.unit) for n in survey.links.values() if n.digital}
    ways.sort(
        key=lambda w: (
            w.cost,
            len(w.adapters),
            _KEEP.get(w.kind, _KEEP_MADI),
            w.pulls is not None,
            (w.start.unit, w.end.unit) not in fed,
            units[w.start.unit].place != units[w.end.unit].place,
        )
    )
    return Sockets(_cheapest(ways), free, room)


def _ways_there(survey: Parts, among: Collection[UnitId]) -> Iterator[ClockWay]:
    for link in survey.links.values():
        if not link.digital or link.start.unit not in among or link.end.unit not in among:
            continue
        source = next((c.key for c in link.in_view.profile.clock_sources if c.port == link.end.port), None)
        if source is None or not link.out_view.runs:
            continue
        if link.clock is not None:
            yield ClockWay(link.start, link.end, source, link.sends, link.cable, 0)
            continue
        mode = link.in_view.profile.mode(link.in_view.profile.port_by_key[link.end.port].format_mode or "")
        if mode is not None and any(c.key == link.sends for c in mode.choices):
            yield ClockWay(link.start, link.end, source, link.sends, link.cable, 0, sets=(mode.key, link.sends))


def _free_outputs(
    survey: Parts, among: Collection[UnitId]
) -> tuple[
    dict[tuple[UnitId, str, str], list[PortEnd]],
    dict[tuple[UnitId, str, str], int],
    dict[tuple[UnitId, str, str], Port],
]:
    free: dict[tuple[UnitId, str, str], list[PortEnd]] = defaultdict(list)
    room: dict[tuple[UnitId, str, str], int] = defaultdict(int)
    ports: dict[tuple[UnitId, str, str], Port] = {}
    for unit in among:
        view = survey.views[unit]
        if not view.runs:
            continue
        faults = survey.faults.get(unit, ())
        for port in view.profile.ports:
            if port.direction != "out" or not port.is_digital or port.carries[0] == "cue" or port.key in faults:
                continue
            carried = view.formats[port.key]
            on_it = len(survey.passages[unit].leaving.get(port.key, ()))
            group = (unit, carried, f"{port.connector} {port.fibre}")
            if not on_it and (view.lanes[port.key] or carried in WORD):
                free[group].append(PortEnd(unit, port.key))
                room[group] += 1
                ports[group] = port
            more = MOST_ON_T_LINE - max(1, on_it)
            if carried in WORD and more > 0 and not _ended(survey, unit, port.key):
                group = (unit, f"{carried}+", f"{port.connector} {port.fibre}")
                free[group].append(PortEnd(unit, port.key))
                room[group] += more
                ports[group] = port
    return dict(free), dict(room), ports


def _free_inputs(survey: Parts, among: Collection[UnitId]) -> list[tuple[PortEnd, Port, str, str, CableId | None]]:
    """Return the inputs that could take a clock: free ones, and those in which nothing but a word clock sits."""
    holding = {link.end: link.cable for link in survey.links.values() if link.sends in WORD}
    takers = []
    for unit in among:
        view = survey.views[unit]
        if not view.runs:
            continue
        taken, faults = survey.held_inputs.get(unit, ()), survey.faults.get(unit, ())
        for entry in view.profile.clock_sources:
            if entry.port is None or entry.port in faults:
                continue
            pulls = holding.get(PortEnd(unit, entry.port))
            if entry.port in taken and pulls is None:
                continue
            if view.lanes[entry.port] or view.formats[entry.port] in WORD:
                takers.append(
                    (
                        PortEnd(unit, entry.port),
                        view.profile.port_by_key[entry.port],
                        entry.key,
                        view.formats[entry.port],
                        pulls,
                    )
                )
    return takers


def closes_for_good(survey: Parts, end: PortEnd) -> bool:
    """Say whether an input ends its word-clock line with 75 ohm that no switch takes away: nothing can follow behind it."""
    return survey.port(end).termination == "fixed"


def _ended(survey: Parts, unit: UnitId, port: str) -> bool:
    return any(closes_for_good(survey, link.end) for link in survey.passages[unit].leaving.get(port, ()))


def _joined(out: tuple[Port, str], into: tuple[Port, str]) -> tuple[Adapter, ...] | None:
    (plug, sends), (socket, takes) = out, into
    if not formats_join(sends, takes) or (plug.fibre and socket.fibre and plug.fibre != socket.fibre):
        return None
    return adapters_between((plug.connector, sends), (socket.connector, takes))


def _cheapest(ways: list[ClockWay]) -> list[ClockWay]:
    """Return for each pair of units and kind of output the cheapest way: which socket it ends in is the receiver's affair."""
    best: dict[object, ClockWay] = {}
    for way in ways:
        key = (way.start.unit, way.end.unit, way.group or way.cable)
        known = best.get(key)
        if known is None or way.cost < known.cost:
            best[key] = way
    return list(best.values())


def pulled_text(survey: Parts, cable: CableId) -> str:
    """Return a word-clock cable that has to leave its input, in words: ``C7, word clock, Beacon · Word clock out 2 → …``."""
    link = survey.links[cable]
    return f"{cable}, {LINKS[link.sends].label}, {survey.end_text(link.start)} → {survey.end_text(link.end)}"


def way_text(survey: Parts, way: ClockWay) -> str:
    """Return a way as words: ``word clock, Beacon · Word clock out 2 → Harbour · Word clock in``."""
    parts = "".join(f", with a {a.label}" for a in way.adapters) + (", over a T-piece" if way.shared else "")
    return f"{LINKS[way.kind].label}: {survey.end_text(way.start)} → {survey.end_text(way.end)}{parts}"
