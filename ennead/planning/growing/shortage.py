"""Why not everything fits: the rules and the sources that bind, none of which could be spared."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ennead.planning.seating.linear import LIMIT_S, Watch
from ennead.planning.seating.of_studio import RULES, pose
from ennead.planning.seating.options import input_wanted
from ennead.planning.seating.problem import Demand, Problem
from ennead.planning.seating.seat import seat
from ennead.planning.seating.studio_problem import DemandOwner, Posed
from ennead.standards.rates import rate_text
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey

DemandOwnerKey = SourceId | DestinationId


@dataclass(frozen=True, slots=True)
class Shortage:
    """What binds.

    Parameters
    ----------
    sources : tuple of SourceId or DestinationId
        A set that does not fit although every one of its parts would: without any one of them the rest does.
    rules : tuple of str
        The rules, of `RULES`, none of which could be spared; empty where there are simply too few sockets.
    sockets : int
        Sockets that could serve any of that set.
    must_go : tuple of SourceId or DestinationId
        The smallest set that has to be left out, the less important ones first.
    said : tuple of str
        All of it in words.
    """

    sources: tuple[SourceId | DestinationId, ...]
    rules: tuple[str, ...]
    sockets: int
    must_go: tuple[SourceId | DestinationId, ...]
    said: tuple[str, ...]


def find_shortage(
    survey: Survey, keep_going: Callable[[float], bool] = lambda _: True, limit_s: float = LIMIT_S
) -> Shortage | None:
    """Return what binds, or None where everything fits or the search was stopped.

    Parameters
    ----------
    limit_s : float, s

    Both sets are found by leaving out one member after the other: a member that can be spared is dropped for good, so that
    what is left is irreducible.
    """
    watch = Watch(keep_going, limit_s)
    posed = pose(survey)
    if not _falls_short(posed.problem, watch):
        return None
    members = _bare_members(posed, watch)
    relaxed: set[str] = set()
    for rule in RULES:
        if not watch.asks_to_stop(0.5) and _falls_short(_only(survey, members, frozenset({*relaxed, rule})), watch):
            relaxed.add(rule)
    if watch.stopped:
        return None
    rules = tuple(r for r in RULES if r not in relaxed)
    keys = tuple(dict.fromkeys(who.key for who in members))
    could_serve = _sockets(posed, members)
    wanting = tuple(dict.fromkeys((*keys, *_wanting(posed, could_serve))))
    sockets = len(could_serve)
    seating = seat(replace(posed.problem, aims=()), watch).seating
    must_go = tuple(dict.fromkeys(who.key for who, place in zip(posed.asked, seating, strict=True) if place is None))
    if watch.asks_to_stop(1.0):
        return None
    return Shortage(
        keys, rules, sockets, must_go, (*_words(survey, keys, wanting, rules, sockets), _must_go_text(survey, must_go))
    )


def _falls_short(problem: Problem, watch: Watch) -> bool:
    """Say whether some demand finds no place, regardless of priority."""
    if not problem.demands:
        return False
    flat = replace(
        problem, demands=tuple(replace(d, level=0, bundle=None, family=None) for d in problem.demands), aims=()
    )
    return seat(flat, watch).stages[0].value > 0


def _bare_members(posed: Posed, watch: Watch) -> list[DemandOwner]:
    """Return demands that do not fit together, none of which could be spared."""
    problem = posed.problem
    here = list(range(len(problem.demands)))

    def short(indices: Sequence[int]) -> bool:
        return _falls_short(replace(problem, demands=tuple(problem.demands[i] for i in indices)), watch)

    def like(demand: Demand) -> tuple[object, ...]:
        return demand.kind, demand.pair, demand.fixed

    kinds = list(dict.fromkeys(like(d) for d in problem.demands))
    for done, kind in enumerate(kinds):
        if watch.asks_to_stop(0.1 + 0.4 * done / len(kinds)):
            break
        mine = [i for i in here if like(problem.demands[i]) == kind]
        # How many of a kind are needed to fall short: fewer never fall short where more do not.
        low, high = 0, len(mine)
        while low < high:
            middle = (low + high) // 2
            gone = set(mine[middle:])
            if short([i for i in here if i not in gone]):
                high = middle
            else:
                low = middle + 1
        gone = set(mine[low:])
        here = [i for i in here if i not in gone]
    return [posed.asked[i] for i in here]


def _only(survey: Survey, members: Sequence[DemandOwner], relaxed: frozenset[str]) -> Problem:
    """Return the problem of some demands alone, looking away from some rules."""
    posed = pose(survey, relaxed=relaxed)
    kept = [d for d, who in zip(posed.problem.demands, posed.asked, strict=True) if who in set(members)]
    return replace(posed.problem, demands=tuple(kept))


def _sockets(posed: Posed, members: Sequence[DemandOwner]) -> set[int]:
    """Return the sockets that could serve any of some demands."""
    return {
        slot
        for demand, who in zip(posed.problem.demands, posed.asked, strict=True)
        if who in set(members)
        for slot in _could_serve(posed, demand)
    }


def _could_serve(posed: Posed, demand: Demand) -> set[int]:
    return {slot for place in posed.problem.places(replace(demand, fixed=False)) for slot, _ in place}


def _wanting(posed: Posed, sockets: set[int]) -> tuple[DemandOwnerKey, ...]:
    """Return all that only these sockets could serve: whichever of them are left out, the rest want them."""
    owners: dict[DemandOwnerKey, set[int]] = {}
    for demand, who in zip(posed.problem.demands, posed.asked, strict=True):
        owners.setdefault(who.key, set()).update(_could_serve(posed, demand))
    return tuple([key for key, could in owners.items() if could and could <= sockets])


def _must_go_text(survey: Survey, keys: Sequence[SourceId | DestinationId]) -> str:
    names = [name_of(survey, key) for key in keys]
    listed = ", ".join(names[:6]) + (f" and {len(names) - 6} more" if len(names) > 6 else "")
    return (
        f"At least {len(names)} {'has' if len(names) == 1 else 'have'} to go, and that is enough: {listed}, or others"
        f" like {'it' if len(names) == 1 else 'them'}."
    )


def name_of(survey: Survey, key: SourceId | DestinationId) -> str:
    """Return the name of a source or a destination."""
    studio = survey.studio
    return studio.source(SourceId(key)).name if key in studio.sources else studio.destinations[DestinationId(key)].name


_BECAUSE = {
    "48 V needed": "Those that need 48 V must sit where it can be switched on.",
    "48 V forbidden": (
        "Those that must not have 48 V cannot share a switch with those that need it: it is switched in groups."
    ),
    "pairs": "A stereo source needs two neighbours, odd and even, on one converter.",
    "kinds of input": (
        "Each needs an input of its kind: a preamp for a microphone, Hi-Z for a bare instrument, a line input for the"
        " rest."
    ),
    "wishes": "Some are wanted on a certain preamp or outboard.",
    "pins": "Some are pinned where they are.",
    "faults": "Sockets out of service are not used.",
    "returns": "Inputs are kept for the returns of loops.",
    "same numbers": "A loop goes out and comes back by one number, as the software wants it.",
}


def _words(
    survey: Survey,
    keys: Sequence[DemandOwnerKey],
    wanting: Sequence[DemandOwnerKey],
    rules: Sequence[str],
    sockets: int,
) -> tuple[str, ...]:
    because = tuple([_BECAUSE[rule] for rule in rules])
    rate, is_there = rate_text(survey.rate_hz), "socket is" if sockets == 1 else "sockets are"
    if sockets >= _channels(survey, keys):
        names = [name_of(survey, key) for key in keys]
        return (
            f"{_counted(survey, keys)} {'does not fit' if len(keys) == 1 else 'do not fit together'}, though"
            f" {sockets} {is_there} there for {'its' if len(keys) == 1 else 'their'} {_channels(survey, keys)}"
            f" channels at {rate}: {', '.join(names)}.",
            *because,
        )
    names, channels = [name_of(survey, key) for key in wanting], _channels(survey, wanting)
    there = f"{sockets or 'no'} {is_there} there for {'it' if len(names) == 1 else 'them'} at {rate}"
    what = _inputs_text(survey, wanting, channels)
    if len(names) == 1:
        return (f"{names[0]} wants {what}, and {there}.", *because)
    return (f"{_counted(survey, wanting)} together want {what} and {there}: {', '.join(names)}.", *because)


def _channels(survey: Survey, keys: Sequence[DemandOwnerKey]) -> int:
    studio = survey.studio
    sources = [studio.source(SourceId(k)) for k in keys if k in studio.sources]
    outs = [studio.destinations[DestinationId(k)].channels for k in keys if k in studio.destinations]
    return sum(1 if s.kind == "digital" else s.channels for s in sources) + sum(outs)


def _counted(survey: Survey, keys: Sequence[DemandOwnerKey]) -> str:
    sources = sum(k in survey.studio.sources for k in keys)
    kind = "line" if 0 < sources < len(keys) else "source" if sources else "destination"
    return f"{len(keys)} {kind}{'' if len(keys) == 1 else 's'}"


def _inputs_text(survey: Survey, keys: Sequence[DemandOwnerKey], channels: int) -> str:
    """Return what they want, counted: ``9 microphone inputs with 48 V``."""
    studio = survey.studio
    kinds = list(dict.fromkeys(input_wanted(studio.source(SourceId(k))) for k in keys if k in studio.sources))
    alike = len(kinds) == 1 and "pair" not in kinds[0] and all(k in studio.sources for k in keys)
    what = kinds[0] if alike else "input" if kinds else "output"
    if channels == 1:
        return f"1 {what}"
    what, *tail = re.split(r" (?=with)", what, maxsplit=1)
    return " ".join([f"{channels} {what}s", *tail])
