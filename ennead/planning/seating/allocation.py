"""Allocation: every source, destination and reserved loop channel on a socket, as a proposal with its proof."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace

from ennead.planning.seating.corded import CordTo
from ennead.planning.seating.linear import LIMIT_S, Stage, Watch
from ennead.planning.seating.of_studio import pose
from ennead.planning.seating.options import Option, why_not
from ennead.planning.seating.problem import Seats
from ennead.planning.seating.seat import seat
from ennead.planning.seating.studio_problem import DemandOwner, Posed
from ennead.planning.seating.switching import BankSwitch, switch_over
from ennead.studio.house import Lead, LineEnd, PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.ranges import in_ranges
from ennead.studio.session import Destination, Source
from ennead.survey.input_points import InputPoint
from ennead.survey.output_points import output_point_at
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class Placement:
    """One source and the sockets proposed for it."""

    source: SourceId
    points: Option
    numbers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class OutPlacement:
    """One destination, the outputs proposed for it, and the inputs by which a loop comes back."""

    destination: DestinationId
    outputs: tuple[PortEnd, ...]
    returns: tuple[PortEnd, ...]
    numbers: tuple[int, ...]
    return_numbers: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Proposal:
    """What an allocation proposes.

    Parameters
    ----------
    placements, outs : tuple
        Only sources and destinations that would be plugged anew or moved, or that a cord is laid for.
    moves : int
        How many of these are plugged somewhere already.
    unplaced, unplaced_outs : map of source, or destination, to str
        Why nothing was found.
    stages : tuple of Stage
        What it costs, stage by stage, and what nothing can be below.
    unplugged : tuple of SourceId
        Sources without a place that cannot stay plugged where they are.
    switches : tuple of BankSwitch
        48 V switches to be set anew once all of it is carried out.
    cords : map of source, or destination, to tuple of CordTo
        The cords without which a source would not arrive where it is, or is to be, plugged in; those that take a destination's outputs to
        its box, and a loop back.
    """

    placements: tuple[Placement, ...]
    moves: int
    unplaced: dict[SourceId, str]
    outs: tuple[OutPlacement, ...] = ()
    unplaced_outs: dict[DestinationId, str] | None = None
    stages: tuple[Stage, ...] = ()
    unplugged: tuple[SourceId, ...] = ()
    switches: tuple[BankSwitch, ...] = ()
    cords: Mapping[SourceId | DestinationId, tuple[CordTo, ...]] = field(default_factory=dict)

    @property
    def proven(self) -> bool:
        """Whether nothing better is possible, stage by stage."""
        return all(stage.proven for stage in self.stages)

    @property
    def count(self) -> int:
        """How many lines would find another place."""
        return len(self.placements) + len(self.outs)

    @property
    def changes(self) -> bool:
        """Whether carrying it out would change anything at all."""
        return bool(self.placements or self.outs or self.unplugged or self.switches)

    @property
    def keys(self) -> frozenset[SourceId | DestinationId]:
        """The sources and destinations that would get another place."""
        return frozenset([*(p.source for p in self.placements), *(p.destination for p in self.outs)])

    def numbers_of(self, source: SourceId) -> tuple[int, ...]:
        """Return the driver numbers proposed for a source; empty where it stays."""
        return next((p.numbers for p in self.placements if p.source == source), ())

    def out_of(self, destination: DestinationId) -> OutPlacement | None:
        """Return what is proposed for a destination, or None where it stays."""
        return next((p for p in self.outs if p.destination == destination), None)


def allocate(
    survey: Survey,
    *,
    keep_going: Callable[[float], bool] = lambda _: True,
    limit_s: float = LIMIT_S,
    without: Iterable[PortEnd] = (),
    aims: tuple[str, ...] = (),
) -> Proposal:
    """Propose a place for everything that comes in and goes out in the current session.

    Hard rules are never broken; the aims are met in their order. Stopped early, it is the best found so far.

    Parameters
    ----------
    keep_going : callable
        Told the part done, 0 to 1; when it answers False the search stops with what it has.
    limit_s : float, s
    without : iterable of PortEnd
        Sockets to do without.
    aims : tuple of str
        The order of the aims; empty for the session's own.
    """
    posed = pose(survey, without=without, aims=aims)
    watch = Watch(keep_going, limit_s)
    found = seat(posed.problem, watch)
    return propose(posed, found.seating, found.stages, stopped=watch.stopped)


def propose(
    posed: Posed, seating: tuple[Seats | None, ...], stages: tuple[Stage, ...], *, stopped: bool = False
) -> Proposal:
    """Return a seating as what would change in the studio."""
    survey, studio = posed.survey, posed.survey.studio
    placements: list[Placement] = []
    legs: dict[DestinationId, dict[str, Seats | None]] = {}
    unplaced: dict[SourceId, str] = {}
    cords: dict[SourceId | DestinationId, tuple[CordTo, ...]] = {}
    moves = 0
    for who, place in zip(posed.asked, seating, strict=True):
        if who.leg != "source":
            legs.setdefault(DestinationId(who.key), {})[who.leg] = place
            continue
        source = studio.source(SourceId(who.key))
        cables = cables_of(survey, source)
        if place is not None and (laid := [posed.cords[end] for end in posed.ends(place) if end in posed.cords]):
            cords[source.id] = tuple(laid)
        if place is None:
            unplaced[source.id] = "the search was stopped" if stopped else why_not(survey, source)
        elif source.id in cords or tuple(c.end for c in cables) != posed.ends(place):
            points = tuple(s for s in (posed.sockets[slot][face] for slot, face in place) if isinstance(s, InputPoint))
            placements.append(Placement(source.id, points, posed.numbers(place)[: source.channels]))
            moves += bool(cables) and tuple(c.end for c in cables) != posed.ends(place)
    outs, without, moved = _outs(survey, posed, legs, {slot for place in seating for slot, _ in place or ()})
    cords |= {
        p.destination: new
        for p in outs
        if (new := tuple([c for end in dict.fromkeys(p.outputs) for c in posed.out_cords.get(end, ())]))
    }
    bare = Proposal(tuple(placements), moves + moved, unplaced, outs, without, stages, cords=cords)
    return _with_the_rest(survey, bare, stopped=stopped)


def _with_the_rest(survey: Survey, proposal: Proposal, *, stopped: bool) -> Proposal:
    """Return a proposal with the lines left without a place, and the positions of the 48 V switches."""
    studio = survey.studio
    new = {p.source: tuple(s.end for s in p.points) for p in proposal.placements}
    plugged = {s.id: tuple(c.end for c in cables_of(survey, s)) for s in studio.session_sources}
    taken = {end for ends in new.values() for end in ends} | {end for p in proposal.outs for end in p.returns}
    left = {key: ends for key in proposal.unplaced if (ends := plugged[key])}
    ousted = [key for key, ends in left.items() if not taken.isdisjoint(ends)]
    stays = {key: ends for key, ends in left.items() if key not in ousted}
    sits = {key: ends for key, ends in (plugged | new).items() if key not in left}
    switching = switch_over(survey, sits, stays)
    if not stopped:
        ousted += switching.contrary
    reasons = dict(proposal.unplaced)
    for key, ends in left.items():
        where = in_ranges([studio.end_text(end) for end in ends])
        reasons[key] += f"; it is unplugged from {where}" if key in ousted else f"; it stays plugged into {where}"
    return replace(proposal, unplaced=reasons, unplugged=tuple(ousted), switches=switching.switches)


def _outs(
    survey: Survey, posed: Posed, legs: dict[DestinationId, dict[str, Seats | None]], used: set[int]
) -> tuple[tuple[OutPlacement, ...], dict[DestinationId, str], int]:
    outs: list[OutPlacement] = []
    without: dict[DestinationId, str] = dict(posed.no_block)
    moved = 0
    at = output_point_at(survey.output_points)
    for key, (outputs, returns) in posed.standing.items():
        if (outputs, returns) != (survey.placed(key).outputs, survey.placed(key).returns):
            numbers = tuple(p.number for end in outputs for p in at.get(end, ())[:1])
            back_at = tuple(a.number for end in returns if (a := survey.arrival(end)) is not None)
            outs.append(OutPlacement(key, outputs, returns, numbers, back_at))
    for key, places in legs.items():
        destination = survey.placed(key)
        out, back = places.get("out"), places.get("return")
        taps = DemandOwner(key, "out") in posed.apart
        if (out is None and not taps) or ("return" in places and back is None):
            # A loop finds no place by half: what is said to be missing is the half that none is left for.
            none_out = out is None and not taps and not _is_free(posed, DemandOwner(key, "out"), used)
            without[key] = _missing(destination, none_out, same=posed.problem.same_numbers)
            continue
        outputs = posed.ends(out) if out is not None else destination.outputs
        returns = (
            posed.ends(back)
            if back is not None
            else destination.returns
            if DemandOwner(key, "return") in posed.apart
            else ()
        )
        if (outputs, returns) != (destination.outputs, destination.returns):
            numbers = posed.numbers(out) if out is not None else ()
            outs.append(OutPlacement(key, outputs, returns, numbers, posed.numbers(back) if back is not None else ()))
            moved += bool(destination.outputs)
    return tuple(outs), without, moved


def _is_free(posed: Posed, who: DemandOwner, used: set[int]) -> bool:
    """Say whether a place is left for a demand."""
    places = posed.problem.places(posed.problem.demands[posed.asked.index(who)])
    return any(not used & {slot for slot, _ in place} for place in places)


def _missing(destination: Destination, out: bool, *, same: bool) -> str:
    """Return what a destination found none of: outputs, or inputs for a loop's return."""
    if destination.kind == "loop" and same:
        return "no number is left by which it could both go out and come back"
    many = destination.channels if out else destination.backs
    pair, s = ("pair of ", "s") if many == 2 else ("", "")
    return f"no {pair}output{s} that may serve it is left" if out else f"no {pair}line input{s} is left for its return"


def cables_of(survey: Survey, source: Source) -> list[Lead]:
    """Return the cables a source's channels are on."""
    found = [survey.leads.get((source.id, c)) for c in range(1, source.channels + 1)]
    return [c for c in found if c is not None]


def leads_of(survey: Survey, source: Source) -> list[Lead]:
    """Return the cables a source has of its own; those of the house are never pulled."""
    own = [c for c in cables_of(survey, source) if any(isinstance(p, LineEnd) for p in survey.in_use[c.id].plugs)]
    # A second lead of its own would hold the channel it is to have a new cable on.
    further = [c for n in range(1, source.channels + 1) for c in survey.further_leads.get((source.id, n), ())]
    own += [c for c in further if survey.in_use[c.id].lines == {source.id}]
    return list({c.id: c for c in own}.values())


def fixed_part(keep_going: Callable[[float], bool], part: float) -> Callable[[float], bool]:
    """Return what watches over one of many searches: it is told how many of them are done, not how far this one is."""
    return lambda _: keep_going(part)
