"""Signal paths: one signal followed stop by stop from source to driver channel, or from driver channel to ear.

What is kept here is structure, ids and numbers only; `ennead.survey.words` puts it into words, so that renaming
a box costs nothing here.
"""

from dataclasses import dataclass
from typing import Final, Literal

from ennead.studio.document import channel_text
from ennead.studio.ids import CableId, DestinationId, SourceId, UnitId
from ennead.studio.session import Source
from ennead.survey.numbering import DriverChannel, Landing

Zone = Literal["source", "outboard", "converter", "link", "driver", "ear"]


# Not frozen: a survey makes thousands, freezing costs more than all the rest of making one, and no code changes a derived value.
@dataclass(slots=True)
class Stop:
    """One stop of a run.

    Parameters
    ----------
    lane : int
        Lane on the port, from 1.
    cable : CableId or None
        The cable by which the signal came here.
    left : pair of UnitId and port key, or None
        The socket it left by that cable.
    """

    zone: Zone
    unit: UnitId | None = None
    port: str = ""
    lane: int = 1
    cable: CableId | None = None
    left: tuple[UnitId, str] | None = None


@dataclass(slots=True)
class Gap:
    """Where and why a run ends too early.

    Parameters
    ----------
    cause : str
        ``unplaced``, ``no-cable``, ``no-onward``, ``format``, ``lane``, ``rate``, ``no-computer``, ``no-number``,
        ``ring``, ``off``, ``insert``, ``silent``, ``not-listed`` (of a number without a socket, whose block stands for the port).
    cable : CableId or None
        The cable on which it is lost.
    """

    cause: str
    unit: UnitId | None = None
    port: str = ""
    lane: int = 1
    cable: CableId | None = None


@dataclass(slots=True)
class PathOnward:
    """What lies onward of a lane of a port.

    Parameters
    ----------
    zone : Zone
        What the port itself is on this way.
    stops : tuple of Stop
        The stops after it.
    delay : float or None, samples
        Sum of the stated delays, the port's included; None where a digital unit states none.
    lands : pair of UnitId and UnitChannel, or None
        Where it arrives, or where what was sent out comes back; None for a way that does not, or that leads to the ear.
    passes : tuple of UnitId
        The units it passes, the port's own first.
    fault : str
        The note of the first port out of service after the port itself; empty where all are in order.
    """

    zone: Zone
    stops: tuple[Stop, ...]
    lands: Landing | None
    gap: Gap | None
    delay: float | None
    passes: tuple[UnitId, ...]
    fault: str = ""


@dataclass(slots=True)
class SignalPath:
    """The path of one signal, stop by stop.

    Parameters
    ----------
    of : Source or None
        None for a driver output.
    into : Stop or None
        The port it begins at; None for a source that is plugged in nowhere.
    driver : DriverChannel or None
        The driver number at which it arrives, or with which it begins.
    out : bool
        Whether it begins with a driver output.
    to : DestinationId or None
        The destination that hears it.
    walked : bool
        Whether its way was walked for it alone: no line could begin at its socket.
    """

    of: Source | None
    channel: int
    into: Stop | None
    way: PathOnward
    driver: DriverChannel | None = None
    out: bool = False
    to: DestinationId | None = None
    walked: bool = False

    @property
    def stops(self) -> tuple[Stop, ...]:
        """All stops, from the source or the driver output on."""
        first = _DRIVER if self.out else _SOURCE
        return (first,) if self.into is None else (first, self.into, *self.way.stops)

    @property
    def gap(self) -> Gap | None:
        """Where it ends too early."""
        return self.way.gap

    @property
    def latency_samples(self) -> float | None:
        """The sum of the stated delays on it, samples; None where it does not arrive or one is not stated."""
        return self.way.delay if self.way.gap is None else None

    @property
    def source(self) -> SourceId | None:
        """The source's id."""
        return self.of.id if self.of is not None else None

    @property
    def _side(self) -> str:
        return f" {channel_text(self.channel)}" if self.of is not None and self.of.channels > 1 else ""

    @property
    def signal(self) -> str:
        """The signal's name: the source with its side, or the driver's label of an output."""
        if self.of is None:
            return self.driver.label if self.driver else ""
        return self.of.name + self._side

    @property
    def track(self) -> str:
        """The name of the track it is recorded on; empty for an output."""
        return self.of.track_name + self._side if self.of is not None else ""

    @property
    def complete(self) -> bool:
        """Whether it arrives."""
        return self.way.gap is None

    @property
    def is_spare(self) -> bool:
        """Whether it is an unused output: a lane of a link with nothing plugged in behind it is no fault."""
        return self.out and self.to is None and self.way.gap is not None and self.way.gap.cause == "no-cable"


_SOURCE: Final = Stop("source")
_DRIVER: Final = Stop("driver")
UNPLACED: Final = PathOnward("source", (), None, Gap("unplaced"), None, ())
