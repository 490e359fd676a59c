"""Other channels of the sent file in a ping: what is left of it without its own channel, against each of them."""

from typing import Final

import numpy as np

from ennead.measure.delay import Transfer, pink
from ennead.measure.ping_signal import PingTrain
from ennead.measure.recording import Samples

#: A peak counts where it stands so many rms out of what is left.
_STANDS_OUT: Final = 8.0


def crosstalk_of(heard: Samples, model: Samples, train: PingTrain, sent: int, band: slice) -> tuple[int, float] | None:
    """Return the loudest other sent channel in a period and its weighted gain, or None where none stands out."""
    left = np.fft.rfft(heard - model)[band]
    omega = 2 * np.pi * np.arange(band.start, band.stop) / train.form.period
    best: tuple[int, float] | None = None
    for other in range(train.channels):
        if other == sent:
            continue
        transfer = Transfer(omega, left / train.spectra[band, other], np.ones(len(left)))
        whole = np.zeros(train.form.period // 2 + 1, complex)
        whole[band] = pink(omega, train.rate_hz) * transfer.answer
        course = np.fft.irfft(whole, train.form.period) * train.form.period / 2
        top = float(np.max(np.abs(course)))
        if top > _STANDS_OUT * float(np.sqrt(np.mean(course**2))) and (best is None or top > best[1]):
            best = other, top
    return best
