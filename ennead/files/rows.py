"""Rows and plain values: how objects of the document stand in files, without any checking and without pydantic."""

import json
from collections.abc import Mapping
from functools import cache
from typing import Any, Final

from ennead.studio.as_built import AsBuilt, Stood
from ennead.studio.bays import Bay, Cord, Scene
from ennead.studio.house import Cable, Computer, Place, Settings, Unit
from ennead.studio.ids import UnitId, number_of
from ennead.studio.print_job import PrintJob
from ennead.studio.profile import Profile
from ennead.studio.recall import Recall
from ennead.studio.record import defaults_of, is_record, names_of, record
from ennead.studio.revision import Revision
from ennead.studio.session import Destination, Session, SourceFacts, Wish

FORMAT_NAME = "ennead-studio"
FORMAT_VERSION = 16

#: What one row of each map of the document is.
ROWS: dict[str, Any] = {
    "profiles": Profile, "places": Place, "units": Unit, "hosts": Computer, "cables": Cable, "sessions": Session,
    "sources": SourceFacts, "destinations": Destination, "bays": Bay, "scenes": Scene,
    "recalls": Recall, "prints": PrintJob, "revisions": Revision,
}  # fmt: skip


class FormError(ValueError):
    """A value that is not what the form says, with the place where it stands."""


@record(frozen=True)
class AsBuiltForm:
    """The as-built record as files hold it."""

    cables: tuple[Stood, ...]
    settings: Mapping[UnitId, Settings]
    cords: tuple[Cord, ...]


def as_built_form(built: AsBuilt) -> AsBuiltForm:
    """Return the as-built record as files hold it, in the order in which ids were given out."""
    cables = sorted(built.cables.values(), key=lambda c: number_of(c.id))
    settings = sorted(built.settings.items(), key=lambda item: number_of(item[0]))
    cords = sorted(built.cords.values(), key=lambda c: number_of(c.id))
    return AsBuiltForm(tuple(cables), dict(settings), tuple(cords))


def to_plain(value: Any) -> Any:
    """Return a document object as dictionaries, lists and bare values, fields in their order."""
    kind = type(value)
    if kind in _BARE:
        return value
    if is_record(kind):
        return {name: to_plain(getattr(value, name)) for name in names_of(kind)}
    if isinstance(value, Mapping):
        return {k: to_plain(v) for k, v in value.items()}
    if isinstance(value, tuple | list):
        return [to_plain(v) for v in value]
    return value


def row_text(value: Any) -> str:
    """Return an object as one line of JSON, the form of a row of the studio file: of each record only what is not as usual."""
    if isinstance(value, Session):
        # Each of hundreds of wishes is put into words once: a session's row is written with every edit of it.
        rest = _text(_fields_said(value, Session, _WISHES))
        return f'{rest[:-1]},"wishes":[{",".join([_wish_text(wish) for wish in value.wishes])}]}}'
    return _text(_said(value))


#: Values that stand in a row as they are.
_BARE: Final = frozenset((str, int, float, bool, type(None)))


_NONE: Final[frozenset[str]] = frozenset()
_WISHES: Final = frozenset(("wishes",))


@cache
def _defaults(kind: Any) -> tuple[tuple[str, Any], ...]:
    return tuple(defaults_of(kind).items())


def _fields_said(value: Any, kind: type, apart: frozenset[str]) -> dict[str, Any]:
    """Return the fields of a record that are not as usual, but for some that are put into words elsewhere."""
    said = {}
    for name, default in _defaults(kind):
        part = getattr(value, name)
        if part is not default and (part != default or type(part) is not type(default)) and name not in apart:
            said[name] = _said(part)
    return said


def _said(value: Any) -> Any:
    """Return a document object as `to_plain` does, without the fields that stand at their defaults."""
    kind: Any = type(value)
    if kind in _BARE:
        return value
    if is_record(kind):
        return _fields_said(value, kind, _NONE)
    if isinstance(value, Mapping):
        return {k: _said(v) for k, v in value.items()}
    if isinstance(value, tuple | list):
        return [_said(v) for v in value]
    return value


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def _wish_text(wish: Wish) -> str:
    known: str | None = wish.__dict__.get("_row")
    if known is None:
        known = wish.__dict__["_row"] = _text(_said(wish))
    return known


def plain(message: str) -> str:
    """Return a checker's message beginning in lower case, on one line, without its full stop."""
    line = " ".join(message.split()).rstrip(".")
    return line[:1].lower() + line[1:]
