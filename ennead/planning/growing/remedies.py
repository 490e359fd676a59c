"""Remedies for a shortage: what could be changed or added, each tried out whole, with its price in parts."""

from collections.abc import Callable, Iterator, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

from ennead.edits.cables import added, connect, misfit
from ennead.edits.change import Change, Edit, step
from ennead.edits.house import add_unit
from ennead.edits.session import change_source, set_mains_silent, set_rate
from ennead.planning.growing.expansion import connect_expander
from ennead.planning.seating.allocation import Proposal, allocate, fixed_part
from ennead.planning.seating.linear import LIMIT_S, Watch
from ennead.planning.seating.proposal_change import take
from ennead.rules.mains_keep_outputs import kept_for_mains
from ennead.standards.links import family
from ennead.standards.rates import RATES_HZ, is_faster, rate_text, speed_of
from ennead.standards.signals import CABLE_LABELS
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.studio.ranges import in_ranges
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class Remedy:
    """One way out, carried out on a copy and allocated anew.

    Parameters
    ----------
    left : int
        Sources and destinations that still find no place.
    moves : int
        Lines that would be moved.
    parts : tuple of str
        What it takes: units, cables, adapters, outlets, rack units, menus, what becomes of the clock.
    price : float or None
        The sum of the prices the user has entered, in their own currency.
    unpriced : tuple of str
        What is to be bought and has no price.
    buys : int
        Units and cables to be bought.
    size : int
        Sockets of the box to be bought.
    clocked : bool
        Whether one unit can lead the clock of all it joins.
    change : Change
        All of it, the new allocation included.
    box, way : str
        The box to be bought, and the label without its name: what differs only in the box is one way.
    """

    label: str
    left: int
    moves: int
    parts: tuple[str, ...]
    price: float | None
    unpriced: tuple[str, ...]
    buys: int
    size: int
    clocked: bool
    change: Change
    box: str = ""
    way: str = ""


@dataclass(frozen=True, slots=True)
class _Try:
    """A change of the house or the session before it is known what it is worth."""

    label: str
    steps: tuple[Edit, ...]
    parts: tuple[str, ...] = ()
    bought: tuple[str, ...] = ()
    size: int = 0
    clocked: bool = True
    box: str = ""
    way: str = ""


def find_remedies(
    survey: Survey,
    catalogue: Sequence[Profile],
    keep_going: Callable[[float], bool] = lambda _: True,
    *,
    now: Proposal | None = None,
    limit_s: float = LIMIT_S,
) -> tuple[Remedy, ...]:
    """Return what mends a shortage, at least in part, the best first.

    Those without a possible clock leader stand last. First come those that leave fewest without a place, then those without anything to buy, then those whose price
    is known whole, the cheapest first, then the smallest box.

    Parameters
    ----------
    catalogue : sequence of Profile
        Boxes that could be added.
    now : Proposal, optional
        What is proposed without any of them, where it is known.
    limit_s : float, s
        How long all of it may take; then those found so far are returned.
    """
    watch = Watch(keep_going, limit_s)
    now = now or allocate(survey, keep_going=fixed_part(keep_going, 0.0), limit_s=limit_s)
    short = len(now.unplaced) + len(now.unplaced_outs or {})
    found: list[Remedy] = []
    if not short:
        return ()
    tries = []
    for one in _tries(survey, now, catalogue):
        tries.append(one)
        if watch.asks_to_stop(0.0):
            break
    for done, one in enumerate(tries):
        if watch.asks_to_stop(done / len(tries)):
            break
        remedy = _carried_out(survey, one, fixed_part(keep_going, done / len(tries)), watch.left_s)
        if remedy is not None and remedy.left < short:
            found.append(remedy)
    found.sort(
        key=lambda r: (
            not r.clocked,
            r.left,
            r.buys > 0,
            bool(r.unpriced),
            0.0 if r.unpriced else r.price or 0.0,
            r.size,
            r.buys,
            r.moves,
        )
    )
    return tuple(_best_of_each(found))


def by_way(remedies: Sequence[Remedy]) -> list[list[Remedy]]:
    """Return remedies by way, those together that differ only in the box: as good, with the same clock, and as many lines moved.

    The ways stand in the order of their best, and so do the boxes of each.
    """
    found: dict[tuple[object, ...], list[Remedy]] = {}
    for remedy in remedies:
        alike = (remedy.way, remedy.left, remedy.moves, remedy.clocked) if remedy.way else (remedy.label,)
        found.setdefault(alike, []).append(remedy)
    return list(found.values())


def _best_of_each(found: list[Remedy]) -> Iterator[Remedy]:
    """Yield remedies without those that buy the same kind of box for no better an outcome."""
    seen: set[tuple[str, int]] = set()
    for remedy in found:
        key = remedy.parts[0] if remedy.buys else remedy.label, remedy.left
        if key not in seen:
            seen.add(key)
            yield remedy


def _tries(survey: Survey, now: Proposal, catalogue: Sequence[Profile]) -> Iterator[_Try]:
    studio = survey.studio
    for rate in RATES_HZ:
        if is_faster(speed_of(survey.rate_hz), speed_of(rate)) and (rate % 44_100 == 0) == (
            survey.rate_hz % 44_100 == 0
        ):
            yield _Try(
                f"Go to {rate_text(rate)}",
                (step(set_rate, rate),),
                (f"the session runs at {rate_text(rate)}; tracks may change their numbers",),
            )
    bare = [s for s in now.unplaced if studio.sources[s].kind == "instrument" and not studio.sources[s].di]
    if bare:
        names = ", ".join(studio.sources[s].name for s in bare)
        box = "passive DI box"
        yield _Try(
            f"Put a {box} behind {names}",
            tuple(step(change_source, s, di="passive") for s in bare),
            (
                f"{len(bare)} × {box}",
                "each then takes a microphone input; leave its earth lift to the signal, never to the mains",
            ),
            (box,) * len(bare),
        )
    wanted = _kinds_wanted(survey, now)
    kept = kept_for_mains(studio.current, survey.destinations, survey.output_points)
    if now.unplaced_outs and kept:
        numbers = "–".join(str(n) for n in sorted(kept))
        yield _Try(
            "Let the mains be silent",
            (step(set_mains_silent, True),),
            (f"nobody listens on driver outputs {numbers} tonight; pull their plugs or switch the monitors off",),
        )
    bridges = [
        p
        for p in catalogue
        if not p.driver_maps and any(is_madi(c) for port in p.ports if port.direction == "out" for c in port.carries)
    ]
    for profile in catalogue:
        if _offers(profile, wanted):
            yield from _with_digital(survey, profile)
            for bridge in bridges:
                yield from _behind_bridge(survey, bridge, profile)
            yield from _in_front_of_lines(survey, profile)


def _kinds_wanted(survey: Survey, now: Proposal) -> set[str]:
    """Return the kinds of socket that those without a place could use."""
    kinds = set()
    for key in now.unplaced:
        source = survey.studio.sources[key]
        kinds.add(
            "mic" if source.is_microphone else {"instrument": "hiz", "digital": "digital"}.get(source.kind, "line")
        )
    if now.unplaced_outs:
        kinds.add("out")
    return kinds


def _offers(profile: Profile, wanted: set[str]) -> bool:
    """Say whether a box could help: it has sockets of a kind wanted, and is neither a computer's interface nor passive."""
    if profile.driver_maps or profile.role not in ("expander", "converter", "preamp"):
        return False
    offered: set[str] = {kind for p in profile.ports if p.direction == "in" for kind in p.carries}
    if any(p.direction == "out" and "line" in p.carries for p in profile.ports):
        offered.add("out")
    return bool(offered & wanted)


def is_madi(carried: str) -> bool:
    """Say whether a format is one of MADI's."""
    return family(carried) == family("madi")


def _added(studio: Studio, profile: Profile) -> tuple[Studio, UnitId, Edit]:
    edit = step(add_unit, profile)
    studio = edit(studio)
    return studio, UnitId(f"U{studio.counters['U']}"), edit


def _with_digital(survey: Survey, profile: Profile) -> Iterator[_Try]:
    """Yield the box on each interface that still has a free digital input."""
    if not any(p.is_digital and p.direction == "out" for p in profile.ports):
        return
    studio, unit, add = _added(survey.studio, profile)
    free = [
        u
        for u in (*survey.numbering.before_in, *_bridges(survey))
        if any(p.is_digital and p.key not in survey.held_inputs.get(u, ()) for p in survey.views[u].sockets)
    ]
    for interface in free:
        back = any(p.direction == "out" and not p.is_digital for p in profile.ports) and bool(
            survey.studio.current.destinations
        )
        try:
            found = connect_expander(Survey(studio), interface, unit, both_ways=back)
        except EnneadError:
            # What cannot be carried out is no remedy.
            continue
        name = survey.studio.units[interface].name
        yield _Try(
            f"Add {_a(profile.name)} on {name}",
            (add, *found.change.steps),
            (f"1 × {profile.name}", *_supply(profile), *(s for s in found.said if "needs an outlet" not in s)),
            (profile.name, *_cable_names(studio, found.after)),
            len(profile.ports),
            found.clocked,
            profile.name,
            f"Add a box on {name}",
        )


def _behind_bridge(survey: Survey, bridge: Profile, profile: Profile) -> Iterator[_Try]:
    """Yield the box behind a new MADI bridge on each interface with a free MADI input."""
    out = next((p for p in bridge.ports if p.direction == "out" and is_madi(p.carries[0])), None)
    if out is None or not any(p.is_digital and p.direction == "out" for p in profile.ports):
        return
    for interface in survey.numbering.before_in:
        held: AbstractSet[str] = survey.held_inputs.get(interface, frozenset())
        into = next(
            (
                p
                for p in survey.views[interface].sockets
                if is_madi(p.carries[0]) and p.key not in held and not misfit(out, p)
            ),
            None,
        )
        if into is None:
            continue
        studio, middle, first = _added(survey.studio, bridge)
        run = step(connect, PortEnd(middle, out.key), PortEnd(interface, into.key))
        try:
            studio, unit, second = _added(run(studio), profile)
            found = connect_expander(Survey(studio), middle, unit)
        except EnneadError:
            continue
        said = [s for s in found.said if "needs an outlet" not in s]
        yield _Try(
            f"Add {_a(profile.name)} behind {_a(bridge.name)} on {survey.studio.units[interface].name}",
            (first, run, second, *found.change.steps),
            (f"1 × {profile.name}", *_supply(profile), f"1 × {bridge.name}", *_supply(bridge), *said),
            (profile.name, bridge.name, *_cable_names(survey.studio, found.after)),
            len(profile.ports) + len(bridge.ports),
            found.clocked,
            profile.name,
            f"Add a box behind {_a(bridge.name)} on {survey.studio.units[interface].name}",
        )


def _bridges(survey: Survey) -> list[UnitId]:
    """Return boxes that carry digital inputs on to an interface: a MADI bridge behind its port, say."""
    return [
        u
        for u, view in survey.views.items()
        if not view.profile.driver_maps
        and any(p in view.digital and any(e[0] in view.digital for e in ends) for (p, _), ends in view.inside.items())
    ]


def _in_front_of_lines(survey: Survey, profile: Profile) -> Iterator[_Try]:
    """Yield a preamp with its line outputs in unused line inputs, a preamp's channels at a time."""
    outs = [p for p in profile.ports if p.direction == "out" and "line" in p.carries]
    if profile.role != "preamp" or not outs:
        return
    reserved = {e for d in survey.destinations for e in d.returns}
    lines = [
        s
        for s in survey.input_points
        if "line" in s.port.carries
        and not s.fault
        and len(s.drivers) == 1
        and s.port.key not in survey.held_inputs.get(s.unit, ())
        and s.end not in reserved
        and not misfit(outs[0], s.port)
    ]
    # Line inputs without a preamp first: the others are more wanted for themselves.
    lines.sort(key=lambda s: ("mic" in s.port.carries, s.number))
    lines = [s for s in lines if "mic" not in s.port.carries][: len(outs)] or lines[: len(outs)]
    if not lines:
        return
    studio, unit, add = _added(survey.studio, profile)
    steps = [step(connect, PortEnd(unit, out.key), point.end) for out, point in zip(outs, lines, strict=False)]
    names = [CABLE_LABELS[out.connector] for out, _ in zip(outs, lines, strict=False)]
    ends = in_ranges([studio.end_text(s.end) for s in lines])
    yield _Try(
        f"Put {_a(profile.name)} in front of {ends}",
        (add, *steps),
        (
            f"1 × {profile.name}",
            *_supply(profile),
            f"{len(names)} cable{'s' if len(names) > 1 else ''}: {names[0]}, to {ends}",
            "the clock stays as it is",
        ),
        (profile.name, *names),
        len(profile.ports),
        box=profile.name,
        way=f"Put a preamp in front of {ends}",
    )


def _a(name: str) -> str:
    """Return a name behind its article."""
    return f"{'an' if name[:1].lower() in 'aeiou' and not name.startswith('one') else 'a'} {name}"


def _supply(profile: Profile) -> list[str]:
    parts = []
    if profile.supply in ("mains", "adapter"):
        watts = f" ({profile.power_w:g} W)" if profile.power_w else ""
        parts.append(f"one outlet{watts}")
    if profile.rack_units:
        parts.append(f"{profile.rack_units:g} rack unit{'s' if profile.rack_units != 1 else ''}")
    return parts


def _cable_names(before: Studio, after: Studio) -> list[str]:
    new = added(before, after)
    names = [CABLE_LABELS[after.port(c.start).connector] for c in new if isinstance(c.start, PortEnd)]
    links = Survey(after).links
    return names + [f"adapter, {a.label}" for c in new if c.id in links for a in links[c.id].adapters]


def _carried_out(survey: Survey, one: _Try, keep_going: Callable[[float], bool], limit_s: float) -> Remedy | None:
    """Try a change and allocate anew; None where it cannot be done."""
    whole = Change(one.label, one.steps)
    try:
        studio = whole.apply(survey.studio)
    except EnneadError:
        return None
    after = Survey(studio)
    proposal = allocate(after, keep_going=keep_going, limit_s=limit_s)
    steps = whole.steps
    if proposal.changes:
        try:
            placed = take(after, proposal)
            placed.apply(studio)
        except EnneadError:
            return None
        steps += placed.steps
    prices = survey.studio.prices
    known = [prices[name] for name in one.bought if name in prices]
    unpriced = tuple(dict.fromkeys(name for name in one.bought if name not in prices))
    left = len(proposal.unplaced) + len(proposal.unplaced_outs or {})
    return Remedy(
        one.label,
        left,
        proposal.moves,
        one.parts,
        sum(known) if known else None if one.bought else 0.0,
        unpriced,
        len(one.bought),
        one.size,
        one.clocked,
        Change(one.label, steps),
        one.box,
        one.way,
    )
