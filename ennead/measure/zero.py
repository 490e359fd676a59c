"""What the zero of a delay is, and when a recording has none: a whole loop, what the software left over, or between two channels."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Final, Literal

import numpy as np

from ennead.measure.errors import BadSound
from ennead.measure.loop_reading import ChannelReading
from ennead.measure.ping_signal import LARGEST_DELAY_S

DelayIs = Literal["round_trip", "residual", "between_channels"]
#: A whole loop is no earlier than sent; noise may say half a sample.
_EARLIEST: Final = -0.5
_CANNOT: Final = (
    "Cannot say: the recording does not begin with the sent file. Export from the start of the timeline, or record the"
    " dry track beside it and name its channel as the reference."
)


def with_zero(
    readings: Sequence[ChannelReading], rate_hz: int, delay_is: DelayIs, reference: int | None = None
) -> list[ChannelReading]:
    """Return readings with the delay against its zero, without a delay where there is none.

    Parameters
    ----------
    delay_is : str
        ``round_trip`` where the software plays and records without compensation, ``residual`` where it takes off
        what the driver reports.
    reference : int or None
        The channel, from 1, that holds the dry signal: the others are given against it.

    Raises
    ------
    BadSound
        If the recording has no such channel, or no ping is heard in it.
    """
    if reference is None:
        return [_absolute(reading, rate_hz, delay_is) for reading in readings]
    dry = next((r for r in readings if r.channel == reference), None)
    if dry is None:
        raise BadSound(f"the recording has no channel {reference}", f"Name one of 1 to {len(readings)}.")
    if dry.delay_samples is None or dry.std_samples is None:
        raise BadSound(f"no ping is heard in channel {reference}", "Name the channel that holds the dry signal.")
    return [_against(reading, dry, dry.delay_samples, dry.std_samples) for reading in readings]


def _absolute(reading: ChannelReading, rate_hz: int, delay_is: DelayIs) -> ChannelReading:
    if reading.delay_samples is None:
        return replace(reading, delay_is=delay_is)
    least = _EARLIEST if delay_is == "round_trip" else -LARGEST_DELAY_S * rate_hz
    if least <= reading.delay_samples <= LARGEST_DELAY_S * rate_hz:
        return replace(reading, delay_is=delay_is)
    return replace(reading, delay_is=delay_is, delay_samples=None, std_samples=None, crlb_samples=None, verdict=_CANNOT)


def _against(reading: ChannelReading, dry: ChannelReading, late: float, std: float) -> ChannelReading:
    if reading.delay_samples is None or reading.std_samples is None:
        return replace(reading, delay_is="between_channels")
    both = reading.crlb_samples is not None and dry.crlb_samples is not None
    bound = float(np.hypot(reading.crlb_samples or 0.0, dry.crlb_samples or 0.0)) if both else None
    same = reading.channel == dry.channel
    return replace(
        reading,
        delay_is="between_channels",
        delay_samples=reading.delay_samples - late,
        std_samples=0.0 if same else float(np.hypot(reading.std_samples, std)),
        crlb_samples=0.0 if same else bound,
    )
