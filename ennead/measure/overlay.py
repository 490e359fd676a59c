"""Sent and returned waves of one ping over each other, to be looked at sample by sample."""

from typing import Final, NamedTuple

import numpy as np

from ennead.measure.loop_reading import ChannelReading
from ennead.measure.ping_signal import PingTrain
from ennead.measure.recording import Recording, Samples

#: How much of a ping is kept, s: its beginning, with some silence before it.
SHOWN_S: Final = 0.05
BEFORE_S: Final = 0.005


class Overlay(NamedTuple):
    """Two waves on one axis.

    Parameters
    ----------
    sent, returned : array of float
        The returned one is set to the height and the sign of the sent one.
    late : float, samples
        How much later than the first sample of `sent` the first of `returned` is, once the measured delay is taken out.
    """

    sent: Samples
    returned: Samples
    late: float


def overlay_of(sent: Recording, recording: Recording, train: PingTrain, reading: ChannelReading) -> Overlay | None:
    """Return the beginning of the first ping as sent and as returned, or None where there is no delay to lay them by."""
    if reading.found_samples is None or reading.gain_db is None:
        return None
    rate = train.rate_hz
    first = train.starts[reading.first] - train.form.lead - round(BEFORE_S * rate)
    count = round((BEFORE_S + SHOWN_S) * rate)
    # What the clock has gained until the middle of the pings it has not gained at the first.
    drift = (reading.drift_ppm or 0.0) * 1e-6
    late = reading.found_samples - drift * (reading.at_s * rate - reading.found_samples - train.starts[reading.first])
    whole = round(late)
    height = (reading.polarity or 1) * 10 ** (-reading.gain_db / 20)
    wave = np.nan_to_num(recording.read(first + whole, count)[:, reading.channel - 1], posinf=0.0, neginf=0.0)
    return Overlay(sent.read(first, count)[:, reading.sent - 1], wave * height, whole - late)
