"""Where the pings are in a recording, to within a few samples: correlation at about 12 kHz, each ping for itself.

The rate is low enough that 100 ppm of drift leave the peak standing: at 12 kHz they stretch a ping by one sample.
"""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from ennead.measure.errors import BadSound
from ennead.measure.ping_signal import PingTrain
from ennead.measure.recording import Recording, Samples

#: The rate of the search is the least whole fraction of the recording's at or above this, Hz.
SEARCH_HZ = 12_000
#: Of a ping's energy and the recording's there, what must be common; of noise alone, 1e7 places give 0.004.
LEAST_SHARE = 0.01
#: How far pings may stray from their places, as a share of the time between the first and them, and beside it, s.
_STRAY, _STRAY_S = 3e-4, 0.02
_MOST_PEAKS = 2_000
#: Frames that are read at a time.
BLOCK = 2**20

Single = npt.NDArray[np.float32]
Places = npt.NDArray[np.intp]


class Found(NamedTuple):
    """Where the pings of one channel are.

    Parameters
    ----------
    sent : int
        The channel of the sent file that is heard, from 0.
    lags : tuple of (int or None), samples
        By ping, how much later it is recorded than sent; None where it is not heard.
    share : float
        Of the energy there, the part that is the ping; the mean over the pings that are heard.
    """

    sent: int
    lags: tuple[int | None, ...]
    share: float


def thinned(recording: Recording, progress: Callable[[float], None] = lambda _: None) -> npt.NDArray[np.float32]:
    """Return a recording at the rate of the search, each sample the mean of those it stands for; `progress` may raise to cancel."""
    factor = recording.rate_hz // SEARCH_HZ
    step = BLOCK // factor * factor
    out = np.zeros((-(-recording.frames // factor), recording.channels), np.float32)
    mean = np.tile(np.eye(recording.channels) / factor, (factor, 1))
    at = 0
    for block in recording.blocks(step):
        progress(at * factor / recording.frames)
        if len(block) % factor:
            block = np.pad(block, ((0, -len(block) % factor), (0, 0)))  # noqa: PLW2901 - the last one alone
        # A product of matrices: the quickest of the means over a short axis.
        means = block.reshape(-1, factor * recording.channels) @ mean.astype(block.dtype)
        if not np.isfinite(means).all():
            raise BadSound(
                f"the recording holds values that are no numbers, at about {at * factor / recording.rate_hz:.1f} s",
                "Export it again, as 24-bit WAV.",
            )
        out[at : at + len(means)] = means
        at += len(means)
    return out


def find_lags(
    thin: npt.NDArray[np.float32], train: PingTrain, progress: Callable[[float], None] = lambda _: None
) -> list[Found | None]:
    """Return by channel of a thinned recording where its pings are, or None where none is heard."""
    factor = train.rate_hz // SEARCH_HZ
    width = train.form.period // factor
    models = train.periods[: width * factor].reshape(width, factor, -1).mean(axis=1)
    found = []
    for n in range(thin.shape[1]):
        progress(n / thin.shape[1])
        found.append(_in_channel(thin[:, n], models, train, factor))
    return found


def _in_channel(heard: Single, models: Samples, train: PingTrain, factor: int) -> Found | None:
    width = len(models)
    padded = np.concatenate([np.zeros(width, np.float32), heard, np.zeros(width, np.float32)])
    summed = np.concatenate([[0.0], np.cumsum(np.square(padded, dtype=float))])
    energy = (summed[width:] - summed[:-width]).astype(np.float32)
    del summed
    floor = np.float32(1e-12 * max(float(np.max(energy, initial=0.0)), 1e-30))
    best: Found | None = None
    for sent in range(models.shape[1]):
        share = _correlation(padded, models[:, sent])
        np.square(share, out=share)
        share /= energy + floor
        share /= np.float32(np.sum(models[:, sent] ** 2))
        share[energy <= 4 * floor] = 0.0
        # Index `width` is where the recording begins.
        found = _patterned(_peaks(share) - width, share, sent, width, train, factor)
        if found is not None and (best is None or found.share > best.share):
            best = found
    return best


def _peaks(share: Single) -> Places:
    """Return where a ping may be: local peaks above the least share, the best of them if there are many, in order."""
    at = np.flatnonzero(share >= LEAST_SHARE)
    at = at[(share[at] >= share[np.maximum(at - 1, 0)]) & (share[at] >= share[np.minimum(at + 1, len(share) - 1)])]
    if len(at) > _MOST_PEAKS:
        at = np.sort(at[np.argpartition(share[at], -_MOST_PEAKS)[-_MOST_PEAKS:]])
    return at


def _patterned(peaks: Places, share: Single, sent: int, width: int, train: PingTrain, factor: int) -> Found | None:
    """Return the lag at which most of the pings meet a peak, and each ping's own lag there."""
    if not len(peaks):
        return None
    places = np.array(train.starts) / factor
    strays = np.ceil(_STRAY * (places - places[0]) + _STRAY_S * train.rate_hz / factor)
    sizes = share[peaks + width]
    lags = np.unique(np.round(peaks[:, None] - places).astype(int))
    score = np.zeros(len(lags))
    summed = np.concatenate([[0.0], np.cumsum(sizes, dtype=float)])
    for place, stray in zip(places, strays, strict=True):
        low = np.searchsorted(peaks, lags + place - stray)
        high = np.searchsorted(peaks, lags + place + stray, side="right")
        score += np.minimum(summed[high] - summed[low], 1.0)
    lag = lags[int(np.argmax(score))]
    found: list[int | None] = []
    shares = []
    for start, place, stray in zip(train.starts, places, strays, strict=True):
        near = np.flatnonzero(np.abs(peaks - lag - place) <= 2 * stray)
        if not len(near):
            found.append(None)
            continue
        best = near[int(np.argmax(sizes[near]))]
        found.append(int(peaks[best]) * factor - start)
        shares.append(float(sizes[best]))
    return Found(sent, tuple(found), float(np.mean(shares))) if shares else None


def _correlation(signal: Single, model: Samples) -> Single:
    """Return the correlation at every place at which the model fits into the signal, by blocks."""
    size = 2 ** int(np.ceil(np.log2(8 * len(model))))
    turned = np.conj(np.fft.rfft(model, size))
    step = size - len(model) + 1
    count = len(signal) - len(model) + 1
    out = np.empty(count, np.float32)
    for start in range(0, count, step):
        part = np.fft.irfft(np.fft.rfft(signal[start : start + size], size) * turned, size)[:step]
        out[start : start + step] = part[: count - start]
    return out
