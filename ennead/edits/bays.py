"""Edits of patch bays: make one, say what joins its points unplugged, label its points."""

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Final

from ennead.edits.cables import connect
from ennead.edits.house import add_unit
from ennead.edits.names import clean_name
from ennead.edits.points import bay_as_it_comes
from ennead.standards.bays import (
    BAY_CONNECTOR_LABELS,
    BAY_CONNECTORS,
    LONGEST_LABEL,
    MOST_POINTS,
    MOST_ROWS,
    PITCH_RANGE_MM,
)
from ennead.studio.bays import NORMAL_MODES, Bay, Normal, NormalMode, PointLabel
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import PortEnd
from ennead.studio.ids import PlaceId, ProfileId, UnitId
from ennead.studio.profile import Port, Profile
from ennead.studio.record import replace

#: What a row of a bay is called, from above.
ROW_WORDS: Final[Mapping[int, tuple[str, ...]]] = {1: ("",), 2: ("above", "below")}


def add_bay(
    studio: Studio,
    name: str,
    across: int,
    *,
    rows: int = 2,
    mode: str = "half",
    connector: str = "trs",
    pitch_mm: float | None = None,
    in_pairs: bool = False,
    bussed: bool = False,
    place: PlaceId | None = None,
) -> Studio:
    """Add a patch bay of its own: rows of points, joined straight down two by two.

    Parameters
    ----------
    across : int
        Points in a row.
    mode : str
        How pairs are joined; empty for open ones.
    pitch_mm : float or None, mm
        None for the house default of its size.

    Raises
    ------
    BadValue, UnknownObject
    """
    if not 1 <= across <= MOST_POINTS:
        raise BadValue("the points in a row of a bay", across, f"A row has 1 to {MOST_POINTS}.")
    if not 1 <= rows <= MOST_ROWS:
        raise BadValue("the rows of a bay", rows, f"It has 1 to {MOST_ROWS}.")
    if connector not in BAY_CONNECTORS:
        raise BadValue("the sockets of a bay", connector, f"Choose {', '.join(BAY_CONNECTOR_LABELS.values())}.")
    profile = bay_profile(across, rows, connector)
    studio = add_unit(studio, profile, name, place)
    unit = UnitId(f"U{studio.counters['U']}")
    bay = bay_as_it_comes(unit, profile, _mode(mode) if mode else None, None if pitch_mm is None else _pitch(pitch_mm))
    return _put(studio, replace(bay, in_pairs=in_pairs, bussed=bussed))


def _key(row: int, number: int) -> str:
    return f"{'abcdefgh'[row]}{number}"


def bay_profile(across: int, rows: int, connector: str) -> Profile:
    """Return the profile of a bay: sockets that only join conductors, lying neither way."""
    kind = BAY_CONNECTORS[connector]
    words = ROW_WORDS.get(rows, tuple([f"row {n}" for n in range(1, rows + 1)]))
    ports = tuple(
        Port(
            _key(row, n),
            f"{n} {word}".strip(),
            "either",
            kind.socket,
            ("line", "mic"),
            word or "points",
            wiring=kind.contacts,
        )
        for row, word in enumerate(words)
        for n in range(1, across + 1)
    )
    text = f"patch bay, {rows} × {across} points, {kind.label}"
    return Profile(
        ProfileId("F0"),
        text,
        "bay",
        "Passive: loudspeaker level never goes on it.",
        ports,
        supply="none",
        rack_units=kind.rack_units,
    )


def _mode(mode: str) -> NormalMode:
    if mode not in NORMAL_MODES:
        raise BadValue("how points are joined", mode, f"Say {', '.join(NORMAL_MODES)}, or leave it empty for open.")
    return mode


def _pitch(pitch_mm: float) -> float:
    least, most = PITCH_RANGE_MM
    if not (math.isfinite(pitch_mm) and least <= pitch_mm <= most):
        raise BadValue("the pitch of a bay", pitch_mm, f"Points stand {least:g} to {most:g} mm apart.")
    return pitch_mm


def bay_of(studio: Studio, unit: UnitId) -> Bay:
    """Return the bay on a unit.

    Raises
    ------
    UnknownObject
    """
    try:
        return studio.bays[unit]
    except KeyError:
        raise UnknownObject("bay", unit) from None


def checked_point(studio: Studio, end: PortEnd) -> Bay:
    """Return the bay of a point.

    Raises
    ------
    UnknownObject, BadValue
    """
    bay = bay_of(studio, end.unit)
    if end.port not in bay.points:
        raise BadValue(f"a point of {studio.unit(end.unit).name}", end.port, "Choose one of its points.")
    return bay


def set_normal(studio: Studio, point: PortEnd, mode: str, end: str = "") -> Studio:
    """Say how a point is joined unplugged to the one below it, or to another of the same bay; what it was joined to before is open then.

    Parameters
    ----------
    mode : str
        Empty for open.
    end : str
        The other point's port key; empty for the one straight below.

    Raises
    ------
    UnknownObject, BadValue
    """
    bay = checked_point(studio, point)
    end = end or straight_below(bay, point.port)
    if end:
        checked_point(studio, PortEnd(point.unit, end))
    if not end or end == point.port:
        raise BadValue("the far end of a normal", end or point.port, "Choose another point of the same bay.")
    left = tuple(n for n in bay.normals if n.start != point.port and {n.start, n.end} != {point.port, end})
    new = left
    if mode:
        normal = Normal(point.port, end, _mode(mode))
        new = (*left, normal)
        for other in left:
            if shared := set(other.switches) & set(normal.switches):
                label = studio.end_text(PortEnd(point.unit, min(shared)))
                raise BadValue("joined so", label, "Its switch holds another normal already; open that one first.")
    order = {key: at for at, key in enumerate(k for row in bay.rows for k in row)}
    return _put(studio, replace(bay, normals=tuple(sorted(new, key=lambda n: (order[n.start], order[n.end])))))


def straight_below(bay: Bay, port: str) -> str:
    """Return the point straight below one, or an empty string."""
    for above, below in pairwise(bay.rows):
        if port in above and above.index(port) < len(below):
            return below[above.index(port)]
    return ""


def set_normals(studio: Studio, unit: UnitId, ports: Sequence[str], mode: str) -> Studio:
    """Say of several upper points how each is joined to the one straight below it.

    Raises
    ------
    UnknownObject, BadValue
    """
    for port in ports:
        studio = set_normal(studio, PortEnd(unit, port), mode)
    return studio


def label_point(
    studio: Studio, point: PortEnd, *, number: str | None = None, first: str | None = None, second: str | None = None
) -> Studio:
    """Say what the strip has at a point; what is None stays.

    Raises
    ------
    UnknownObject, BadValue
    """
    bay = checked_point(studio, point)
    said = {"number": number, "first": first, "second": second}
    texts = {k: clean_name(text, "a label", may_be_empty=True) for k, text in said.items() if text is not None}
    for text in texts.values():
        if len(text) > LONGEST_LABEL:
            raise BadValue("a label", text, f"Keep a line to {LONGEST_LABEL} characters; this one has {len(text)}.")
    new = replace(bay.labels.get(point.port, PointLabel()), **texts)
    labels = {k: v for k, v in {**bay.labels, point.port: new}.items() if v != PointLabel()}
    return _put(studio, replace(bay, labels=labels))


def describe_bay(
    studio: Studio,
    unit: UnitId,
    *,
    pitch_mm: float | None = None,
    in_pairs: bool | None = None,
    bussed: bool | None = None,
    note: str | None = None,
) -> Studio:
    """Say how a bay is built; what is None stays.

    Parameters
    ----------
    pitch_mm : float, mm

    Raises
    ------
    UnknownObject, BadValue
    """
    bay = bay_of(studio, unit)
    return _put(
        studio,
        replace(
            bay,
            pitch_mm=bay.pitch_mm if pitch_mm is None else _pitch(pitch_mm),
            in_pairs=bay.in_pairs if in_pairs is None else in_pairs,
            bussed=bay.bussed if bussed is None else bussed,
            note=bay.note if note is None else clean_name(note, "a note", may_be_empty=True),
        ),
    )


def wire_block(studio: Studio, pairs: Sequence[tuple[PortEnd, PortEnd]], length_m: float | None = None) -> Studio:
    """Cable several sockets to as many points, one by one: each pair from its output to its input.

    Parameters
    ----------
    length_m : float or None, m

    Raises
    ------
    UnknownObject, NoSuchPort, SocketsDoNotFit, SocketTaken, BadValue
    """
    for start, end in pairs:
        studio = connect(studio, start, end, length_m)
    return studio


def _put(studio: Studio, bay: Bay) -> Studio:
    return replace(studio, bays=studio.bays.put(bay.id, bay))
