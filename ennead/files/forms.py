"""The boundary: the interchange form, checked by pydantic, which says what is wrong and where."""

from collections.abc import Mapping
from dataclasses import is_dataclass
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import ConfigDict, TypeAdapter, ValidationError

from ennead.files.json_text import NotJson, loads
from ennead.files.rows import AsBuiltForm, FormError, plain
from ennead.studio.bays import Bay, CordStock, Scene
from ennead.studio.house import Cable, Computer, Place, Unit
from ennead.studio.ids import SessionId
from ennead.studio.looms import SpareLoom
from ennead.studio.print_job import Printing, PrintJob
from ennead.studio.profile import Profile
from ennead.studio.recall import Recall
from ennead.studio.record import record
from ennead.studio.revision import Revision
from ennead.studio.session import Destination, Session, SourceFacts
from ennead.studio.set_aside import SetAside


@record(frozen=True)
class StudioForm:
    """The interchange form: maps as lists, in the order of the document."""

    format: str
    version: int
    name: str
    session: SessionId
    counters: Mapping[str, int]
    prices: Mapping[str, float]
    stock: tuple[CordStock, ...]
    spares: tuple[SpareLoom, ...]
    set_aside: tuple[SetAside, ...]
    printing: Printing
    profiles: tuple[Profile, ...]
    places: tuple[Place, ...]
    units: tuple[Unit, ...]
    hosts: tuple[Computer, ...]
    cables: tuple[Cable, ...]
    sessions: tuple[Session, ...]
    sources: tuple[SourceFacts, ...]
    destinations: tuple[Destination, ...]
    bays: tuple[Bay, ...]
    scenes: tuple[Scene, ...]
    recalls: tuple[Recall, ...]
    prints: tuple[PrintJob, ...]
    revisions: tuple[Revision, ...]
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
            kind.__pydantic_config__ = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)  # type: ignore[attr-defined]
            for hint in get_type_hints(kind).values():
                _make_strict(hint, seen)
        return
    for part in get_args(kind):
        if not isinstance(part, str | int):
            _make_strict(part, seen)


def read_form(kind: Any, text: str | bytes) -> Any:
    """Return the dataclass that a JSON text holds.

    Raises
    ------
    FormError
        With place and reason of the first mistake.
    """
    try:
        # What JSON itself has no word for is refused before the shape is looked at.
        loads(text)
        value = adapter(kind).validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = ".".join(str(part) for part in first["loc"] if part not in ("PortEnd", "SourceEnd"))
        raise FormError(f"{where or 'the document'}: {plain(first['msg'])}") from None
    except NotJson as error:
        raise FormError(str(error)) from None
    except RecursionError:
        raise FormError("the document is nested too deeply") from None
    return value
