"""The rows in which two studios differ: what a commit writes."""

from typing import Any, Final

from ennead.files.rows import row_text
from ennead.studio.as_built import Stood
from ennead.studio.bays import Cord
from ennead.studio.document import MAPS, Studio
from ennead.studio.house import Settings

#: Rows of the as-built record: what was ticked, by the id of the cable or the unit.
BUILT: Final = {
    "as_built_cables": ("cables", Stood),
    "as_built_settings": ("settings", Settings),
    "as_built_cords": ("cords", Cord),
}

Put = tuple[str, str, str]
Cut = tuple[str, str]


def changed_rows(old: Studio, new: Studio) -> tuple[list[Put], list[Cut]]:
    """Return the rows to put and the rows to cut. An object that is the very same one is not even compared.

    A row of the head is one without a kind.
    """
    puts: list[Put] = []
    cuts: list[Cut] = []
    for kind, before, after in maps_of(old, new):
        if before is after:
            continue
        cuts += [(kind, key) for key in before if key not in after]
        puts += [(kind, key, row_text(value)) for key, value in after.items() if before.get(key) is not value]
    heads = heads_of(old)
    puts += [("", key, row_text(value)) for key, value in heads_of(new).items() if heads[key] is not value]
    return puts, cuts


def maps_of(old: Studio, new: Studio) -> list[tuple[str, Any, Any]]:
    """Return the kinds of rows with their maps before and after."""
    plan = [(kind, getattr(old, kind), getattr(new, kind)) for kind in MAPS]
    built = [(kind, getattr(old.as_built, name), getattr(new.as_built, name)) for kind, (name, _) in BUILT.items()]
    return plan + built


def heads_of(studio: Studio) -> dict[str, Any]:
    """Return what stands in the head of a file, by its key."""
    return {
        "name": studio.name,
        "session": studio.session,
        "counters": studio.counters,
        "prices": studio.prices,
        "stock": studio.stock,
        "spares": studio.spares,
        "set_aside": studio.set_aside,
        "printing": studio.printing,
    }
