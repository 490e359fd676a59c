"""A take of pings: the sent file and the recording, read together."""

from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from ennead.files.sound_file import SoundRecording
from ennead.measure.loop_reading import ChannelReading, read_pings
from ennead.measure.overlay import Overlay, overlay_of
from ennead.measure.ping_signal import find_pings
from ennead.measure.zero import DelayIs, with_zero


class PingTake(NamedTuple):
    """What a take says.

    Parameters
    ----------
    overlays : tuple of (Overlay or None)
        By channel; none where they were not asked for.
    """

    rate_hz: int
    readings: tuple[ChannelReading, ...]
    overlays: tuple[Overlay | None, ...] = ()


def read_take(
    sent_path: Path,
    recorded_path: Path,
    delay_is: DelayIs,
    reference: int | None = None,
    *,
    overlays: bool = False,
    progress: Callable[[float], None] = lambda _: None,
) -> PingTake:
    """Return what a recording says, channel by channel.

    Parameters
    ----------
    reference : int or None
        The channel that holds the dry signal, from 1.
    progress : callable
        Told the part that is done; what it raises ends the work.

    Raises
    ------
    FileTrouble, BadSound
    """
    with SoundRecording(sent_path) as sent, SoundRecording(recorded_path) as recorded:
        readings = with_zero(read_pings(sent, recorded, progress), recorded.rate_hz, delay_is, reference)
        train = find_pings(sent)
        curves = tuple([overlay_of(sent, recorded, train, r) if overlays else None for r in readings])
        return PingTake(recorded.rate_hz, tuple(readings), curves)
