"""The points of a box as it comes: a bay of its own, joined straight down two by two, or the bay that is built into a console."""

from ennead.standards.bays import BAY_CONNECTORS
from ennead.studio.bays import Bay, Normal, NormalMode
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile


def has_points(profile: Profile) -> bool:
    """Say whether a type of box has points that take cords: all of its sockets are, or some, where a bay is built in."""
    return any(p.direction == "either" for p in profile.ports)


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
    for port in (p for p in profile.ports if p.direction == "either"):
        rows.setdefault(port.row, []).append(port.key)
    across = [tuple(keys) for keys in rows.values()]
    normals = [
        Normal(start, end, mode)
        for above, below in zip(across[::2], across[1::2], strict=False)
        for start, end in zip(above, below, strict=False)
        if mode
    ]
    socket = profile.port_by_key[across[0][0]].connector
    kind = next((k for k in BAY_CONNECTORS.values() if k.socket == socket), BAY_CONNECTORS["trs"])
    pitch = kind.pitch_mm(max(map(len, across))) if pitch_mm is None else pitch_mm
    return Bay(unit, tuple(across), tuple(normals), pitch_mm=pitch)
