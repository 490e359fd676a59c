"""Edits of the as-built record: what has really been plugged and set."""

from ennead.studio.as_built import Stood
from ennead.studio.document import Studio
from ennead.studio.errors import UnknownObject
from ennead.studio.ids import CableId, UnitId
from ennead.studio.record import replace


def tick_cable(studio: Studio, cable: CableId) -> Studio:
    """Note that a cable is plugged as planned.

    Raises
    ------
    UnknownObject
    """
    if cable not in studio.cables:
        raise UnknownObject("cable", cable)
    built, planned = studio.as_built, studio.cables[cable]
    stood = Stood(planned, studio.plugs_text(planned))
    return replace(studio, as_built=replace(built, cables={**built.cables, cable: stood}))


def untick_cable(studio: Studio, cable: CableId) -> Studio:
    """Note that a cable is not plugged, or no longer.

    Raises
    ------
    UnknownObject
    """
    built = studio.as_built
    if cable not in built.cables:
        raise UnknownObject("ticked cable", cable)
    return replace(studio, as_built=replace(built, cables={k: c for k, c in built.cables.items() if k != cable}))


def tick_settings(studio: Studio, unit: UnitId) -> Studio:
    """Note that a unit's switches and menus stand as planned.

    Raises
    ------
    UnknownObject
    """
    settings = studio.settings_of(unit)
    built = studio.as_built
    return replace(studio, as_built=replace(built, settings={**built.settings, unit: settings}))
