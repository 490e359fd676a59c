"""The boundary: dataclasses in and out of JSON text, checked by pydantic."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, fields, is_dataclass
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import ConfigDict, TypeAdapter, ValidationError

from ennead.studio.document import AsBuilt
from ennead.studio.house import Cable, Host, Place, Settings, Unit
from ennead.studio.ids import SessionId, UnitId
from ennead.studio.profile import Profile
from ennead.studio.session import Session, Source

FORMAT_NAME = "ennead-studio"
FORMAT_VERSION = 1

#: What all rows of one map of the document are, as one list.
ROW_LISTS: dict[str, Any] = {
    "profiles": tuple[Profile, ...], "places": tuple[Place, ...], "units": tuple[Unit, ...],
    "hosts": tuple[Host, ...], "cables": tuple[Cable, ...], "sessions": tuple[Session, ...],
    "sources": tuple[Source, ...],
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class AsBuiltForm:
    """The as-built record as files hold it."""

    cables: tuple[Cable, ...]
    settings: Mapping[UnitId, Settings]


@dataclass(frozen=True, slots=True)
class StudioForm:
    """The interchange form: maps as lists, in the order of the document."""

    format: str
    version: int
    name: str
    session: SessionId
    counters: Mapping[str, int]
    profiles: tuple[Profile, ...]
    places: tuple[Place, ...]
    units: tuple[Unit, ...]
    hosts: tuple[Host, ...]
    cables: tuple[Cable, ...]
    sessions: tuple[Session, ...]
    sources: tuple[Source, ...]
    as_built: AsBuiltForm


@cache
def adapter(kind: Any) -> TypeAdapter[Any]:
    """Return the checker of a dataclass: strict, and foreign fields are refused."""
    _make_strict(kind, set())
    return TypeAdapter(kind)


def _make_strict(kind: Any, seen: set[Any]) -> None:
    """Mark a dataclass and those in its fields strict; the mark is a plain attribute pydantic looks for."""
    if isinstance(kind, type) and is_dataclass(kind):
        if kind not in seen:
            seen.add(kind)
            kind.__pydantic_config__ = ConfigDict(extra="forbid", strict=True)  # type: ignore[attr-defined]
            for hint in get_type_hints(kind).values():
                _make_strict(hint, seen)
        return
    for part in get_args(kind):
        if not isinstance(part, str | int):
            _make_strict(part, seen)


class FormError(ValueError):
    """A value that is not what the form says, with the place where it stands."""


def read_form(kind: Any, text: str | bytes) -> Any:
    """Return the dataclass that a JSON text holds.

    Raises
    ------
    FormError
        With place and reason of the first mistake.
    """
    try:
        value = adapter(kind).validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = ".".join(str(part) for part in first["loc"] if part not in ("PortEnd", "SourceEnd"))
        raise FormError(f"{where or 'the document'}: {plain(first['msg'])}") from None
    except RecursionError:
        raise FormError("the document is nested too deeply") from None
    return value


def plain(message: str) -> str:
    """Return a checker's message beginning in lower case, on one line, without its full stop."""
    line = " ".join(message.split()).rstrip(".")
    return line[:1].lower() + line[1:]


def to_plain(value: Any) -> Any:
    """Return a document object as dictionaries, lists and bare values, fields in their order."""
    if is_dataclass(value) and not isinstance(value, type):
        return {f.name: to_plain(getattr(value, f.name)) for f in fields(value)}
    if isinstance(value, Mapping):
        return {k: to_plain(v) for k, v in value.items()}
    if isinstance(value, tuple | list):
        return [to_plain(v) for v in value]
    return value


def row_text(value: Any) -> str:
    """Return an object as one line of JSON, the form of a row of the studio file."""
    return json.dumps(to_plain(value), ensure_ascii=False, separators=(",", ":"))


def as_built_form(built: AsBuilt) -> AsBuiltForm:
    """Return the as-built record as files hold it."""
    return AsBuiltForm(tuple(built.cables.values()), built.settings)
