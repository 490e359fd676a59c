"""Frozen dataclasses that are quick to define: the document's classes are all defined before the window is seen."""

from collections.abc import Callable, Mapping
from operator import attrgetter
from typing import TYPE_CHECKING, Any, ClassVar, Final, NoReturn, TypeVar

from ennead.studio.frozen_map import FrozenMap

__all__ = ["NEEDED", "defaults_of", "is_record", "names_of", "record", "replace", "types_of"]

R = TypeVar("R")

if TYPE_CHECKING:
    from dataclasses import dataclass as record
else:

    def record(*, frozen: bool) -> Callable[[type], type]:
        """Make a class what ``dataclass(frozen=True)`` makes of it.

        The standard decorator writes six functions for each class as text and compiles them, and its module reads those that
        take Python apart; for the document's classes both took a tenth of the time to the first paint. Here all classes share their
        functions; `fields`, or pydantic, sees an ordinary dataclass, which the standard decorator makes of it
        only then. A default stands in the class and is shared by all: it must be one that cannot be changed.

        Raises
        ------
        TypeError
        """
        if not frozen:
            raise TypeError("a record is frozen")
        return _made


class _Needed:
    """What stands where a field has no default."""


#: The default of a field that has none.
NEEDED: Final = _Needed()


def is_record(kind: object) -> bool:
    """Say whether a class is a record."""
    return isinstance(kind, type) and "_record" in kind.__dict__


def names_of(kind: type) -> tuple[str, ...]:
    """Return the names of a record's fields, in their order."""
    names: tuple[str, ...] = kind.__dict__["__match_args__"]
    return names


def types_of(kind: type) -> Mapping[str, Any]:
    """Return what stands in a record's fields, by name."""
    types: Mapping[str, Any] = kind.__dict__["_record"]
    return types


def defaults_of(kind: type) -> Mapping[str, Any]:
    """Return the defaults of a record's fields, by name; `NEEDED` for one that has none."""
    return {name: getattr(kind, name, NEEDED) for name in names_of(kind)}


def replace(value: R, **changes: Any) -> R:
    """Return a record with some fields changed.

    Raises
    ------
    TypeError
        When it has no such field.
    """
    kind = type(value)
    return kind(**{name: getattr(value, name) for name in names_of(kind)} | changes)


def _made(cls: type) -> type:
    types: dict[str, Any] = {}
    for base in reversed(cls.__mro__):
        own = base.__dict__.get("__annotations__", {})  # noqa: RUF063 - inspect costs what all this is to save
        types |= {name: kind for name, kind in own.items() if getattr(kind, "__origin__", kind) is not ClassVar}
    names = tuple(types)
    values = attrgetter(*names) if len(names) > 1 else lambda one: (getattr(one, names[0]),)
    made: dict[str, Any] = {
        "_record": types,
        "__match_args__": names,
        "__dataclass_fields__": _Standard("__dataclass_fields__"),
        "__dataclass_params__": _Standard("__dataclass_params__"),
        "__init__": _init(cls, names),
        "__eq__": _eq(values),
        "__hash__": lambda self: hash(values(self)),
        "__setattr__": _refuse,
        "__delattr__": _refuse,
    }
    if "__repr__" not in cls.__dict__:
        made["__repr__"] = _repr
    for name, function in made.items():
        setattr(cls, name, function)
    return cls


class _Standard:
    """What the standard module looks for in a dataclass; the first that looks has it made."""

    def __init__(self, name: str) -> None:
        self.name = name

    def __get__(self, one: object, cls: type) -> Any:
        import dataclasses

        owner = next(base for base in cls.__mro__ if "_record" in base.__dict__)
        for name in ("__dataclass_fields__", "__dataclass_params__"):
            if isinstance(owner.__dict__.get(name), _Standard):
                delattr(owner, name)
        # A schema writes down a plain default, and a map stands in it as one that is made when it is wanted.
        maps = {name: default for name, default in defaults_of(owner).items() if isinstance(default, FrozenMap)}
        for name, default in maps.items():
            setattr(owner, name, dataclasses.field(default_factory=type(default)))
        dataclasses.dataclass(init=False, repr=False, eq=False)(owner)
        for name, default in maps.items():
            setattr(owner, name, default)
        return getattr(cls, self.name)


def _init(cls: type, names: tuple[str, ...]) -> Callable[..., None]:
    defaults = {name: getattr(cls, name) for name in names if hasattr(cls, name)}
    needed, count = frozenset(names) - defaults.keys(), len(names)
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
        if len(values) != count or not needed <= given.keys():
            wrong = ", ".join(sorted(values.keys() ^ set(names)))
            raise TypeError(f"{cls.__name__} is missing, or does not know: {wrong}")
        self.__dict__.update(values)
        if after is not None:
            after(self)

    return make


def _eq(values: Callable[[Any], Any]) -> Callable[[Any, object], bool]:
    def equal(self: Any, other: object) -> bool:
        if self is other:
            return True
        return values(self) == values(other) if other.__class__ is self.__class__ else NotImplemented

    return equal


def _refuse(_self: Any, name: str, *_value: object) -> NoReturn:
    from dataclasses import FrozenInstanceError

    raise FrozenInstanceError(f"cannot change {name}")


def _repr(self: Any) -> str:
    parts = ", ".join(f"{name}={getattr(self, name)!r}" for name in names_of(type(self)))
    return f"{type(self).__qualname__}({parts})"
