"""Where destinations hang: the outputs they are taken from and the inputs by which loops come back, asked of the walker."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Final

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import PASSIVE
from ennead.studio.record import names_of
from ennead.studio.session import Destination, PlacedDestination
from ennead.survey.destination_leads import LeadEnd
from ennead.survey.loops import back_socket, boxes_on
from ennead.survey.output_points import OutSocket
from ennead.survey.parts import each
from ennead.survey.passages import Ask
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.walk import Lane, Path, along_copper, first_path, is_record, reach

if TYPE_CHECKING:
    from ennead.survey.survey_interface import Parts

_FIELDS: Final = names_of(Destination)


@each("sent_to", of={"sockets": "out_sockets"}, at={"ask": "passages"})
def sent_to(sockets: tuple[OutSocket, ...], ask: Ask) -> tuple[tuple[Lane, tuple[tuple[Lane, int], ...]], ...]:
    """Return what each analogue output of one interface, or behind it, reaches: lanes, each with how many boxes lie before it."""
    walk = remembered(ask)
    found = []
    for socket in sockets:
        start = socket.unit, socket.port.key, socket.lane
        here = walk(socket.unit)
        if start[1] in here.leaving or start[1] in here.strands:
            tree = reach(walk, start, is_terminal)
            found.append((start, tuple(zip(tree.lanes, tree.passages_to(), strict=True))))
        else:
            found.append((start, ((start, 0),)))
    return tuple(found)


#: By lane: the outputs that send to it, the nearest first.
_Fed = Mapping[Lane, tuple[tuple[int, Lane], ...]]


def fed(survey: "Parts") -> _Fed:
    """Return the outputs that reach each lane, those with the fewest boxes between first."""
    sending: Mapping[UnitId, tuple[tuple[Lane, tuple[tuple[Lane, int], ...]], ...]] = survey.named("sent_to")
    found: dict[Lane, list[tuple[int, Lane]]] = {}
    for outputs in sending.values():
        for start, lanes in outputs:
            for lane, boxes in lanes:
                found.setdefault(lane, []).append((boxes, start))
    return {lane: tuple(sorted(several, key=lambda f: f[0])) for lane, several in found.items()}


def placed(survey: "Parts") -> tuple[PlacedDestination, ...]:
    """Return the session's destinations in the order of their list, each with its sockets."""
    heard: tuple[Destination, ...] = survey.named("heard")
    # Without a listener it does not matter what hangs on which cable.
    return tuple([place(survey, destination) for destination in heard])


def place(survey: "Parts", destination: Destination) -> PlacedDestination:
    """Return a destination with its sockets; none where not every channel has one."""
    leads: Mapping[tuple[str, int], tuple[LeadEnd, ...]] = survey.destination_leads.get(destination.id, {})
    facts = {name: getattr(destination, name) for name in _FIELDS}
    outputs = _channels(survey, destination, leads, "")
    returns = _channels(survey, destination, leads, "return") if destination.kind == "loop" else ()
    return PlacedDestination(**facts, outputs=outputs, returns=returns)


def _channels(
    survey: "Parts", destination: Destination, leads: Mapping[tuple[str, int], tuple[LeadEnd, ...]], side: str
) -> tuple[PortEnd, ...]:
    """Return the sockets of one side, channel by channel: by leads of its own, else by what it stands at; none unless all are there."""
    found: dict[int, PortEnd] = {}
    many = destination.backs if side else destination.channels
    mine = {channel: ends[-1] for (way, channel), ends in leads.items() if way == side}
    if many == 2 and list(mine) == [1] and mine[1].straight and survey.port(mine[1].end).channels == 2:
        # One straight cable from a socket of two channels brings both.
        mine[2] = mine[1]._replace(lane=2)
    for channel, lead in mine.items():
        end: PortEnd | None = lead.end
        if not side:
            at = lead.end.unit, lead.end.port, lead.lane
            end = _feeding(survey, at) or _unnumbered(survey, at)
        if end is not None:
            found[channel] = end
    led = {channel for way, channel in leads if not way} | (set(mine) if not side else set())
    standing = [channel for channel in range(1, many + 1) if channel not in led]
    if side and not destination.goes_straight:
        backs = [end for end in all_backs(survey, lanes_of(destination.at)) if end not in found.values()]
        found |= dict(zip([channel for channel in standing if channel not in found], backs, strict=False))
        standing = []
    held = [
        (channel, at) for channel, at in zip(standing, lanes_of(destination.at), strict=False) if channel not in found
    ]
    ends_of: Iterable[PortEnd | None] = (
        come_back(survey, [at for _, at in held])
        if side
        else [_feeding(survey, at) or _unnumbered(survey, at) for _, at in held]
    )
    found |= {channel: there for (channel, _), there in zip(held, ends_of, strict=True) if there is not None}
    ends = [found.get(channel) for channel in range(1, many + 1)]
    return tuple([e for e in ends if e is not None]) if None not in ends else ()


def lanes_of(ends: Iterable[PortEnd]) -> Iterator[Lane]:
    """Yield the lanes of some sockets, one a channel: a socket that is named twice has two."""
    met: list[PortEnd] = []
    for end in ends:
        met.append(end)
        yield end.unit, end.port, met.count(end)


def _feeding(survey: "Parts", at: Lane) -> PortEnd | None:
    """Return the output that feeds a lane: of several the one with the fewest boxes between, and the lowest number."""
    several = survey.once(fed).get(at) or (survey.once(fed).get((at[0], at[1], 1)) if at[2] > 1 else ())
    return PortEnd(several[0][1][0], several[0][1][1]) if several else None


def _unnumbered(survey: "Parts", at: Lane) -> PortEnd | None:
    """Return the output of a converter that drives a lane by copper although no driver number comes out there now."""
    drivers: list[tuple[str, str]] = [(at[0], at[1])]
    net = survey.nets.get(at)
    if net is not None:
        drivers += [(unit, port) for unit, port, _ in net.drivers]
    drivers += [(n.start.unit, n.start.port) for n in survey.links.values() if (n.end.unit, n.end.port) == at[:2]]
    for key, port in drivers:
        profile = survey.profiles.get(UnitId(key))
        if (
            profile is not None
            and profile.converts
            and profile.sides[port] == "out"
            and not profile.port_by_key[port].is_digital
        ):
            return PortEnd(UnitId(key), port)
    return None


def back_path(survey: "Parts", at: Lane) -> Path | None:
    """Return the way of what comes to a lane until it comes back at a driver input through a box; None where it does not."""
    ask = remembered(survey.passages.__getitem__)
    path = first_path(ask, at, is_record)
    return path if not path.end.cause and any(True for _ in boxes_on(ask, path.hops)) else None


def comes_back(survey: "Parts", at: Lane) -> PortEnd | None:
    """Return the socket by which what comes to the first box of a loop comes back, or None."""
    path = back_path(survey, at)
    if path is None:
        return None
    ask = survey.passages.__getitem__
    return back_socket(ask, path.hops, [n for n, _ in boxes_on(ask, path.hops)][-1])


def come_back(survey: "Parts", starts: Sequence[Lane]) -> tuple[PortEnd | None, ...]:
    """Return the socket by which what comes to each of some lanes comes back, one of its own for each where its box mixes them."""
    found = [comes_back(survey, at) for at in starts]
    known = [end for end in found if end is not None]
    if len(set(known)) == len(known):
        return tuple(found)
    several = {n: all_backs(survey, [at]) for n, at in enumerate(starts) if found[n] is not None}
    taken: set[PortEnd] = set()
    for n in sorted(several, key=lambda n: len(several[n])):
        found[n] = next((end for end in several[n] if end not in taken), found[n])
        taken |= {end for end in found[n : n + 1] if end is not None}
    return tuple(found)


def all_backs(survey: "Parts", starts: Iterable[Lane]) -> list[PortEnd]:
    """Return every socket by which what comes to some lanes comes back through boxes, by driver number; one a number."""
    ask = remembered(survey.passages.__getitem__)
    found: dict[int, PortEnd] = {}
    for at in starts:
        tree = reach(ask, at, is_record)
        for index in tree.ends:
            hops = tree.path_to(index)
            boxes = [n for n, _ in boxes_on(ask, hops)]
            record = tree.lanes[index]
            if boxes and is_record(ask(record[0]), record):
                driver = survey.numbering.input_at((record[0], ask(record[0]).view.input_at[record[1:]]))
                found.setdefault(driver.number, back_socket(ask, hops, boxes[-1]))
    return [found[number] for number in sorted(found)]


def boxes_behind(survey: "Parts", ends: Iterable[PortEnd]) -> tuple[UnitId, ...]:
    """Return the boxes that work on what comes to some inputs, in order, until it comes back or goes no further."""
    ask = remembered(survey.passages.__getitem__)
    found: dict[UnitId, None] = {}
    for at in lanes_of(ends):
        path = first_path(ask, at, is_record)
        found |= dict.fromkeys([unit for _, unit in boxes_on(ask, path.hops)])
        if path.end.cause and not found:
            found[at[0]] = None
    return tuple(found)


def stands_wired(survey: "Parts", destination: Destination) -> bool:
    """Say whether a loop goes out and comes back by cables of the house alone."""
    return (
        destination.kind == "loop"
        and len(destination.at) == destination.channels
        and destination.id not in survey.destination_leads
        and all(back_path(survey, at) is not None for at in lanes_of(destination.at))
    )


def onward_sockets(survey: "Parts", output: Lane) -> Iterator[Lane]:
    """Yield the sockets of boxes that an output reaches by copper alone, in the order of the walk; of a digital one those it is linked to."""
    ask = remembered(survey.passages.__getitem__)
    here = ask(output[0])
    if output[1] in here.view.digital:
        for link in here.leaving.get(output[1], ()):
            lane = link.across(output[2])
            if lane is not None:
                yield link.end.unit, link.end.port, lane
        return
    for at in along_copper(ask, output):
        if at[0] != output[0] or at[1] != output[1]:
            view = ask(at[0]).view
            if (
                view.sides[at[1]] == "in"
                or (view.sides[at[1]] == "both" and at[1:] in view.line_ins)
                or (view.sides[at[1]] == "" and at[1] in view.goes_on and view.profile.role not in PASSIVE)
            ):
                yield at


def open_copper(survey: "Parts", output: Lane) -> PortEnd | None:
    """Return where a cable may begin that is to carry on what comes out of an output: itself, or the open end of a panel behind it."""
    ask = remembered(survey.passages.__getitem__)
    for at in along_copper(ask, output):
        end = PortEnd(at[0], at[1])
        here = ask(at[0])
        port = here.view.profile.port_by_key[at[1]]
        if at == output:
            # What taps another's output shares its socket.
            if at[1] not in here.leaving and at[1] not in here.strands:
                return end
        elif (
            end not in survey.plugs
            and not port.is_digital
            and port.direction != "in"
            and port.wiring != "multi"
            and at[2] == output[2]
            and here.view.sides[at[1]] == ""
        ):
            return end
    return None
