"""Frozen dataclasses whose definition is quick: the document's classes are all defined before the window is seen."""

import dataclasses
from collections.abc import Callable
from operator import attrgetter
from typing import TYPE_CHECKING, Any, NoReturn

__all__ = ["record"]

if TYPE_CHECKING:
    from dataclasses import dataclass as record
else:

    def record(*, frozen: bool) -> Callable[[type], type]:
        """Make a class what ``dataclass(frozen=True)`` makes of it.

        The standard decorator writes six functions for each class as text and compiles them, which for the
        document's classes took a tenth of the time to the first paint. Here all classes share theirs; `fields`,
        `replace` and pydantic see an ordinary dataclass. For small classes that are made or hashed by the
        thousand the standard one stays the better choice.

        Raises
        ------
        TypeError
        """
        if not frozen:
            raise TypeError("a record is frozen")
        return _made


def _made(cls: type) -> type:
    cls = dataclasses.dataclass(init=False, repr=False, eq=False)(cls)
    fields = dataclasses.fields(cls)
    names = tuple(f.name for f in fields)
    made: dict[str, Any] = {
        "__init__": _init(cls, fields),
        "__eq__": _eq(attrgetter(*names)) if len(names) > 1 else _eq(lambda one: (getattr(one, names[0]),)),
        "__hash__": _hash(attrgetter(*names)),
        "__setattr__": _refuse,
        "__delattr__": _refuse,
    }
    if "__repr__" not in cls.__dict__:
        made["__repr__"] = _repr
    for name, function in made.items():
        setattr(cls, name, function)
    return cls


def _init(cls: type, fields: tuple[Any, ...]) -> Callable[..., None]:
    names = tuple(f.name for f in fields)
    defaults = {f.name: f.default for f in fields if f.default is not dataclasses.MISSING}
    factories = [(f.name, f.default_factory) for f in fields if f.default_factory is not dataclasses.MISSING]
    known = frozenset(names)
    after = getattr(cls, "__post_init__", None)

    def make(self: Any, *args: Any, **given: Any) -> None:
        if args:
            if len(args) > len(names):
                raise TypeError(f"{cls.__name__} takes {len(names)} values, not {len(args)}")
            placed = dict(zip(names, args, strict=False))
            if twice := placed.keys() & given.keys():
                raise TypeError(f"{cls.__name__} is given {', '.join(sorted(twice))} twice")
            given = placed | given
        values = {**defaults, **given}
        for name, default in factories:
            if name not in values:
                values[name] = default()
        if values.keys() != known:
            wrong = ", ".join(sorted(values.keys() ^ known))
            raise TypeError(f"{cls.__name__} is missing, or does not know: {wrong}")
        self.__dict__.update(values)
        if after is not None:
            after(self)

    return make


def _eq(values: Callable[[Any], tuple[Any, ...]]) -> Callable[[Any, object], bool]:
    def equal(self: Any, other: object) -> bool:
        if self is other:
            return True
        return values(self) == values(other) if other.__class__ is self.__class__ else NotImplemented

    return equal


def _hash(values: Callable[[Any], Any]) -> Callable[[Any], int]:
    def hashed(self: Any) -> int:
        return hash(values(self))

    return hashed


def _refuse(_self: Any, name: str, *_value: object) -> NoReturn:
    raise dataclasses.FrozenInstanceError(f"cannot change {name}")


def _repr(self: Any) -> str:
    parts = ", ".join(f"{f.name}={getattr(self, f.name)!r}" for f in dataclasses.fields(self))
    return f"{type(self).__qualname__}({parts})"
