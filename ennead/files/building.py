"""Builds document objects from plain values, strictly and without pydantic, so that opening a studio stays quick.

What it refuses is given to pydantic, which is loaded only then, for a sentence that says what is wrong and where.
"""

import types
from collections.abc import Callable, Mapping
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from ennead.files.json_text import loads
from ennead.files.rows import FormError
from ennead.studio.frozen_map import FrozenMap

Build = Callable[[Any], Any]


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
    if is_dataclass(kind):
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
        return tuple([item(v) for v in value])

    return build


def _map_of(key: Build, item: Build) -> Build:
    def build(value: Any) -> Any:
        if type(value) is not dict:
            raise _Unfit
        return FrozenMap({key(k): item(v) for k, v in value.items()})

    return build


def _of_class(kind: Any) -> Build:
    # Evaluating annotations costs time on every opening, and few classes have any that are words.
    hints = get_type_hints(kind) if any(isinstance(f.type, str) for f in fields(kind)) else {}
    parts = {f.name: builder(hints.get(f.name, f.type)) for f in fields(kind)}
    needed = {f.name for f in fields(kind) if f.default is MISSING and f.default_factory is MISSING}

    def build(value: Any) -> Any:
        if type(value) is not dict or not needed <= value.keys():
            raise _Unfit
        try:
            return kind(**{name: parts[name](v) for name, v in value.items()})
        except KeyError:
            raise _Unfit from None

    return build
