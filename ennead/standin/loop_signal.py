"""A hardware loop played by arithmetic: late, quiet, inverted, noisy, drifting, slipping, swapped, clipped, compressed, dead.

Delay, filters and clock are exact: spectra turned, or summed at other times by the chirp transform; nothing is interpolated.
It shares no code with what measures.
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

Wave = npt.NDArray[np.float64]


class LoopSettings(NamedTuple):
    """How a played loop behaves.

    Parameters
    ----------
    delay_samples : float, samples
    gain_db : float, dB
    noise_dbfs : float or None, dBFS
        Rms of white noise, full scale = 1; None for none.
    drift_ppm : float, ppm
        How much faster the recorder's clock is.
    slips : tuple of (float, int), s and samples
        Where the recording goes on so many samples later, or earlier.
    gaps : tuple of (float, float), s
        Where it drops out, and for how long.
    low_pass : tuple of (float, bool) or None, Hz
        Its corner, and whether its phase is linear (minimum phase else).
    resonance : tuple of (float, float) or None, Hz and dB
        A bell of Q 2, minimum phase.
    hum : tuple of (float, float) or None, Hz and dBFS
        Its fundamental and the level of all of it; a third and a fifth of it as second and third harmonic.
    clip : float or None, full scale = 1
    compress : tuple of (float, float, float) or None, ms, ms, dBFS
        Attack, release and threshold of a compressor of 4 to 1 that works on the sent sound.
    """

    delay_samples: float = 0.0
    gain_db: float = 0.0
    inverted: bool = False
    noise_dbfs: float | None = None
    drift_ppm: float = 0.0
    slips: tuple[tuple[float, int], ...] = ()
    gaps: tuple[tuple[float, float], ...] = ()
    swapped: bool = False
    low_pass: tuple[float, bool] | None = None
    resonance: tuple[float, float] | None = None
    hum: tuple[float, float] | None = None
    dc: float = 0.0
    clip: float | None = None
    compress: tuple[float, float, float] | None = None
    dead: bool = False


def answer(settings: LoopSettings, hertz: Wave) -> "npt.NDArray[np.complex128]":
    """Return what the filters of a loop do at each frequency: no delay, no gain."""
    out = np.ones(len(hertz), complex)
    if settings.low_pass is not None:
        corner, linear = settings.low_pass
        s = 1j * hertz / corner
        if linear:
            out *= 1 / np.sqrt(1 + (hertz / corner) ** 16)
        else:
            # Butterworth of the fourth order, as two pairs of poles.
            out /= (s * s + 0.76536686 * s + 1) * (s * s + 1.84775907 * s + 1)
    if settings.resonance is not None:
        middle, lift = settings.resonance
        s, root = 1j * hertz / middle, 10 ** (lift / 40)
        out *= (s * s + s * root / 2 + 1) / (s * s + s / (2 * root) + 1)
    return out


def play(settings: LoopSettings, sent: Wave, rate_hz: int, seed: int = 0) -> Wave:
    """Return what comes back of a sent file.

    Parameters
    ----------
    sent : array of float, shape (frames, channels), full scale = 1
    rate_hz : int, Hz
    seed : int
        Of the noise.

    Returns
    -------
    array of float, shape (frames + about 1 s, channels)
    """
    frames = len(sent) + rate_hz
    out = np.zeros((frames, sent.shape[1]))
    if not settings.dead:
        source = sent[:, ::-1] if settings.swapped else sent
        if settings.compress is not None:
            gains = Compressor(rate_hz, *settings.compress).gains(np.max(np.abs(source), axis=1))
            source = source * gains[:, None]
        for channel in range(source.shape[1]):
            out[:, channel] = _passed(settings, source[:, channel], rate_hz, frames)
    out *= (-1 if settings.inverted else 1) * 10 ** (settings.gain_db / 20)
    for at, length in settings.gaps:
        out[round(at * rate_hz) : round((at + length) * rate_hz)] = 0.0
    for at, samples in settings.slips:
        out = _slipped(out, round(at * rate_hz), samples)
    if settings.hum is not None:
        out += hum_at(*settings.hum, np.arange(len(out)) / rate_hz)[:, None]
    out += settings.dc
    if settings.noise_dbfs is not None:
        out += np.random.default_rng(seed).normal(0.0, 10 ** (settings.noise_dbfs / 20), out.shape)
    return np.clip(out, -settings.clip, settings.clip) if settings.clip is not None else out


def _passed(settings: LoopSettings, wave: Wave, rate_hz: int, frames: int) -> Wave:
    """Return one channel through filters, delay and clock."""
    from scipy.fft import next_fast_len  # type: ignore[import-untyped]

    out = np.zeros(frames)
    pad = rate_hz // 2
    for first, end in _islands(wave, rate_hz):
        # Each sound for itself: a transform of ten minutes at another clock is not wanted.
        begin = first - pad
        size = int(next_fast_len(end - first + 2 * pad + round(abs(settings.delay_samples)), real=True))
        part = np.zeros(size)
        part[pad : pad + end - first] = wave[first:end]
        spectrum = np.fft.rfft(part)
        turn = 2 * np.pi * np.arange(len(spectrum)) / size
        spectrum = spectrum * answer(settings, turn * rate_hz / (2 * np.pi))
        # A delay is turned by its fraction and moved by its whole part, so that a second of it is as exact.
        whole = round(settings.delay_samples)
        spectrum *= np.exp(-1j * turn * (settings.delay_samples - whole))
        ratio = 1 / (1 + settings.drift_ppm * 1e-6)
        place = int(np.ceil((begin + whole) / ratio))
        heard = _at_other_times(spectrum, size, place * ratio - begin - whole, ratio)
        a, b = max(0, place), min(frames, place + len(heard))
        if a < b:
            out[a:b] += heard[a - place : b - place]
    return out


def _islands(wave: Wave, rate_hz: int) -> list[tuple[int, int]]:
    loud = np.flatnonzero(wave)
    if not len(loud):
        return []
    breaks = np.flatnonzero(np.diff(loud) > rate_hz // 10)
    firsts, lasts = loud[np.concatenate([[0], breaks + 1])], loud[np.concatenate([breaks, [len(loud) - 1]])]
    return [(int(a), int(b) + 1) for a, b in zip(firsts, lasts, strict=True)]


def _at_other_times(spectrum: "npt.NDArray[np.complex128]", size: int, start: float, ratio: float) -> Wave:
    """Return the wave of a spectrum at start, start + ratio, start + 2 ratio and on."""
    if ratio == 1 and start == 0:
        return np.fft.irfft(spectrum, size)
    from scipy.signal import czt  # type: ignore[import-untyped]

    bins = np.arange(len(spectrum))
    weight = np.where((bins == 0) | (2 * bins == size), 1.0, 2.0) / size
    values = spectrum * weight * np.exp(2j * np.pi * bins * start / size)
    return np.real(czt(values, size, np.exp(2j * np.pi * ratio / size)))


def _slipped(out: Wave, at: int, samples: int) -> Wave:
    before, after = out[:at], out[at:]
    if samples > 0:
        return np.concatenate([before, np.zeros((samples, out.shape[1])), after])
    return np.concatenate([before, after[-samples:]])


def hum_at(hertz: float, dbfs: float, time: Wave) -> Wave:
    """Return hum at some times, s."""
    parts = (1.0, 1 / 3, 1 / 5)
    # A sine of full scale reads 0 dBFS; all parts together read what is asked.
    top = 10 ** (dbfs / 20) / np.sqrt(sum(p * p for p in parts))
    return np.asarray(sum(top * p * np.sin(2 * np.pi * hertz * (n + 1) * time + n) for n, p in enumerate(parts)))


class Compressor:
    """A compressor of 4 to 1 that follows peaks.

    Parameters
    ----------
    rate_hz : int, Hz
    attack_ms, release_ms : float, ms
    threshold_dbfs : float, dBFS
    """

    def __init__(self, rate_hz: int, attack_ms: float, release_ms: float, threshold_dbfs: float) -> None:
        self._up, self._down = (float(np.exp(-1 / (ms * 1e-3 * rate_hz))) for ms in (attack_ms, release_ms))
        self._limit, self._held = 10 ** (threshold_dbfs / 20), 0.0

    def gains(self, level: Wave) -> Wave:
        """Return the gains for the next samples, of which the peaks over all channels are given."""
        held, follow = self._held, np.empty(len(level))
        for n, now in enumerate(level.tolist()):
            share = self._up if now > held else self._down
            held = share * held + (1 - share) * now
            follow[n] = held
        self._held = held
        return np.asarray(np.minimum(1.0, (np.maximum(follow, 1e-12) / self._limit) ** -0.75))
