"""Templates: sets of sources with their wishes, as small TOML files; those that ship and the user's own."""

import json
import tomllib
from contextlib import suppress
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import Any, Final

from ennead.edits.names import clean_name
from ennead.edits.session import add_sources
from ennead.files.errors import FileTrouble
from ennead.files.regular import write_text
from ennead.files.text_file import read_small
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.session import Source

#: More than any set of sources takes. House default.
MOST_BYTES: Final = 1_000_000
#: What a template says of a source; where and on what it sits is a matter of the session.
FACTS: Final = (
    "name",
    "kind",
    "phantom",
    "channels",
    "group",
    "track",
    "di",
    "note",
    "coherent",
    "priority",
    "sensitivity_mv_pa",
    "loudest_db_spl",
    "level_dbu",
    "impedance_ohm",
)
_REMEDY: Final = "Mend that place, or choose another template."


@dataclass(frozen=True, slots=True)
class Template:
    """A set of sources to drop into a session.

    Parameters
    ----------
    sources : tuple of map
        The facts of each source, its name among them.
    """

    name: str
    summary: str
    sources: tuple[dict[str, Any], ...]


def read_template(text: str, where: str) -> Template:
    """Return the template a TOML text holds; that its facts can be is tried on an empty studio.

    Raises
    ------
    FileTrouble
    """
    try:
        table = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise FileTrouble(where, f"it is no TOML ({error})", _REMEDY) from None
    rows = table.get("sources")
    if (
        set(table) - {"name", "summary", "sources"}
        or not isinstance(rows, list)
        or not all(isinstance(r, dict) for r in rows)
    ):
        raise FileTrouble(where, "it is no template: name, summary and a list of sources are wanted", _REMEDY)
    name, summary = table.get("name"), table.get("summary", "")
    if not isinstance(name, str) or not isinstance(summary, str):
        raise FileTrouble(where, "its name is no text", _REMEDY)
    for number, row in enumerate(rows, start=1):
        strange = set(row) - set(FACTS)
        if strange or not isinstance(row.get("name"), str):
            raise FileTrouble(
                where,
                f"source {number} has"
                f" {'no name' if not strange else f'“{min(strange)}”, which is no fact of a source'}",
                _REMEDY,
            )
    try:
        add_sources(empty_studio(), rows)
        return Template(clean_name(name), clean_name(summary, may_be_empty=True), tuple(rows))
    except (EnneadError, TypeError, AttributeError) as error:
        raise FileTrouble(where, f"it is damaged ({str(error).rstrip('.')})", _REMEDY) from None


def read_template_file(path: Path) -> Template:
    """Read a template from a TOML file.

    Raises
    ------
    FileTrouble
    """
    return read_template(read_small(path, MOST_BYTES, "a template", _REMEDY), str(path))


def shipped_templates() -> tuple[Template, ...]:
    """Return the templates that ship with the program, by name."""
    folder = files("ennead.data") / "templates"
    found = [read_template(f.read_text(encoding="utf-8"), f.name) for f in folder.iterdir() if f.name.endswith(".toml")]
    return tuple(sorted(found, key=lambda t: t.name))


def user_templates(folder: Path) -> tuple[tuple[Template, ...], tuple[FileTrouble, ...]]:
    """Return the user's own templates by name, and what is wrong with those that cannot be read."""
    found: list[Template] = []
    troubles: list[FileTrouble] = []
    for path in sorted(folder.glob("*.toml")) if folder.is_dir() else []:
        try:
            found.append(read_template_file(path))
        except FileTrouble as trouble:
            troubles.append(trouble)
    return tuple(sorted(found, key=lambda t: t.name.casefold())), tuple(troubles)


def template_of(studio: Studio, name: str, sources: tuple[Source, ...]) -> Template:
    """Return some sources as a template."""
    plain = Source(id=sources[0].id, name="") if sources else None
    rows = []
    for source in sources:
        facts = {f: getattr(source, f) for f in FACTS}
        rows.append({f: v for f, v in facts.items() if f == "name" or v != getattr(plain, f)})
    return Template(clean_name(name), f"{len(rows)} sources of {studio.current.name}", tuple(rows))


def template_toml(template: Template) -> str:
    """Return a template as TOML text."""
    lines = [f"name = {_value(template.name)}", f"summary = {_value(template.summary)}"]
    for row in template.sources:
        lines += ["", "[[sources]]", *(f"{key} = {_value(value)}" for key, value in row.items())]
    return "\n".join(lines) + "\n"


def _value(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


def keep_template(folder: Path, template: Template) -> Path:
    """Keep a template in the user's folder; one of the same name is replaced. Return its file.

    Raises
    ------
    FileTrouble
    """
    letters = "".join(c if c.isalnum() else "-" for c in template.name.casefold())[:60].strip("-") or "template"
    path = folder / f"{letters}.toml"
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
    write_text(path, template_toml(template))
    return path
