"""A dictionary that cannot be changed, only replaced."""

from collections.abc import Iterable, Mapping
from typing import NoReturn, TypeVar

K = TypeVar("K")
V = TypeVar("V")


class FrozenMap(dict[K, V]):
    """A dictionary that never changes after it is made.

    It is a `dict` so that reading, equality and JSON are as fast and as plain as they can be; the
    methods that would change it in place refuse.
    """

    __slots__ = ()

    def _refuse(self, *_args: object, **_kwargs: object) -> NoReturn:
        raise TypeError("a FrozenMap is replaced, never changed")

    __setitem__ = __delitem__ = __ior__ = _refuse
    clear = pop = popitem = setdefault = update = _refuse

    def __hash__(self) -> int:  # type: ignore[override]
        """Return the hash of its entries, in whatever order; so it can stand as a default, which must be hashable."""
        return hash(frozenset(self.items()))

    @classmethod
    def of(cls, entries: Mapping[K, V]) -> "FrozenMap[K, V]":
        """Return a map frozen; one that is frozen already stays the very same object."""
        return entries if isinstance(entries, cls) else cls(entries)

    def put(self, key: K, value: V) -> "FrozenMap[K, V]":
        """Return the map with one entry added or replaced; the order of the others stays."""
        return FrozenMap({**self, key: value})

    def put_all(self, entries: Mapping[K, V] | Iterable[tuple[K, V]]) -> "FrozenMap[K, V]":
        """Return the map with several entries added or replaced."""
        return FrozenMap({**self, **dict(entries)})

    def without(self, *keys: K) -> "FrozenMap[K, V]":
        """Return the map without some keys; keys that are not there do not matter."""
        return FrozenMap({k: v for k, v in self.items() if k not in keys})
