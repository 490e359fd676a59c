"""JSON interchange: the same document as text, for version control and other programs."""

import json
from pathlib import Path
from typing import Any, Final

from ennead.files.errors import FileTrouble
from ennead.files.forms import StudioForm, adapter, read_form
from ennead.files.json_text import NotJson, loads
from ennead.files.mending import mended, stood_at_boxes
from ennead.files.migration import migrated
from ennead.files.references import check_references, in_id_order, in_key_order
from ennead.files.regular import read_regular
from ennead.files.rows import FORMAT_NAME, FORMAT_VERSION, FormError, as_built_form, to_plain
from ennead.studio.as_built import AsBuilt
from ennead.studio.document import MAPS, Studio
from ennead.studio.frozen_map import FrozenMap

#: More than any studio in the interchange form; the largest generated house takes a few. House default.
MOST_BYTES: Final = 100_000_000


def to_form(studio: Studio) -> StudioForm:
    """Return the interchange form of a studio: everything with an id in the order in which ids were given out."""
    maps = {name: tuple(in_id_order(getattr(studio, name).values()).values()) for name in MAPS}
    return StudioForm(
        FORMAT_NAME,
        FORMAT_VERSION,
        studio.name,
        studio.session,
        studio.counters,
        studio.prices,
        studio.stock,
        studio.spares,
        studio.set_aside,
        studio.printing,
        as_built=as_built_form(studio.as_built),
        **maps,
    )


def from_form(form: StudioForm) -> tuple[Studio, tuple[str, ...]]:
    """Return the studio of an interchange form, and what was mended in it.

    Raises
    ------
    FormError
        If an id stands twice, or a reference points nowhere.
    """
    maps: dict[str, Any] = {}
    for name in MAPS:
        rows = getattr(form, name)
        maps[name] = in_id_order(rows)
        if len(maps[name]) != len(rows):
            raise FormError(f"{name}: an id stands twice")
    stood = in_id_order(form.as_built.cables)
    if len(stood) != len(form.as_built.cables):
        raise FormError("as_built.cables: an id stands twice")
    cords = in_id_order(form.as_built.cords)
    if len(cords) != len(form.as_built.cords):
        raise FormError("as_built.cords: an id stands twice")
    built = AsBuilt(stood, in_key_order(form.as_built.settings.items()), cords)
    studio = Studio(
        name=form.name,
        session=form.session,
        counters=FrozenMap(form.counters),
        prices=FrozenMap(form.prices),
        stock=form.stock,
        spares=form.spares,
        set_aside=form.set_aside,
        printing=form.printing,
        as_built=built,
        **maps,
    )
    studio, said = mended(studio)
    check_references(studio)
    studio, more = stood_at_boxes(studio)
    return studio, (*said, *more)


def to_json(studio: Studio) -> str:
    """Return the JSON text of a studio: fields in a fixed order, two spaces of indent, a line end at the end."""
    return json.dumps(to_plain(to_form(studio)), ensure_ascii=False, indent=2, allow_nan=False) + "\n"


def from_json(text: bytes, path: Path | str = "JSON") -> Studio:
    """Return the studio a JSON text holds.

    Raises
    ------
    FileTrouble
    """
    if len(text) > MOST_BYTES:
        what = f"it holds more than {MOST_BYTES // 1_000_000} MB, which no studio does"
        raise FileTrouble(path, what, "Choose a file that Ennead wrote.")
    head = _head(text)
    if head is not None and head.get("format") == FORMAT_NAME:
        version = head.get("version")
        if isinstance(version, int) and version > FORMAT_VERSION:
            raise FileTrouble(path, f"it was written by a newer Ennead (form {version})", "Update Ennead to open it.")
    elif head is not None:
        raise FileTrouble(path, "it is JSON, but no Ennead studio", "Choose a file that Ennead wrote.")
    try:
        return from_form_text(text)[0]
    except FormError as error:
        raise FileTrouble(path, f"it is damaged at {error}", "Mend that place or take an earlier copy.") from None


def from_form_text(text: bytes) -> tuple[Studio, tuple[str, ...]]:
    """Return the studio of a text in the interchange form, of this or an earlier version, and what was mended in it.

    Raises
    ------
    FormError
    """
    form: StudioForm = read_form(StudioForm, _in_present_form(text))
    if form.version != FORMAT_VERSION:
        raise FormError(f"version: there is no form {form.version}")
    return from_form(form)


def _in_present_form(text: bytes) -> bytes:
    head = _head(text)
    version = head.get("version") if head is not None else None
    if head is None or type(version) is not int or version >= FORMAT_VERSION:
        return text
    return json.dumps(migrated(head)).encode()


def _head(text: bytes) -> dict[str, Any] | None:
    """Return the top of a JSON object, or None where the text is none (the form's reader says where)."""
    try:
        head = loads(text)
    except NotJson:
        return None
    return head if isinstance(head, dict) else {}


def read_json(path: Path) -> Studio:
    """Read a studio from its interchange form.

    Raises
    ------
    FileTrouble
    """
    return from_json(read_regular(path, MOST_BYTES), path)


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of the interchange form."""
    schema = adapter(StudioForm).json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Ennead studio, interchange form"
    return schema
