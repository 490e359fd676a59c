"""Rows and plain values: how objects of the document stand in files, without any checking and without pydantic."""

import json
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any

from ennead.studio.document import AsBuilt, Stood
from ennead.studio.house import Cable, Computer, Place, Settings, Unit
from ennead.studio.ids import UnitId, number_of
from ennead.studio.profile import Profile
from ennead.studio.record import record
from ennead.studio.session import Destination, Session, SourceFacts, Wish

FORMAT_NAME = "ennead-studio"
FORMAT_VERSION = 7

#: What one row of each map of the document is.
ROWS: dict[str, Any] = {
    "profiles": Profile, "places": Place, "units": Unit, "hosts": Computer, "cables": Cable, "sessions": Session,
    "sources": SourceFacts, "destinations": Destination,
}  # fmt: skip


class FormError(ValueError):
    """A value that is not what the form says, with the place where it stands."""


@record(frozen=True)
class AsBuiltForm:
    """The as-built record as files hold it."""

    cables: tuple[Stood, ...]
    settings: Mapping[UnitId, Settings]


def as_built_form(built: AsBuilt) -> AsBuiltForm:
    """Return the as-built record as files hold it, in the order in which ids were given out."""
    cables = sorted(built.cables.values(), key=lambda c: number_of(c.id))
    settings = sorted(built.settings.items(), key=lambda item: number_of(item[0]))
    return AsBuiltForm(tuple(cables), dict(settings))


@cache
def _names(kind: type) -> tuple[str, ...]:
    return tuple(f.name for f in fields(kind))


def to_plain(value: Any) -> Any:
    """Return a document object as dictionaries, lists and bare values, fields in their order."""
    kind = type(value)
    if kind is str or value is None or kind is int or kind is float or kind is bool:
        return value
    if is_dataclass(kind):
        return {name: to_plain(getattr(value, name)) for name in _names(kind)}
    if isinstance(value, Mapping):
        return {k: to_plain(v) for k, v in value.items()}
    if isinstance(value, tuple | list):
        return [to_plain(v) for v in value]
    return value


def row_text(value: Any) -> str:
    """Return an object as one line of JSON, the form of a row of the studio file."""
    if isinstance(value, Session):
        # Each of hundreds of wishes is put into words once, and says only what it wishes: a session's row is written with every edit of it.
        rest = _text({name: to_plain(getattr(value, name)) for name in _names(Session) if name != "wishes"})
        return f'{rest[:-1]},"wishes":[{",".join([_wish_text(wish) for wish in value.wishes])}]}}'
    return _text(to_plain(value))


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def _wish_text(wish: Wish) -> str:
    known: str | None = wish.__dict__.get("_row")
    if known is None:
        bare = Wish(wish.source)
        said = {
            name: to_plain(getattr(wish, name)) for name in _names(Wish) if getattr(wish, name) != getattr(bare, name)
        }
        known = wish.__dict__["_row"] = _text({"source": wish.source, **said})
    return known


def plain(message: str) -> str:
    """Return a checker's message beginning in lower case, on one line, without its full stop."""
    line = " ".join(message.split()).rstrip(".")
    return line[:1].lower() + line[1:]
