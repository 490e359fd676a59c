"""The possible clock leaders, with the cables and settings that each needs: ranked by the chosen policy."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from itertools import combinations, compress
from typing import Final, Literal, NamedTuple, get_args

from ennead.edits.cables import connect, disconnect
from ennead.edits.change import Change, Edit, step
from ennead.edits.settings import set_clock_source, set_mode
from ennead.planning.clock.arborescence import Edge, Tree
from ennead.planning.clock.clock_ways import NEW_CABLE, ClockWay, Sockets, clock_ways, closes_for_good, pulled_text
from ennead.planning.clock.line_ends import line_ends
from ennead.planning.clock.tree_within_sockets import MOST_NODES, tree_within_sockets
from ennead.standards.clock import UNSTATED_PPM
from ennead.standards.links import MANY_HOPS, WORD
from ennead.standards.rates import rate_text
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.clock import Domain
from ennead.survey.survey_interface import Parts

Policy = Literal["fewest", "computer", "best", "star", "mine"]
POLICIES: Final[tuple[Policy, ...]] = get_args(Policy)

#: Each school's name and its one sentence.
POLICY_TEXTS: Final[dict[Policy, tuple[str, str]]] = {
    "fewest": ("Fewest new cables", "Whoever can lead with the least to buy and to plug."),
    "computer": ("The computer's interface leads", "The rate follows the software; the others adopt it."),
    "best": ("The best clock leads", "The unit with the lowest stated jitter, then tolerance."),
    "star": (
        "House generator in a star",
        "A generator feeds everybody directly, so that nobody depends on a neighbour.",
    ),
    "mine": ("I choose", "Every unit that could lead, in the order of the house."),
}

#: Distributors tried as helpers. House default.
_MOST_HELPERS: Final = 3

#: In a star, a hop that is not straight from the leader costs more than a new cable. House defaults.
#: A star from a distributor beats a chain, and a chain beats T-pieces.
_HOP_IN_STAR, _T_IN_STAR = 2 * NEW_CABLE, 3 * NEW_CABLE


class Alternative(NamedTuple):
    """One unit leading, and all that follows from it.

    Parameters
    ----------
    ways : map of follower to ClockWay
    hops : map of UnitId to int
        Cables between the leader and each unit.
    tree : Tree
        What was found, and what no plan for this leader can be cheaper than.
    added : tuple of ClockWay
        Cables to add, with the sockets they are given.
    """

    leader: UnitId
    ways: Mapping[UnitId, ClockWay]
    hops: Mapping[UnitId, int]
    tree: Tree
    added: tuple[ClockWay, ...]

    @property
    def most_hops(self) -> int:
        """The longest way from the leader."""
        return max(self.hops.values())


@dataclass(frozen=True, slots=True)
class ClockPlan:
    """What can be done about the clock of one domain.

    Parameters
    ----------
    alternatives : tuple of Alternative
        The best first, by the policy.
    without_source : tuple of UnitId
        Units to which no cable could bring a clock; more than one means that no unit can lead.
    cannot_lead : map of UnitId to str
        Units that cannot lead, and why.
    """

    units: tuple[UnitId, ...]
    policy: Policy
    alternatives: tuple[Alternative, ...]
    without_source: tuple[UnitId, ...]
    cannot_lead: Mapping[UnitId, str]


def plan_clock(
    survey: Parts,
    domain: Domain,
    policy: Policy = "fewest",
    *,
    hops: int | None = None,
    most: int = MOST_NODES,
    stop: Callable[[], bool] = lambda: False,
) -> ClockPlan:
    """Return the ways in which a domain can run on one clock, the best first.

    Parameters
    ----------
    hops : int, optional
        The longest way from the leader that is allowed.
    """
    star = policy == "star"
    # All schools but the star find the same trees and differ only in which they put first.
    members, found, without, cannot = survey.once(_Trees(domain, star, hops, most, stop))
    ranked = sorted(found, key=lambda a: _rank(survey, a, policy))
    return ClockPlan(members, policy, tuple(ranked), without, cannot)


_Found = tuple[tuple[UnitId, ...], list[Alternative], tuple[UnitId, ...], dict[UnitId, str]]


@dataclass(frozen=True, slots=True)
class _Trees:
    """The trees of a domain from every leader, found once for all schools that ask the same."""

    domain: Domain = field(compare=False)
    star: bool
    hops: int | None
    most: int
    stop: Callable[[], bool] = field(compare=False)
    units: tuple[UnitId, ...] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "units", self.domain.units)

    def __call__(self, survey: Parts) -> _Found:
        return _all_leaders(survey, self.domain, star=self.star, hops=self.hops, most=self.most, stop=self.stop)


def _all_leaders(
    survey: Parts, domain: Domain, *, star: bool, hops: int | None, most: int, stop: Callable[[], bool]
) -> _Found:
    # Boxes that only give a clock need not be in step with another unit: they are used, or left aside. One that is fed stays in step.
    clocks = [(link.end.unit, link.clock[1]) for link in survey.links.values() if link.clock is not None]
    fed = {unit for unit, arrival in clocks if arrival.joins and arrival.unit in domain.units}
    members = tuple(u for u in domain.units if survey.profiles[u].role != "clock" or u in fed) or domain.units
    serving = tuple(u for u in domain.units if u not in members)
    idle = _idle_clock_boxes(survey, domain)
    sockets = clock_ways(survey, (*members, *serving, *idle))
    entered = {w.end.unit for w in sockets.ways}
    # What lacks the rate is brought into step where a cable is there; else it is left aside. It leads in no case.
    candidates = members
    members = tuple(u for u in members if survey.views[u].runs or u in entered)
    without = tuple(u for u in members if u not in entered)
    helpers = [u for u in (*serving, *idle) if u in entered][:_MOST_HELPERS]
    found: list[Alternative] = []
    cannot: dict[UnitId, str] = {}
    for leader in (*candidates, *serving, *idle):
        if stop():
            break
        name = survey.units[leader].name
        if not survey.views[leader].runs:
            off = survey.views[leader].off
            cannot[leader] = f"{name} {'is switched off' if off else f'does not run at {rate_text(survey.rate_hz)}'}."
            continue
        if not any(c.port is None for c in survey.profiles[leader].clock_sources):
            cannot[leader] = f"{name} has no clock of its own."
            continue
        stuck = [survey.units[u].name for u in without if u != leader]
        if stuck:
            cannot[leader] = f"{' and '.join(stuck)} cannot be brought any clock, so one of them would have to lead."
            continue
        nodes = list(dict.fromkeys((*members, leader)))
        others = [u for u in helpers if u != leader]
        attempts = [
            _with_leader(survey, sockets, leader, [*nodes, *some], star=star, hops=hops, most=most, stop=stop)
            for count in range(len(others) + 1)
            for some in combinations(others, count)
        ]
        alternative = min((a for a in attempts if a is not None), key=lambda a: a.tree.cost, default=None)
        if alternative is None:
            cannot[leader] = f"From {name} not everybody can be reached: the free sockets do not suffice."
        else:
            found.append(alternative)
    return members, found, without, cannot


def _idle_clock_boxes(survey: Parts, domain: Domain) -> tuple[UnitId, ...]:
    """Return the generators and distributors of the house without followers."""
    boxes = (d.units for d in survey.clocks.domains if all(survey.profiles[u].role == "clock" for u in d.units))
    return tuple(u for units in boxes for u in units if u not in domain.units)


def _with_leader(
    survey: Parts,
    sockets: Sockets,
    leader: UnitId,
    nodes: list[UnitId],
    *,
    star: bool,
    hops: int | None,
    most: int,
    stop: Callable[[], bool],
) -> Alternative | None:
    number = {u: i for i, u in enumerate(nodes)}
    groups = {g: i for i, g in enumerate(sockets.room)}
    hop = _HOP_IN_STAR if star else 0
    # In a star a distributor is as good as the generator in front of it.
    straight = {leader, *(u for u in nodes if star and survey.profiles[u].role == "clock")}
    ways = [w for w in sockets.ways if w.start.unit in number and w.end.unit in number and w.end.unit != leader]
    edges = [
        Edge(
            number[w.start.unit],
            number[w.end.unit],
            w.cost + (0 if w.start.unit in straight else hop) + (_T_IN_STAR if star and w.shared else 0),
            groups[w.group] if w.group else -1,
        )
        for w in ways
    ]
    rooms = list(sockets.room.values())
    tree = tree_within_sockets(len(nodes), number[leader], edges, rooms, hops, most, stop, NEW_CABLE)
    if tree is None:
        return None
    found = _on_outputs(survey, sockets, leader, nodes, ways, tree)
    if found is None:
        # Two inputs that cannot but close their line met on one: each is given an output of its own.
        apart = [not (w.shared and closes_for_good(survey, w.end)) for w in ways]
        ways, edges = list(compress(ways, apart)), list(compress(edges, apart))
        other = tree_within_sockets(len(nodes), number[leader], edges, rooms, hops, most, stop, NEW_CABLE)
        if other is not None:
            found = _on_outputs(survey, sockets, leader, nodes, ways, replace(other, bound=tree.bound))
    return found


def _on_outputs(
    survey: Parts, sockets: Sockets, leader: UnitId, nodes: list[UnitId], ways: list[ClockWay], tree: Tree
) -> Alternative | None:
    """Return a tree of ways with an output for each new cable; None where a line would be closed twice for good."""
    chosen = {ways[i].end.unit: ways[i] for i in tree.edges}
    far = {leader: 0}

    def distance(unit: UnitId) -> int:
        if unit not in far:
            far[unit] = distance(chosen[unit].start.unit) + 1
        return far[unit]

    for unit in nodes:
        distance(unit)
    added = _seated(survey, sockets, chosen, far)
    return None if added is None else Alternative(leader, chosen, {u: far[u] for u in nodes}, tree, added)


def _seated(
    survey: Parts, sockets: Sockets, chosen: Mapping[UnitId, ClockWay], far: Mapping[UnitId, int]
) -> tuple[ClockWay, ...] | None:
    """Assign an output to each new cable; T-pieces are only put on outputs already in use.

    The last cable on a line is its far end: there comes an input that cannot but close it.
    """
    left = {group: list(ports) for group, ports in sockets.free.items()}
    added: list[ClockWay] = []
    order = sorted(chosen, key=lambda u: (far[u], u))
    for unit in order:
        way = chosen[unit]
        if way.cable is not None:
            continue
        outputs = left[way.group]  # type: ignore[index]
        added.append(way._replace(start=outputs[0] if way.shared else outputs.pop(0)))
    seated = _on_lines(survey, sockets, added)
    return None if seated is None else tuple(sorted(seated, key=lambda w: closes_for_good(survey, w.end)))


def _on_lines(survey: Parts, sockets: Sockets, added: list[ClockWay]) -> list[ClockWay] | None:
    """Spread what shares word-clock outputs over those that carry a cable and have room."""
    from ennead.standards.links import MOST_ON_T_LINE

    on_it: dict[PortEnd, int] = {}
    for way in sockets.ways:
        if way.cable is not None and way.kind in WORD:
            on_it[way.start] = on_it.get(way.start, 0) + 1
    for way in added:
        if not way.shared and way.kind in WORD:
            on_it[way.start] = on_it.get(way.start, 0) + 1
    seated = []
    closed = {w.start for w in added if not w.shared and closes_for_good(survey, w.end)}
    for way in added:
        if way.shared:
            outputs = sockets.free[way.group]  # type: ignore[index]
            if closes_for_good(survey, way.end):
                outputs = [output for output in outputs if output not in closed]
                if not outputs:
                    return None
            start = min(
                outputs, key=lambda o: (on_it.get(o, 0) == 0, on_it.get(o, 0) >= MOST_ON_T_LINE, on_it.get(o, 0))
            )
            on_it[start] = on_it.get(start, 0) + 1
            if closes_for_good(survey, way.end):
                closed.add(start)
            seated.append(way._replace(start=start))
        else:
            seated.append(way)
    return seated


def _rank(survey: Parts, alternative: Alternative, policy: Policy) -> tuple[object, ...]:
    leader = alternative.leader
    profile = survey.profiles[leader]
    here = list(survey.units).index(leader)
    leads_now = survey.clocks.by_unit[leader].state != "leads"
    few = (len(alternative.added), alternative.tree.cost, leads_now, here)
    if policy == "computer":
        return (leader not in survey.numbering.computer_of, *few)
    if policy == "best":
        jitter = float("inf") if profile.jitter_ps is None else profile.jitter_ps
        return (jitter, UNSTATED_PPM if profile.ppm is None else profile.ppm, *few)
    if policy == "star":
        return (profile.role != "clock", alternative.tree.cost, *few)
    return (here,) if policy == "mine" else few


def clock_change(survey: Parts, alternative: Alternative) -> Change:
    """Return the change that lets a unit lead: cables, clock menus, and the ends of new word-clock lines closed."""
    steps: list[Edit] = [step(disconnect, way.pulls) for way in alternative.added if way.pulls is not None]
    steps += [step(connect, way.start, way.end) for way in alternative.added]
    steps += [step(set_mode, way.end.unit, *way.sets) for way in alternative.ways.values() if way.sets is not None]
    own = next(c.key for c in survey.profiles[alternative.leader].clock_sources if c.port is None)
    wanted = {alternative.leader: own, **{unit: way.source for unit, way in alternative.ways.items()}}
    steps += [step(set_clock_source, u, s) for u, s in wanted.items() if survey.settings[u].clock_source != s]
    steps += line_ends(survey, alternative.added)
    return Change(f"Let {survey.units[alternative.leader].name} lead the clock", tuple(steps))


class NobodyCanLead(EnneadError):
    """A domain that no cable brings onto one clock.

    Parameters
    ----------
    reasons : tuple of str
        Whole sentences.
    """

    def __init__(self, reasons: tuple[str, ...]) -> None:
        super().__init__(reasons)
        self.reasons = reasons

    def __str__(self) -> str:
        return f"Nobody can lead them all. {' '.join(self.reasons[:2])} Free a socket, or add a word-clock distributor."


def clock_anew(survey: Parts, unit: UnitId, stop: Callable[[], bool] = lambda: False) -> Change:
    """Return the change that brings a unit's domain onto one clock with the fewest new cables.

    Raises
    ------
    NobodyCanLead
    """
    plan = plan_clock(survey, survey.clocks.domain_of(unit), stop=stop)
    if not plan.alternatives:
        raise NobodyCanLead(tuple(dict.fromkeys(plan.cannot_lead.values())))
    return clock_change(survey, plan.alternatives[0])


def menus(survey: Parts, alternative: Alternative) -> dict[UnitId, str]:
    """Return what every unit's clock menu has to be set to, in the words of its menu."""
    own = next(c.label for c in survey.profiles[alternative.leader].clock_sources if c.port is None)
    found = {alternative.leader: own}
    for unit, way in alternative.ways.items():
        entry = survey.profiles[unit].clock_source(way.source)
        found[unit] = entry.label if entry is not None else way.source
    return found


def forced(survey: Parts, plan: ClockPlan) -> str:
    """Return why over the cables that are there one unit alone can lead; empty where there is a choice."""
    over_these = [a for a in plan.alternatives if not a.added]
    if len(over_these) != 1 or len(plan.alternatives) + len(plan.cannot_lead) < 2:
        return ""
    leader = survey.units[over_these[0].leader].name
    return (
        f"Over the cables that are there only {leader} can lead: clock runs the same way as sound, and nothing runs"
        " back to it."
    )


def consequences(survey: Parts, alternative: Alternative) -> tuple[str, ...]:
    """Return what a choice brings with it, a sentence each."""
    leader = alternative.leader
    name = survey.units[leader].name
    said = []
    if leader in survey.numbering.computer_of:
        said.append(f"The rate follows the software, through {name}.")
    elif survey.numbering.computer_of:
        said.append(f"The rate is then set by hand on {name}, and again in the software.")
    switches = [
        survey.units[u].name for u in alternative.hops if u != leader and survey.settings[u].rate_hz is not None
    ]
    if switches:
        said.append(f"{' and '.join(switches)} must be set to the same rate by hand.")
    said += [
        f"{pulled_text(survey, way.pulls)}: this cable has to be pulled."
        for way in alternative.added
        if way.pulls is not None
    ]
    for way in alternative.ways.values():
        if way.sets is not None:
            mode = survey.profiles[way.end.unit].mode(way.sets[0])
            to = mode.label_of(way.sets[1]) if mode is not None else way.sets[1]
            said.append(f"{survey.end_text(way.end)} has to be set to {to}.")
    far = [survey.units[u].name for u, hops in alternative.hops.items() if hops > MANY_HOPS]
    if far:
        said.append(f"{' and '.join(far)} would be more than {MANY_HOPS} hops from the leader.")
    said += [f"{a.label}: {a.caution}." for way in alternative.added for a in way.adapters if a.caution]
    if any(way.shared for way in alternative.added):
        said.append("T-pieces share an output; a distributor would be the better way.")
    if not alternative.tree.proven:
        said.append("The search was stopped: there may be a cheaper way.")
    return tuple(said)
