"""Nets: contacts that copper joins, over cables and through panels, bays and passive leads, with their drivers and receivers.

Two contacts at the ends of one cable are a net of their own that need not be written down; what is kept here is every net of
more than two, and those of cables with wires of their own.
"""

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping
from itertools import chain, pairwise
from typing import Final, NamedTuple

from ennead.studio.bays import Bay, Cord
from ennead.studio.house import Cable, End, LineEnd, Plug, PortEnd, Seat, SourceEnd
from ennead.studio.ids import LETTERS, CableId, DestinationId, SourceId, UnitId
from ennead.studio.pieces import joined_lanes
from ennead.studio.profile import Profile
from ennead.survey.behind import Behind, Point
from ennead.survey.normals import Beside
from ennead.survey.parts import Held, between, changed_keys, each, part, renews
from ennead.survey.played import PortLane
from ennead.survey.sorted_cables import SortedOut
from ennead.survey.unit_view import UnitView

#: A unit, a port of it and a lane; or a source or a destination, its side and a channel. A digital socket is one contact, its lane 0.
Contact = tuple[UnitId | SourceId | DestinationId, str, int]


class Net(NamedTuple):
    """Contacts that copper joins.

    Parameters
    ----------
    contacts : tuple of Contact
        In order.
    drivers, receivers : tuple of Contact
        Outputs and sources among them; inputs and destinations. A socket that only joins conductors is neither.
    """

    contacts: tuple[Contact, ...]
    drivers: tuple[Contact, ...]
    receivers: tuple[Contact, ...]


@each("copper", of={"view": "joining", "beside": "normals"})
def copper(view: UnitView, beside: Beside | None) -> Mapping[PortLane, tuple[PortLane, ...]]:
    """Return what one unit joins, lane by lane and either way: its own copper, and the normals of its bay that no plug breaks."""
    if not beside:
        return view.joined
    known: dict[object, Mapping[PortLane, tuple[PortLane, ...]]] = view.profile.__dict__.setdefault("_joined", {})
    # Of bays of one kind most are joined alike, and what is remembered is not changed.
    key = tuple(beside.items()), id(view)
    found = known.get(key)
    if found is None:
        if len(known) >= _MOST_JOINED:
            known.clear()
        found = known[key] = _with_normals(view, beside)
    return found


#: How many ways of joining its points a profile remembers.
_MOST_JOINED: Final = 64


def _with_normals(view: UnitView, beside: Beside) -> dict[PortLane, tuple[PortLane, ...]]:
    joined, lanes = dict(view.joined), view.lanes
    for port, others in beside.items():
        for lane in range(1, lanes[port] + 1):
            near = tuple([(other, lane) for other in others if lane <= lanes[other]])
            joined[port, lane] = (*joined[port, lane], *near) if (port, lane) in joined else near
    return joined


@part
def joining(views: Mapping[UnitId, UnitView], bays: Mapping[UnitId, Bay]) -> dict[UnitId, UnitView]:
    """Return the units that join conductors, or may."""
    return {unit: view for unit, view in views.items() if view.joined or unit in bays}


@part
def shared(
    in_use: Mapping[CableId, Cable],
    sorted_out: SortedOut,
    held_inputs: Mapping[UnitId, Collection[str]],
    leaving_by_unit: Mapping[UnitId, Collection[str]],
    bays: Mapping[UnitId, Bay],
    plugs_behind: int | None,
) -> frozenset[Seat]:
    """Return the sockets, and the channels of lines, that hold several plugs; what is plugged in front of a point is no plug in it."""
    if sorted_out.made_up or sorted_out.further or sorted_out.others:
        pass
    elif plugs_behind is not None and _all_apart(sorted_out, held_inputs, leaving_by_unit, bays, plugs_behind):
        return _NOWHERE
    places = [place for cable in in_use.values() for place in cable.places]
    return frozenset([place for place, count in Counter(places).items() if count > 1])


_NOWHERE: frozenset[Seat] = frozenset()


def _all_apart(
    sorted_out: SortedOut,
    held_inputs: Mapping[UnitId, Collection[str]],
    leaving_by_unit: Mapping[UnitId, Collection[str]],
    bays: Mapping[UnitId, Bay],
    behind: int,
) -> bool:
    """Say whether there are as many sockets in use as plugs, counted without looking at any of them; so it is in most houses.

    Points are left out: what is plugged in front of one is no second plug in it.
    """
    ins = sum([len(ports) for unit, ports in held_inputs.items() if unit not in bays])
    outs = sum([len(ports) for unit, ports in leaving_by_unit.items() if unit not in bays])
    return ins + outs == 2 * len(sorted_out.spans) + len(sorted_out.leads) - behind


@part
def plugs_behind(behind: Mapping[Point, tuple[Behind, ...]]) -> int | None:
    """Return how many plugs there are behind points; None where two are behind one."""
    return len(behind) if len(behind) == sum(map(len, behind.values())) else None


#: Of one socket; a line takes as many as the socket at the other end has.
MOST_LANES: Final = 64

_Copper = Mapping[UnitId, Mapping[PortLane, tuple[PortLane, ...]]]


@part
def conductors(
    in_use: Mapping[CableId, Cable], sorted_out: SortedOut, shared: frozenset[Seat], profiles: Mapping[UnitId, Profile]
) -> tuple[tuple[Cable, ...], tuple[Cable, ...]]:
    """Return the cables that take part in nets: straight ones with an end in copper or in a shared socket, and those with wires of their own."""
    straight = {cable.id: cable for cable in sorted_out.at_copper}
    if shared:
        straight |= {c.id: c for c in in_use.values() if c.is_plain and not shared.isdisjoint(c.places)}
    straight |= {c.id: c for c in _wide(in_use, sorted_out, profiles)}
    return tuple(straight.values()), tuple([in_use[key] for key in sorted_out.made_up])


_PENDING: Final = Net((), (), ())
#: Sockets and copper of a line.
_LINE: Final[tuple[Mapping[str, str], None]] = {}, None


@part
def nets(
    conductors: tuple[tuple[Cable, ...], tuple[Cable, ...]],
    copper: _Copper,
    profiles: Mapping[UnitId, Profile],
    cords: tuple[Cord, ...],
    sides: Mapping[UnitId, Mapping[str, str]],
    standing_contacts: frozenset[Contact],
    quiet: frozenset[Contact],
) -> dict[Contact, Net]:
    """Return the net of every contact that a panel, a bay, a shared socket or a lead with wires of its own has part in."""
    # What makes no contact is met already, and left out in the end.
    found: dict[Contact, Net] = dict.fromkeys(quiet, _PENDING)
    _flood(
        chain(_joints(*conductors, profiles), _corded(cords, profiles)),
        copper,
        profiles,
        sides,
        standing_contacts,
        found,
    )
    return {contact: net for contact, net in found.items() if contact not in quiet} if quiet else found


def _flood(
    joints: Iterable[tuple[Contact, Contact]],
    copper: _Copper,
    profiles: Mapping[UnitId, Profile],
    sides: Mapping[UnitId, Mapping[str, str]],
    standing_contacts: frozenset[Contact],
    found: dict[Contact, Net],
) -> None:
    """Add the nets of what is joined, beginning at one joint after another; what is in the map already is met no more."""
    near: dict[Contact, tuple[Contact, ...]] = {}
    for a, b in joints:
        # Most have one neighbour.
        near[a] = (*near[a], b) if a in near else (b,)
        near[b] = (*near[b], a) if b in near else (a,)
    boxes = {unit: (of, copper.get(unit)) for unit, of in sides.items()}
    standing = standing_contacts or ()
    for first in near:
        if first in found:
            continue
        # Whatever is being flooded stands in the map already, so that nothing is met twice.
        found[first] = _PENDING
        contacts, drivers, receivers = [first], [], []
        # Flooded contact by contact; it is the longest loop over a house with bays, so that nothing in it is a call it can do without.
        for here in contacts:
            unit, port, lane = here
            of, inner = boxes.get(unit, _LINE)  # type: ignore[arg-type]
            side = of[port] if of else "both"
            if side == "both":
                side = _side(here, of, profiles)
            if side == "out" or here in standing:
                drivers.append(here)
            elif side == "in":
                receivers.append(here)
            for contact in near.get(here, ()):
                if contact not in found:
                    found[contact] = _PENDING
                    contacts.append(contact)
            if inner is not None:
                for to, to_lane in inner.get((port, lane), ()):
                    contact = unit, to, to_lane
                    if contact not in found:
                        found[contact] = _PENDING
                        contacts.append(contact)
        net = Net(tuple(contacts), tuple(drivers), tuple(receivers))
        for contact in contacts:
            found[contact] = net


@renews(nets)
def _nets_again(
    was: Held,
    conductors: tuple[tuple[Cable, ...], tuple[Cable, ...]],
    copper: _Copper,
    profiles: Mapping[UnitId, Profile],
    cords: tuple[Cord, ...],
    sides: Mapping[UnitId, Mapping[str, str]],
    standing_contacts: frozenset[Contact],
    quiet: frozenset[Contact],
) -> dict[Contact, Net] | None:
    """Return the nets with those flooded again that hold an end of a joint that is new, gone or another."""
    had, joined, *others, plugged, lay, standing, silent = was.reads
    if [*others, lay, standing] != [profiles, sides, standing_contacts] or had[1] != conductors[1]:
        return None
    before: dict[Contact, Net] = was.value
    ends = set(chain.from_iterable(chain.from_iterable(joints_of(c, profiles) for c in between(had[0], conductors[0]))))
    ends.update(chain.from_iterable(_corded(between(plugged, cords), profiles)))
    ends |= _turned_copper(joined, copper)
    ends |= quiet ^ silent
    again = ends.union(*[before[end].contacts for end in ends if end in before])
    found: dict[Contact, Net] = dict.fromkeys(quiet, _PENDING)
    # A lead sits at its first channel of a line, and may bring further ones.
    seats: set[Seat] = {(key, port) for key, port, _ in again if key[:1] == LETTERS["units"]}
    seats.update(
        [(key, n, port) for key, port, lane in again if key[:1] != LETTERS["units"] for n in range(1, lane + 1)]
    )
    there = [c for c in conductors[0] if not seats.isdisjoint(c.places)]
    near = [
        joint
        for joint in chain(_joints(there, conductors[1], profiles), _corded(cords, profiles))
        if joint[0] in again or joint[1] in again
    ]
    _flood(near, copper, profiles, sides, standing_contacts, found)
    for contact, net in found.items():
        old = before.get(contact)
        # Copper joins either way: what is met has been told before of what it is joined to.
        if old is not None and contact not in again:
            return None
        if old == net:
            found[contact] = net if old is None else old
    if quiet:
        found = {contact: net for contact, net in found.items() if contact not in quiet}
    if all(found.get(contact) is before.get(contact) for contact in again) and found.keys() <= again:
        return before
    value = {**before, **found}
    for contact in again - found.keys():
        value.pop(contact, None)
    return value


def _turned_copper(then: _Copper, now: _Copper) -> set[Contact]:
    """Return the contacts that units join otherwise than they did, and those they are joined to now."""
    found: set[Contact] = set()
    for unit in changed_keys(now, then):
        one, other = then.get(unit, {}), now.get(unit, {})
        for port, lane in one.keys() | other.keys():
            if (near := other.get((port, lane), ())) != one.get((port, lane), ()):
                found.add((unit, port, lane))
                found.update([(unit, *at) for at in near])
    return found


@part
def each_net(nets: Mapping[Contact, Net]) -> tuple[Net, ...]:
    """Return every net once, by its first contact."""
    return tuple(sorted({id(net): net for net in nets.values()}.values()))


@renews(each_net)
def _each_again(was: Held, nets: Mapping[Contact, Net]) -> tuple[Net, ...]:
    gone, new = turned_nets(nets, was.reads[0])
    return tuple(sorted([*[net for net in was.value if id(net) not in gone], *new.values()]))


def turned_nets(now: Mapping[Contact, Net], then: Mapping[Contact, Net]) -> tuple[dict[int, Net], dict[int, Net]]:
    """Return the nets that are gone, and those that are new, each by which it is."""
    turned = changed_keys(now, then)
    old, new = ({id(net): net for net in map(of.get, turned) if net is not None} for of in (then, now))
    return old, new


def _joints(
    straight: Iterable[Cable], made_up: Iterable[Cable], profiles: Mapping[UnitId, Profile]
) -> Iterator[tuple[Contact, Contact]]:
    for cable in made_up:
        for group in joined_lanes(cable, lambda end: profiles[end.unit].port_by_key[end.port]):
            yield from pairwise([contact_of(cable.plugs[at], lane, profiles) for at, lane in group])
    singles = {unit: profile.single_contacts for unit, profile in profiles.items()}
    for cable in straight:
        one, other = cable.start, cable.end
        if isinstance(one, PortEnd) and isinstance(other, PortEnd):
            unit, port, there, into = one.unit, one.port, other.unit, other.port
            if port in singles[unit] and into in singles[there]:
                # Most of what is wired behind a bay.
                yield (unit, port, 1), (there, into, 1)
                continue
        yield from joints_of(cable, profiles)


def joints_of(cable: Cable, profiles: Mapping[UnitId, Profile]) -> list[tuple[Contact, Contact]]:
    """Return what a plain cable joins, from its first plug to its last."""
    start, port, first, lanes = _socket(cable.start, profiles)
    end, into, to, most = _socket(cable.end, profiles)
    if not first or not to:
        return [((start, port, 0), (end, into, 0))]
    return [
        ((start, port, first + lane), (end, into, to + lane)) for lane in range(1 if cable.wires else min(lanes, most))
    ]


def _corded(cords: Iterable[Cord], profiles: Mapping[UnitId, Profile]) -> Iterator[tuple[Contact, Contact]]:
    """Yield what cords join, lane by lane, of those with both plugs in existing points."""
    for cord in cords:
        lanes = [profiles[p.unit].port_by_key[p.port].channels for p in cord.plugs if _is_there(p, profiles)]
        if len(lanes) == len(cord.plugs) == 2:
            one, other = cord.plugs
            for lane in range(1, min(lanes) + 1):
                yield (one.unit, one.port, lane), (other.unit, other.port, lane)


def _is_there(end: PortEnd, profiles: Mapping[UnitId, Profile]) -> bool:
    return end.unit in profiles and end.port in profiles[end.unit].port_by_key


def _wide(
    in_use: Mapping[CableId, Cable], sorted_out: SortedOut, profiles: Mapping[UnitId, Profile]
) -> Iterator[Cable]:
    """Yield the straight leads that bring channels of a line of which another lead has one as well."""
    made_up = [p.line for key in sorted_out.made_up for p in in_use[key].plugs if isinstance(p, LineEnd)]
    lines = {source for source, channel in sorted_out.leads if channel > 1}.union(made_up)
    heard = Counter([p.line for cable in sorted_out.others for p in cable.plugs if isinstance(p, LineEnd)] + made_up)
    for cable in sorted_out.others:
        if any(isinstance(p, LineEnd) and heard[p.line] > 1 for p in cable.plugs) and _is_wide(cable, profiles):
            yield cable
    for line in lines:
        first, second = (sorted_out.leads.get((SourceId(line), channel)) for channel in (1, 2))
        if isinstance(first, Cable) and _is_wide(first, profiles):
            yield first
            # A lead with a wire of its own may bring the channel once more that the straight one has brought.
            if isinstance(second, Cable) and second is not first and second.is_plain and second.wires:
                yield second


def _is_wide(cable: Cable, profiles: Mapping[UnitId, Profile]) -> bool:
    """Say whether a straight cable brings several channels to an analogue socket."""
    if not cable.is_plain or cable.wires:
        return False
    end = next(p for p in cable.plugs if isinstance(p, PortEnd))
    port = profiles[end.unit].port_by_key[end.port]
    return port.channels > 1 and not port.is_digital


def contact_of(plug: Plug, lane: int, profiles: Mapping[UnitId, Profile]) -> Contact:
    """Return the contact in which one lane of a plug is."""
    if isinstance(plug, PortEnd):
        return plug.unit, plug.port, 0 if profiles[plug.unit].port_by_key[plug.port].is_digital else lane
    return plug.line, plug.side, lane


#: What one end of a straight cable sits in: unit and port or line and side, its first lane, how many it has; of a line, the channel at
#: which the end begins. A digital socket is one contact, its lane 0.
_Socket = tuple[UnitId | SourceId | DestinationId, str, int, int]


def _socket(end: End, profiles: Mapping[UnitId, Profile]) -> _Socket:
    if isinstance(end, PortEnd):
        port = profiles[end.unit].port_by_key[end.port]
        return (end.unit, end.port, 0, 1) if port.is_digital else (end.unit, end.port, 1, port.channels)
    if isinstance(end, SourceEnd):
        return end.source, "", end.channel, MOST_LANES
    return end.destination, end.side, end.channel, MOST_LANES


def side_of(contact: Contact, views: Mapping[UnitId, UnitView]) -> str:
    """Say whether a contact drives (``out``), listens (``in``), or only joins (empty)."""
    unit = UnitId(contact[0])
    view = views.get(unit)
    return _side(contact, view.sides if view is not None else {}, {unit: view.profile} if view is not None else {})


def _side(contact: Contact, sides: Mapping[str, str], profiles: Mapping[UnitId, Profile]) -> str:
    """Say so from the sides of its unit's sockets."""
    key, port, lane = contact
    if key[:1] == LETTERS["sources"]:
        return "out"
    if key[:1] == LETTERS["destinations"]:
        return "out" if port else "in"
    side = sides[port]
    return side if side != "both" else profiles[UnitId(key)].port_by_key[port].lane_directions[lane - 1]


@part
def sides(views: Mapping[UnitId, UnitView]) -> dict[UnitId, Mapping[str, str]]:
    """Return which way the sockets of each unit lie; a mode, a rate or a switch hardly ever changes that."""
    return {unit: view.sides for unit, view in views.items()}


@part
def standing_contacts(standing: tuple[tuple[SourceId, tuple[PortEnd, ...]], ...]) -> frozenset[Contact]:
    """Return the contacts that sources stand wired at: what is in a line drives it."""
    return frozenset(
        [(end.unit, end.port, ends[: at + 1].count(end)) for _, ends in standing for at, end in enumerate(ends)]
    )
