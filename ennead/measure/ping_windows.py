"""The windows of one recorded channel, a period of each ping, and what they tell: answer, gain over time, clock within a ping."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ennead.measure.delay import shape_of
from ennead.measure.ping_signal import PingTrain
from ennead.measure.recording import Recording, Samples, Spectrum
from ennead.measure.resampling import MARGIN, resampled

#: Parts of a ping in which its delay is looked at by itself.
PARTS = 8
#: How far the search of about 12 kHz may be wrong, in samples of it.
_WRONG = 4
_PART_REACH = 256
_CLEARLY = 5.0


class PingWindow(NamedTuple):
    """One period of one ping as it was recorded, with what is needed to read it at another clock.

    Parameters
    ----------
    lag : int, samples
        How much later than sent its period starts.
    samples : array of float, shape (period + 2 MARGIN,)
    """

    ping: int
    lag: int
    samples: Samples

    def period_at(self, rate: float) -> Samples:
        """Return the period at a recorder's clock that is faster by a ratio."""
        count = len(self.samples) - 2 * MARGIN
        return resampled(self.samples, count, rate) if rate else self.samples[MARGIN:-MARGIN]


def windows_of(
    recording: Recording, channel: int, train: PingTrain, sent: int, lags: Sequence[int | None], band: slice
) -> list[PingWindow]:
    """Return the windows of the pings that are heard, each moved to where its correlation is largest."""
    out = []
    period = train.form.period
    reach = _WRONG * max(1, train.rate_hz // 12_000)
    for ping, (start, lag) in enumerate(zip(train.starts, lags, strict=True)):
        if lag is None:
            continue
        at = start + lag
        heard = np.fft.rfft(_read(recording, channel, at, period))
        cross = np.zeros(period // 2 + 1, complex)
        cross[band] = (heard * np.conj(train.spectra[:, sent]))[band]
        course = np.abs(np.fft.irfft(_weighted(cross), period))
        near = np.concatenate([course[-reach:], course[: reach + 1]])
        there = lag + int(np.argmax(near)) - reach
        out.append(PingWindow(ping, there, _read(recording, channel, start + there - MARGIN, period + 2 * MARGIN)))
    return out


def _read(recording: Recording, channel: int, start: int, count: int) -> Samples:
    return np.nan_to_num(recording.read(start, count)[:, channel], posinf=0.0, neginf=0.0)


def _weighted(cross: Spectrum) -> Spectrum:
    """Return a cross-spectrum weighted by what was received of each part of the band, so that noise alone counts for little."""
    from scipy.ndimage import uniform_filter1d  # type: ignore[import-untyped]

    received = np.abs(uniform_filter1d(np.abs(cross), 301, mode="reflect"))
    least = np.median(received[received > 0]) if np.any(received) else 0.0
    return np.asarray(cross * np.maximum(received - 0.5 * least, 0.0))


def answers_of(
    windows: Sequence[PingWindow], train: PingTrain, sent: int, band: slice, rates: Sequence[float]
) -> Spectrum:
    """Return the answer by window and bin, shape (windows, bins), each about its own lag."""
    model = train.spectra[band, sent]
    return np.array([np.fft.rfft(w.period_at(rate))[band] / model for w, rate in zip(windows, rates, strict=True)])


def model_of(answer: Spectrum, noise: Samples, train: PingTrain, sent: int, band: slice, delay: float) -> Samples:
    """Return the period as it comes back without noise: the sent one through the smoothed answer."""
    omega = 2 * np.pi * np.arange(band.start, band.stop) / train.form.period
    turned = np.exp(1j * omega * delay)
    smooth = shape_of(answer * turned, noise) / turned
    whole = np.zeros(train.form.period // 2 + 1, complex)
    whole[band] = smooth * train.spectra[band, sent]
    return np.asarray(np.fft.irfft(whole, train.form.period))


def part_delays(heard: Samples, model: Samples) -> tuple[Samples, Samples, Samples]:
    """Return by part of a ping how much later it is than its model, the standard deviation of that, samples, and its gain."""
    size = len(model) // PARTS
    turn = np.fft.rfft(model)
    slope = np.fft.irfft(turn * 2j * np.pi * np.arange(len(turn)) / len(model), len(model))
    delays, stds, gains = np.zeros(PARTS), np.full(PARTS, np.inf), np.zeros(PARTS)
    for n in range(PARTS):
        part = slice(n * size, (n + 1) * size)
        y, m = heard[part], model[part]
        whole = _part_lag(y, m)
        moved, bent = np.roll(model, whole)[part], np.roll(slope, whole)[part]
        # y ≈ a (m − τ m′): least squares in a and a τ. The clock is taken out in rounds, so that τ ends next to zero.
        fit, rest, *_ = np.linalg.lstsq(np.stack([moved, bent], axis=1), y, rcond=None)
        if not fit[0]:
            continue
        gains[n] = abs(fit[0])
        energy = float(np.sum(bent**2)) * float(fit[0]) ** 2
        left = float(rest[0]) / size if len(rest) else 0.0
        delays[n] = whole - float(np.clip(fit[1] / fit[0], -1.0, 1.0))
        stds[n] = np.sqrt(max(left, 1e-30) / energy) if energy else np.inf
    return delays, stds, gains


def _part_lag(y: Samples, m: Samples) -> int:
    """Return the delay of a part to a whole sample, by the peak of its correlation; zero unless it clearly stands elsewhere."""
    size = 2 * len(m)
    course = np.abs(np.fft.irfft(np.fft.rfft(y, size) * np.conj(np.fft.rfft(m, size)), size))
    near = np.concatenate([course[-_PART_REACH:], course[: _PART_REACH + 1]])
    at = int(np.argmax(near)) - _PART_REACH
    beside = float(np.sqrt(np.mean(course[len(m) // 2 : -len(m) // 2] ** 2)))
    return at if near[at + _PART_REACH] - course[0] > _CLEARLY * beside else 0
