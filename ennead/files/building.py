"""Builds document objects from plain values, strictly and without pydantic, so that opening a studio stays quick.

What it refuses is given to pydantic, which is loaded only then, for a sentence that says what is wrong and where.
"""

import types
from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from ennead.files.json_text import loads
from ennead.files.rows import FormError
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.record import NEEDED, defaults_of, is_record, types_of

Build = Callable[[Any], Any]


_EMPTY: FrozenMap[Any, Any] = FrozenMap()


class _Unfit(Exception):
    """A plain value that is not what is wanted; never seen outside."""


def build_checked(kind: Any, text: str | bytes) -> Any:
    """Return the object that a JSON text holds.

    Raises
    ------
    FormError
        With place and reason of the first mistake.
    """
    if not isinstance(text, str | bytes):
        raise FormError("a value that is no text")
    try:
        return builder(kind)(loads(text))
    except (_Unfit, ValueError, RecursionError):
        from ennead.files.forms import read_form

        return read_form(kind, text)


def build_list(kind: Any, texts: list[str]) -> tuple[Any, ...]:
    """Return the objects of several rows.

    Raises
    ------
    FormError
    """
    if not all(type(text) is str for text in texts):
        raise FormError("a row that is no text")
    try:
        build = builder(kind)
        return tuple([build(value) for value in loads(f"[{','.join(texts)}]")])
    except (_Unfit, ValueError, RecursionError):
        from ennead.files.forms import read_form

        whole: tuple[Any, ...] = read_form(tuple[kind, ...], f"[{','.join(texts)}]")
        if len(whole) != len(texts):
            raise FormError("a row holds more than one object") from None
        return whole


@cache
def builder(kind: Any) -> Build:
    """Return what turns a plain value into an object of a kind, or raises where it is none."""
    kind = getattr(kind, "__supertype__", kind)
    origin = get_origin(kind)
    if is_record(kind):
        return _of_class(kind)
    if origin is Literal:
        return _one_of(frozenset(get_args(kind)))
    if origin in (Union, types.UnionType):
        return _first_of(get_args(kind))
    if origin is tuple:
        return _tuple_of(builder(get_args(kind)[0]))
    if origin in (dict, Mapping, FrozenMap) or (isinstance(origin, type) and issubclass(origin, Mapping)):
        return _map_of(*(builder(k) for k in get_args(kind)))
    return _bare(kind)


def _as_it_is(kind: Any) -> frozenset[type]:
    """Return the types of the plain values that a field of a kind takes without looking any closer."""
    kind = getattr(kind, "__supertype__", kind)
    if get_origin(kind) in (Union, types.UnionType):
        return frozenset().union(*map(_as_it_is, get_args(kind)))
    return frozenset((kind,)) if kind in (str, int, float, bool, type(None)) else frozenset()


def _bare(kind: Any) -> Build:
    def build(value: Any) -> Any:
        if type(value) is kind:
            return value
        if kind is float and type(value) is int:
            return float(value)
        raise _Unfit

    return build


def _one_of(allowed: frozenset[Any]) -> Build:
    def build(value: Any) -> Any:
        if isinstance(value, str) and value in allowed:
            return value
        raise _Unfit

    return build


def _first_of(kinds: tuple[Any, ...]) -> Build:
    builds = [builder(k) for k in kinds if k is not type(None)]
    nothing = type(None) in kinds

    def build(value: Any) -> Any:
        if value is None and nothing:
            return None
        for attempt in builds:
            try:
                return attempt(value)
            except _Unfit:
                continue
        raise _Unfit

    return build


def _tuple_of(item: Build) -> Build:
    def build(value: Any) -> Any:
        if type(value) is not list:
            raise _Unfit
        return tuple([item(v) for v in value]) if value else ()

    return build


def _map_of(key: Build, item: Build) -> Build:
    def build(value: Any) -> Any:
        if type(value) is not dict:
            raise _Unfit
        return FrozenMap({key(k): item(v) for k, v in value.items()}) if value else _EMPTY

    return build


def _of_class(kind: Any) -> Build:
    # Evaluating annotations costs time on every opening, and few classes have any that are words.
    declared = types_of(kind)
    hints = get_type_hints(kind) if any(isinstance(t, str) for t in declared.values()) else declared
    parts = {name: builder(hints[name]) for name in declared}
    needed = {name for name, default in defaults_of(kind).items() if default is NEEDED}

    # Most fields hold a bare value that may stay as it is.
    bare = {name: _as_it_is(hints[name]) for name in declared}

    def build(value: Any) -> Any:
        if type(value) is not dict or not needed <= value.keys():
            raise _Unfit
        try:
            return kind(**{name: v if type(v) in bare[name] else parts[name](v) for name, v in value.items()})
        except KeyError:
            raise _Unfit from None

    return build
