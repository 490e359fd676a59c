"""The points of a box that is a bay of its own, as it comes: row by row, joined straight down two by two."""

from ennead.standards.bays import BAY_CONNECTORS
from ennead.studio.bays import Bay, Normal, NormalMode
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile


def is_bay(profile: Profile) -> bool:
    """Say whether all a type of box has are points."""
    return profile.role == "bay" and bool(profile.ports) and all(p.direction == "either" for p in profile.ports)


def bay_as_it_comes(
    unit: UnitId, profile: Profile, mode: NormalMode | None = "half", pitch_mm: float | None = None
) -> Bay:
    """Return the bay of a unit: a row of points for each row on its front.

    Parameters
    ----------
    mode : NormalMode or None
        How points are joined; None for open ones.
    pitch_mm : float or None, mm
        None for the house default of its size.
    """
    rows: dict[str, list[str]] = {}
    for port in profile.ports:
        rows.setdefault(port.row, []).append(port.key)
    across = [tuple(keys) for keys in rows.values()]
    normals = [
        Normal(start, end, mode)
        for above, below in zip(across[::2], across[1::2], strict=False)
        for start, end in zip(above, below, strict=False)
        if mode
    ]
    kind = next((k for k in BAY_CONNECTORS.values() if k.socket == profile.ports[0].connector), BAY_CONNECTORS["trs"])
    pitch = kind.pitch_mm(max(map(len, across))) if pitch_mm is None else pitch_mm
    return Bay(unit, tuple(across), tuple(normals), pitch_mm=pitch)
