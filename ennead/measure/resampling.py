"""A window of a recording at the sender's clock: sinc interpolation of 96 points."""

import numpy as np

from ennead.measure.recording import Samples

_TAPS = 96
_PHASES = 4096
#: Of the Kaiser window: what is left out is 110 dB down.
_BETA = 11.0
#: Samples that a resampled window needs at either side of it.
MARGIN = 256


def resampled(samples: Samples, count: int, rate: float) -> Samples:
    """Return a window of `count` samples, each `1 + rate` samples of the recording apart, about the same middle.

    Parameters
    ----------
    samples : array of float, shape (count + 2 MARGIN,)
    rate : float
        How much faster the recorder's clock is, as a ratio: 1e-6 is one ppm.
    """
    middle = (count - 1) / 2
    place = MARGIN + middle + (np.arange(count) - middle) * (1 + rate)
    whole = np.floor(place).astype(int)
    part = (place - whole) * _PHASES
    row = part.astype(int)
    share = (part - row)[:, None]
    table = _table()
    out = np.empty(count)
    taps = np.arange(1 - _TAPS // 2, _TAPS // 2 + 1)
    for at in range(0, count, 2**14):
        piece = slice(at, at + 2**14)
        weights = table[row[piece]] * (1 - share[piece]) + table[row[piece] + 1] * share[piece]
        out[piece] = np.einsum("ij,ij->i", samples[whole[piece, None] + taps], weights)
    return out


def _table() -> Samples:
    if not _kept:
        part = np.arange(_PHASES + 1)[:, None] / _PHASES
        away = np.arange(1 - _TAPS // 2, _TAPS // 2 + 1) - part
        inside = np.sqrt(np.clip(1 - (away / (_TAPS / 2)) ** 2, 0, None))
        _kept.append(np.sinc(away) * np.i0(_BETA * inside) / np.i0(_BETA))
    return _kept[0]


_kept: list[Samples] = []
