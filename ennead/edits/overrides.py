"""What sessions and scenes state of switches, changed in all of them at once."""

from collections.abc import Callable, Mapping

from ennead.studio.document import Studio
from ennead.studio.ids import UnitId
from ennead.studio.record import replace
from ennead.studio.switches import Overrides, Stated


def changed_overrides(studio: Studio, changed: Callable[[UnitId, tuple[Stated, ...]], tuple[Stated, ...]]) -> Studio:
    """Return the studio with what sessions and scenes state of each box changed; where nothing is left, nothing is stated of it."""
    sessions = {
        s.id: replace(s, settings=new)
        for s in studio.sessions.values()
        if (new := _changed(s.settings, changed)) is not None
    }
    scenes = {
        s.id: replace(s, settings=new)
        for s in studio.scenes.values()
        if (new := _changed(s.settings, changed)) is not None
    }
    if sessions:
        studio = replace(studio, sessions=studio.sessions.put_all(sessions))
    return replace(studio, scenes=studio.scenes.put_all(scenes)) if scenes else studio


def _changed(
    settings: Overrides, changed: Callable[[UnitId, tuple[Stated, ...]], tuple[Stated, ...]]
) -> Mapping[UnitId, tuple[Stated, ...]] | None:
    left = {unit: changed(unit, stated) for unit, stated in settings.items()}
    if all(left[unit] is stated for unit, stated in settings.items()):
        return None
    return {unit: stated for unit, stated in left.items() if stated}
