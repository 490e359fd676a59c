"""Patch bays: points that a cable meets from behind and a cord from the front, what joins them unplugged, and the cords of a scene."""

from collections.abc import Container, Iterable, Iterator, Mapping
from functools import cached_property
from typing import Final, Literal

from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import CableId, CordId, SceneId, SessionId, UnitId
from ennead.studio.record import record
from ennead.studio.switches import Stated
from ennead.studio.tracks import Track

NormalMode = Literal["full", "half", "parallel"]
NORMAL_MODES: Final[tuple[NormalMode, ...]] = ("full", "half", "parallel")
NORMAL_LABELS: Final[dict[str, str]] = {
    "full": "normalled",
    "half": "half-normalled",
    "parallel": "joined",
    "": "open",
}


@record(frozen=True)
class Normal:
    """What joins two points of a bay while nothing is plugged that breaks it.

    Parameters
    ----------
    start, end : str
        Port keys. Most run straight down from an upper point; some run elsewhere.
    mode : NormalMode
        A plug in either front breaks a ``full`` one, only a plug in the front of its end a ``half`` one, and none a ``parallel`` one.
    """

    start: str
    end: str
    mode: NormalMode

    @cached_property
    def switches(self) -> tuple[str, ...]:
        """The points to the switch of which it is soldered; a point has one switch, so that it takes part in one such normal."""
        return {"full": (self.start, self.end), "half": (self.end,), "parallel": ()}[self.mode]


@record(frozen=True)
class PointLabel:
    """What the strip says of a point: its number where it has one of its own, and two lines."""

    number: str = ""
    first: str = ""
    second: str = ""


@record(frozen=True)
class Bay:
    """The points of a unit that take cords.

    Parameters
    ----------
    id : UnitId
        The unit that has the sockets: a box of its own, or a console with a bay built in.
    rows : tuple of tuple of str
        Port keys, row by row from above, each from the left; empty where a row has a hole without a socket.
    pitch_mm : float, mm
        From one point to the next, as strips are printed.
    in_pairs : bool
        Whether points stand in pairs with a wider gap between.
    bussed : bool
        Whether the sleeves of all points are joined.
    """

    id: UnitId
    rows: tuple[tuple[str, ...], ...]
    normals: tuple[Normal, ...] = ()
    labels: Mapping[str, PointLabel] = FrozenMap()
    pitch_mm: float = 17.9
    in_pairs: bool = False
    bussed: bool = False
    note: str = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "labels", FrozenMap.of(self.labels))

    @cached_property
    def points(self) -> frozenset[str]:
        """The port keys of all its points."""
        return frozenset([key for row in self.rows for key in row if key])

    @cached_property
    def places(self) -> Mapping[str, tuple[int, int]]:
        """The row and the place in it of each point, from 0."""
        return {key: (at, n) for at, row in enumerate(self.rows) for n, key in enumerate(row) if key}

    @cached_property
    def pairs(self) -> tuple[tuple[str, str], ...]:
        """What its normals join while nothing is plugged."""
        return tuple([(n.start, n.end) for n in self.normals])

    @cached_property
    def beside(self) -> Mapping[str, tuple[str, ...]]:
        """What its normals join to each point while nothing is plugged."""
        return beside(self.pairs)

    @cached_property
    def soldered(self) -> tuple[Normal, ...]:
        """The normals that no plug breaks."""
        return tuple([n for n in self.normals if n.mode == "parallel"])

    @cached_property
    def switched(self) -> Mapping[str, Normal]:
        """The normal that a plug in each point's front breaks."""
        return {key: normal for normal in self.normals for key in normal.switches}

    def point_label(self, key: str, label: str) -> str:
        """Return what a point is called in words: by its own number where it has one, in the row that its socket's label says.

        Parameters
        ----------
        label : str
            That of its socket: ``14 above``.
        """
        own = self.labels[key].number if key in self.labels else ""
        if not own:
            return label
        place, _, row = label.partition(" ")
        return f"{own} {row}".strip() if place.isdigit() else f"{own} ({label})"

    def live_normals(self, plugged: Container[str]) -> Iterator[Normal]:
        """Yield the normals that join their points while some fronts hold plugs."""
        for normal in self.normals:
            if carries(normal.mode, start=normal.start in plugged, end=normal.end in plugged):
                yield normal


def beside(joined: Iterable[tuple[str, str]]) -> dict[str, tuple[str, ...]]:
    """Return what is joined to each of some points, either way."""
    found: dict[str, tuple[str, ...]] = {}
    for start, end in joined:
        found[start] = (*found[start], end) if start in found else (end,)
        found[end] = (*found[end], start) if end in found else (start,)
    return found


def carries(mode: NormalMode, *, start: bool, end: bool) -> bool:
    """Say whether a normal joins its points with a plug in the front of its start, of its end, in both or in none."""
    return mode == "parallel" or (not end and (mode == "half" or not start))


@record(frozen=True)
class Cord:
    """A cord in the fronts of two points; one with a single plug hangs loose at its other end, or is a dummy.

    Parameters
    ----------
    length_m : float or None, m
    unbalanced : bool
        Whether its plugs have two contacts only, so that they ground the ring.
    """

    id: CordId
    plugs: tuple[PortEnd, ...]
    length_m: float | None = None
    colour: str = ""
    unbalanced: bool = False
    note: str = ""

    @cached_property
    def as_cable(self) -> Cable:
        """The cord as a cable, from its first plug to its last."""
        return Cable(CableId(self.id), self.plugs, length_m=self.length_m)


@record(frozen=True)
class Scene:
    """The cords for a piece of work, and what is done by hand with them.

    Parameters
    ----------
    session : SessionId
        The session it is for; empty for any.
    steps : tuple of str
        What has to be done by hand: a fader, a knob, an aux send.
    settings : map of UnitId to tuple of Stated
        The switches and menus of boxes that are set apart for it.
    tracks : tuple of Track
        The tracks that are otherwise in it than on its session.
    """

    id: SceneId
    name: str
    session: SessionId = SessionId("")
    cords: tuple[Cord, ...] = ()
    steps: tuple[str, ...] = ()
    settings: Mapping[UnitId, tuple[Stated, ...]] = FrozenMap()
    tracks: tuple[Track, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "settings", FrozenMap.of(self.settings))


@record(frozen=True)
class CordStock:
    """How many cords of a kind there are.

    Parameters
    ----------
    length_m : float, m
    """

    length_m: float
    count: int
    colour: str = ""
    unbalanced: bool = False
