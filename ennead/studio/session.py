"""What an evening needs: sessions and their sources."""

from typing import Literal

from ennead.studio.ids import PlaceId, SessionId, SourceId
from ennead.studio.record import record

Kind = Literal["dynamic", "condenser", "ribbon", "line", "instrument", "digital"]
Phantom = Literal["needed", "tolerated", "forbidden"]

KINDS: tuple[Kind, ...] = ("dynamic", "condenser", "ribbon", "line", "instrument", "digital")
KIND_LABELS: dict[str, str] = {
    "dynamic": "dynamic mic", "condenser": "condenser mic", "ribbon": "ribbon mic", "line": "line",
    "instrument": "instrument", "digital": "digital",
}  # fmt: skip
PHANTOMS: tuple[Phantom, ...] = ("needed", "tolerated", "forbidden")
MICROPHONES: frozenset[str] = frozenset({"dynamic", "condenser", "ribbon"})


@record(frozen=True)
class Source:
    """Something that makes a signal.

    Parameters
    ----------
    phantom : Phantom
        A fact of this very microphone, not of its kind.
    channels : int
        1 for mono, 2 for a stereo pair.
    group : str
        Sources of one group are read, folded and moved together.
    track : str
        Name of the track in the recording software; empty means the source's name.
    di : "", "passive" or "active"
        The box that turns a high-impedance instrument into a microphone-level signal.
    guessed : tuple of str
        Fields filled in from the words of the name, not by a person.
    """

    id: SourceId
    name: str
    kind: Kind = "dynamic"
    phantom: Phantom = "tolerated"
    channels: int = 1
    place: PlaceId | None = None
    group: str = ""
    track: str = ""
    pinned: bool = False
    di: Literal["", "passive", "active"] = ""
    guessed: tuple[str, ...] = ()
    note: str = ""

    @property
    def track_name(self) -> str:
        """The track's name, or the source's where none is given."""
        return self.track or self.name

    @property
    def is_microphone(self) -> bool:
        """Whether it needs a microphone preamp: a microphone, or an instrument behind a DI box."""
        return self.kind in MICROPHONES or (self.kind == "instrument" and bool(self.di))


@record(frozen=True)
class Session:
    """One evening's work: its rate and its sources in the order of the input list.

    Parameters
    ----------
    rate_hz : int, Hz
    """

    id: SessionId
    name: str
    rate_hz: int = 48_000
    sources: tuple[SourceId, ...] = ()
