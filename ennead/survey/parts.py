"""Parts: plain functions with their reads as parameters, computed when first asked for and kept while the reads are unchanged.

A part is named by its function; its parameters name other parts, or fields of the wiring, and it is given nothing else, so that a
read that was forgotten cannot be written. What comes out equal to what was there before an edit stays the very same object, so that
whatever reads it is kept as well. Nothing is ever said to be out of date.
"""

import inspect
from collections.abc import Callable, Iterable, Mapping, Sequence
from itertools import compress, count
from operator import is_, is_not
from typing import Any, Final, NamedTuple, TypeVar, cast

T = TypeVar("T")
K = TypeVar("K")
V = TypeVar("V")


class Part(NamedTuple):
    """How one part is worked out.

    Parameters
    ----------
    reads : tuple of str
        Names of the parts given to it, one a parameter.
    of, at : tuple of int
        For a part that is a map: which of these maps are given as their entry of the key at hand; the keys are the first one's.
        And which as a question (key → entry or None), of which every answer is remembered.
    renew : callable or None
        Given the part as it was and what it reads now, it returns what ``make`` would, in the same order and with the entries that are as
        they were; or None where too much is otherwise.
    """

    name: str
    make: Callable[..., Any]
    reads: tuple[str, ...]
    of: tuple[int, ...] = ()
    at: tuple[int, ...] = ()
    renew: Callable[..., Any] | None = None


#: Every part by name.
PARTS: Final[dict[str, Part]] = {}


def part(make: Callable[..., T]) -> Callable[..., T]:
    """Register a function as the part of its name."""
    _register(Part(make.__name__, make, tuple(inspect.signature(make).parameters)))
    return make


def each(
    name: str, *, of: Mapping[str, str], at: Mapping[str, str] | None = None
) -> Callable[[Callable[..., V]], Callable[..., V]]:
    """Register a function as what makes one entry of a part that is a map.

    Parameters
    ----------
    of, at : map of parameter to part
        See `Part`.
    """
    at = at or {}

    def register(make: Callable[..., V]) -> Callable[..., V]:
        parameters = list(inspect.signature(make).parameters)
        reads = tuple(of.get(p) or at.get(p) or p for p in parameters)
        entries, asked = (tuple(parameters.index(p) for p in given) for given in (of, at))
        _register(Part(name, make, reads, entries, asked))
        return make

    return register


def renews(of: Callable[..., T]) -> Callable[[Callable[..., T | None]], Callable[..., T | None]]:
    """Register a function as what brings a part up to date after an edit."""
    name = of.__name__

    def register(renew: Callable[..., T | None]) -> Callable[..., T | None]:
        PARTS[name] = PARTS[name]._replace(renew=renew)
        return renew

    return register


def _register(new: Part) -> None:
    if PARTS.setdefault(new.name, new) is not new:
        raise ValueError(f"two parts are called {new.name}")


class Held(NamedTuple):
    """A part as it was worked out.

    Parameters
    ----------
    noted : map of key to tuple of list
        For a part that is a map, what each of its entries rests on: of each read that is asked, the keys it was asked for.
    """

    reads: tuple[Any, ...]
    value: Any
    noted: Mapping[Any, tuple[list[Any], ...]]


_NOTHING: Final[Mapping[Any, Any]] = {}
_ABSENT: Final = object()


def work_out(of: Part, reads: tuple[Any, ...], was: Held | None) -> Held:
    """Return a part: as it was where all it reads is as it was, else made anew as far as need be."""
    if was is not None and all(map(is_, was.reads, reads)):
        return was
    if of.of:
        return _entries(of, reads, was)
    if was is not None and of.renew is not None and (value := of.renew(was, *reads)) is not None:
        return Held(reads, value, _NOTHING)
    value = of.make(*reads)
    return Held(reads, value if was is None else kept(was.value, value), _NOTHING)


def kept(old: T, new: T) -> T:
    """Return the old value where the new one equals it; of dictionaries, the old entries as well."""
    if type(new) is not type(old):
        return new
    if not isinstance(new, dict):
        return old if old == new else new
    before = cast(dict[Any, Any], old)
    if type(new) is dict:
        # The same entry may stand under several keys, one behind the other, as a net does: it is compared once.
        last, same_as = (_ABSENT, _ABSENT), False
        for key, value in new.items():
            then = before.get(key, _ABSENT)
            if then is value:
                continue
            if then is not last[0] or value is not last[1]:
                last, same_as = (then, value), type(then) is type(value) and then == value
            if same_as:
                new[key] = then
    same = len(before) == len(new) and all(map(is_, before.values(), new.values())) and list(before) == list(new)
    return old if same else new


class Asked:
    """A map that answers for one key at a time, and keeps note of the key; nothing else can be learnt from it."""

    __slots__ = ("_answer", "notes")

    def __init__(self, answers: Mapping[Any, Any]) -> None:
        self._answer = answers.get
        self.notes: list[Any] = []

    def __call__(self, key: Any) -> Any:
        self.notes.append(key)
        return self._answer(key)


#: The two maps compared last, by which they are, with what came of it: several parts read one map.
_COMPARED: Final[dict[tuple[int, int], tuple[Any, Any, set[Any]]]] = {}
_MOST_COMPARED: Final = 24


def changed_keys(now: Mapping[Any, Any], then: Mapping[Any, Any]) -> set[Any]:
    """Return the keys for which a map answers otherwise than it did; the set is not to be changed."""
    known = _COMPARED.get((id(now), id(then)))
    if known is None or known[0] is not now or known[1] is not then:
        if len(_COMPARED) >= _MOST_COMPARED:
            _COMPARED.clear()
        known = _COMPARED[id(now), id(then)] = now, then, _compared(now, then)
    return known[2]


def forget_compared() -> None:
    """Let go of the maps compared last: a house surveyed anew is compared with none of them, and they hold whole surveys in memory."""
    _COMPARED.clear()


def _compared(now: Mapping[Any, Any], then: Mapping[Any, Any]) -> set[Any]:
    gone = then.keys() - now.keys()
    if gone:
        then = {**then}
        for key in gone:
            del then[key]
    if len(now) == len(then) and list(now) == list(then):
        # So it is after most edits, of maps of thousands.
        return gone.union(compress(now, map(is_not, now.values(), then.values())))
    return gone.union([key for key, entry in now.items() if then.get(key, _ABSENT) is not entry])


def in_that_order(then: Mapping[Any, Any], now: Mapping[Any, Any]) -> bool:
    """Say whether the keys that two maps share stand in the same order."""
    one, other = _apart([*then], [*now])
    return [*filter(now.__contains__, one)] == [*filter(then.__contains__, other)]


def between(then: Sequence[T], now: Sequence[T]) -> list[T]:
    """Return what two rows hold between the places up to which they are alike, from the front and from the back."""
    one, other = _apart(then, now)
    return [*one, *other]


def _apart(then: Sequence[T], now: Sequence[T]) -> tuple[Sequence[T], Sequence[T]]:
    least = min(len(then), len(now))
    front = next(compress(count(), map(is_not, then, now)), least)
    back = min(next(compress(count(), map(is_not, reversed(then), reversed(now))), least), least - front)
    return then[front : len(then) - back], now[front : len(now) - back]


def _entries(of: Part, reads: tuple[Any, ...], was: Held | None) -> Held:
    """Return a part that is a map: an entry is made again only where one of its reads has changed."""
    keys = reads[of.of[0]]
    if was is None or any(was.reads[i] is not now for i, now in enumerate(reads) if i not in of.of and i not in of.at):
        value, noted = _made(of, reads, keys)
        return Held(reads, value if was is None else kept(was.value, value), noted)
    turned: set[Any] = set()
    for i in of.of:
        if was.reads[i] is not reads[i]:
            turned |= changed_keys(reads[i], was.reads[i])
    # What an entry was asked for then it had the same answers to until now: only these keys have others.
    for n, i in enumerate(of.at):
        if was.reads[i] is not reads[i] and (other := changed_keys(reads[i], was.reads[i])):
            turned.update([key for key, answers in was.noted.items() if not other.isdisjoint(answers[n])])
    before = was.value
    gone = before.keys() - keys.keys()
    anew = [key for key in keys if key in turned or key not in before] if turned else []
    made, noted = _made(of, reads, anew)
    made = {key: entry for key, new in made.items() if (entry := kept(old := before.get(key, _ABSENT), new)) is not old}
    # It is in the order of its keys.
    as_it_was = not gone and list(before) == list(keys)
    if not made and as_it_was:
        return Held(reads, before, {**was.noted, **noted} if noted else was.noted)
    value = {**before, **made}
    notes = {**was.noted, **noted}
    for key in gone:
        del value[key]
        notes.pop(key, None)
    return Held(reads, value if as_it_was or list(value) == list(keys) else {key: value[key] for key in keys}, notes)


def _made(
    of: Part, reads: tuple[Any, ...], keys: Iterable[Any]
) -> tuple[dict[Any, Any], dict[Any, tuple[list[Any], ...]]]:
    """Return the entries of some keys, and what each of them asked for."""
    value: dict[Any, Any] = {}
    noted: dict[Any, tuple[list[Any], ...]] = {}
    given = list(reads)
    askers = [Asked(reads[i]) for i in of.at]
    for i, asked in zip(of.at, askers, strict=True):
        given[i] = asked
    entries, make = [(i, reads[i].get) for i in of.of], of.make
    if len(askers) == 1:
        # Nearly all are so; a house has thousands of keys.
        asked = askers[0]
        for key in keys:
            for i, entry_of in entries:
                given[i] = entry_of(key)
            asked.notes = []
            value[key] = make(*given)
            noted[key] = (asked.notes,)
        return value, noted
    for key in keys:
        for i, entry_of in entries:
            given[i] = entry_of(key)
        for asked in askers:
            # What is asked for this entry is noted in lists of its own.
            asked.notes = []
        if askers:
            noted[key] = tuple([asked.notes for asked in askers])
        value[key] = make(*given)
    return value, noted
