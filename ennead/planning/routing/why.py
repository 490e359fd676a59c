"""Why a line is where it is, why it is not elsewhere, and what elsewhere would cost."""

from collections.abc import Callable
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from ennead.planning.growing.shortage import name_of
from ennead.planning.routing.out_reasons import out_rules, place_from, why_not_from
from ennead.planning.routing.placing import Refused, hard_reason
from ennead.planning.seating.allocation import Proposal, propose
from ennead.planning.seating.linear import Watch
from ennead.planning.seating.of_studio import pose
from ennead.planning.seating.options import banks_of, input_wanted, options_for, phantom_wish
from ennead.planning.seating.problem import LeftOut, Problem, Seating, Seats, score
from ennead.planning.seating.reach import CABLE, CABLE_TO_ANOTHER_PLACE, CORD, STANDING
from ennead.planning.seating.seat import seat
from ennead.planning.seating.studio_problem import DemandOwner, Posed
from ennead.planning.seating.variants import held_to, kept_from
from ennead.rules.may_sit import way_wanted
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey

KeepGoing = Callable[[float], bool]

#: The least of all seatings of a survey, once it is proven: every question of that survey is compared with it.
_BASES: WeakKeyDictionary[Survey, Seating] = WeakKeyDictionary()


@dataclass(frozen=True, slots=True)
class Elsewhere:
    """What another place of one line would cost, with all others placed as well as can be around it.

    Parameters
    ----------
    place : str
        In words; empty where there is none.
    broken : str
        The rule that forbids it; empty where it may be.
    costs : tuple of str
        Stage by stage, only where it is worse or better; empty where it costs nothing.
    proposal : Proposal or None
        All that would change; None where it may not be.
    """

    place: str
    numbers: tuple[int, ...]
    broken: str
    costs: tuple[str, ...]
    proposal: Proposal | None


@dataclass(frozen=True, slots=True)
class Reasons:
    """Why a line is where it is: the rules that leave it there, and the next best place with its cost."""

    here: tuple[str, ...]
    next_best: Elsewhere | None


def why_here(survey: Survey, key: SourceId | DestinationId, keep_going: KeepGoing = lambda _: True) -> Reasons:
    """Return why a source or a destination sits where the plan has it, and what the next best place would cost."""
    posed = pose(survey)
    index = _index(posed, key)
    studio = survey.studio
    hears = key in studio.destinations
    here = tuple(
        out_rules(survey, survey.placed(DestinationId(key)), posed, index)
        if hears
        else _rules_here(survey, SourceId(key))
    )
    now = posed.problem.demands[index].numbered if index is not None else None
    if index is None or now is None:
        return Reasons(here, None)
    watch = Watch(keep_going)
    base = _base(survey, posed, watch)
    other = seat(kept_from(posed.problem, index, [slot for slot, _ in now]), watch).seating
    return Reasons(here, _compared(survey, posed, index, base, other))


def why_not_there(
    survey: Survey, key: SourceId | DestinationId, end: PortEnd, keep_going: KeepGoing = lambda _: True
) -> Elsewhere:
    """Return what forbids a source or a destination a socket, or what it would cost to have it there."""
    studio = survey.studio
    text = studio.end_text(end)
    posed = pose(survey)
    index = _index(posed, key)
    place: Seats | None
    if key in studio.destinations:
        destination = studio.destinations[DestinationId(key)]
        place = place_from(posed, index, end) if index is not None else None
        if index is not None and place is None:
            return Elsewhere(
                text, (), f"{destination.name} cannot be placed: {why_not_from(survey, destination, end)}.", (), None
            )
    else:
        try:
            option = hard_reason(posed.survey, studio.source(SourceId(key)), end)
        except Refused as refusal:
            return Elsewhere(text, (), str(refusal), (), None)
        place = _place_of(posed, tuple(s.end for s in option))
    if index is None or place is None:
        return Elsewhere(text, (), f"{text} cannot be used now", (), None)
    watch = Watch(keep_going)
    base = _base(survey, posed, watch)
    forced = seat(held_to(posed.problem, index, place), watch).seating
    return _compared(survey, posed, index, base, forced)


def _base(survey: Survey, posed: Posed, watch: Watch) -> Seating:
    base = _BASES.get(survey)
    if base is None:
        found = seat(posed.problem, watch)
        base = found.seating
        if found.proven:
            _BASES[survey] = base
    return base


def _index(posed: Posed, key: SourceId | DestinationId) -> int | None:
    return next((i for i, who in enumerate(posed.asked) if who.key == key), None)


def _place_of(posed: Posed, ends: tuple[PortEnd, ...]) -> Seats | None:
    found = []
    for end in ends:
        entry = next(
            ((s, f) for s, held in enumerate(posed.sockets) for f, socket in enumerate(held) if socket.end == end), None
        )
        if entry is None:
            return None
        found.append(entry)
    return tuple(found)


def _compared(survey: Survey, posed: Posed, index: int, base: Seating, other: Seating) -> Elsewhere:
    problem, place = posed.problem, other[index]
    if place is None:
        what = "input" if posed.asked[index].leg == "source" else "output"
        return Elsewhere("", (), f"no other {what} would serve it while the rest keep theirs", (), None)
    text = ", ".join(survey.studio.end_text(end) for end in posed.ends(place))
    who = posed.asked[index]
    back = next((i for i, other_leg in enumerate(posed.asked) if other_leg == DemandOwner(who.key, "return")), None)
    if back is not None and other[back] is None:
        same = " by the same number" if problem.same_numbers else ""
        return Elsewhere(
            text, (), f"{name_of(survey, who.key)} would not come back: no input is left for its return{same}", (), None
        )
    costs = tuple(_differences(survey, posed, problem, base, other))
    return Elsewhere(text, posed.numbers(place), "", costs, propose(posed, other, ()))


def _differences(survey: Survey, posed: Posed, problem: Problem, base: Seating, other: Seating) -> list[str]:
    said = []
    for stage, was, now in zip(problem.stages, score(problem, base), score(problem, other), strict=True):
        if was == now:
            continue
        if isinstance(stage, LeftOut):
            names = [
                name_of(survey, who.key)
                for who, a, b in zip(posed.asked, base, other, strict=True)
                if a is not None and b is None
            ]
            said.append(
                f"{', '.join(dict.fromkeys(names))} would find no place" if now > was else "more would find a place"
            )
        elif stage == "moves":
            names = _moved(survey, posed, problem, other)
            said.append(
                f"{_more(was, now, ('line moved', 'lines moved'))}" + (f": {', '.join(names[:5])}" if now > was else "")
            )
        elif stage == "order":
            said.append("higher numbers" if now > was else "lower numbers")
        elif stage == "wiring":
            price = f"{CABLE} a new cable in the room, {CABLE_TO_ANOTHER_PLACE} to another place, {CORD} a cord"
            said.append(
                f"{'more' if now > was else 'less'} new cable: {now} instead of {was} ({price}; standing wiring"
                f" {STANDING})"
            )
        else:
            said.append(_more(was, now, _UNITS[stage]))
    return said


#: What one, and what several more of an aim are.
_UNITS = {
    "numbers": ("number changed", "numbers changed"), "skew": ("group out of step", "groups out of step"),
    "adapters": ("adapter", "adapters"), "spare": ("spare input missing", "spare inputs missing"),
    "together": ("box in use by a group or a place", "boxes in use by groups and places"), "switches": ("48 V switch set anew", "48 V switches set anew"),
}  # fmt: skip


def _moved(survey: Survey, posed: Posed, problem: Problem, other: Seating) -> list[str]:
    moved = (
        name_of(survey, who.key)
        for who, demand, place in zip(posed.asked, problem.demands, other, strict=True)
        if demand.home is not None and place != demand.home
    )
    return list(dict.fromkeys(moved))


def _more(was: int, now: int, words: tuple[str, str]) -> str:
    number = abs(now - was)
    return f"{number} {'more' if now > was else 'fewer'} {words[number != 1]}"


def _rules_here(survey: Survey, source_id: SourceId) -> list[str]:
    """Return the rules that leave a source where it is, from the hardest on."""
    studio = survey.studio
    source = studio.source(source_id)
    options = options_for(survey, source)
    said = [
        f"It wants a {input_wanted(source)}: {len(options)} {'place' if len(options) == 1 else 'places'} could serve."
    ]
    cables = [survey.leads.get((source_id, c)) for c in range(1, source.channels + 1)]
    ends = {c.end for c in cables if c is not None}
    mine = next((o for o in options if {s.end for s in o} == ends), None)
    if source.pinned:
        said.append("It is pinned there.")
    if mine is None:
        return said
    wish = phantom_wish(source, mine)
    for unit, key in dict.fromkeys(banks_of(mine)):
        bank = next(b for b in survey.profiles[unit].banks if b.key == key)
        if wish:
            said.append(f"{studio.units[unit].name}'s {bank.label} must be {'on' if wish > 0 else 'off'} for it.")
    if source.channels == 2 and source.kind != "digital":
        said.append("Its two sides sit on odd and even neighbours of one converter.")
    if source.coherent and source.group:
        said.append(f"It stays in step with the rest of {source.group}.")
    if source.preamp or source.outboard:
        said.append(f"It is wanted {way_wanted(survey, source)}.")
    if source.place is not None and studio.units[mine[0].unit].place == source.place:
        said.append(f"Both stand in {studio.places[source.place].name}.")
    return said
