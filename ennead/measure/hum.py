"""Mains hum in a silence: three harmonics of about 50 Hz against three of about 60, as sets, against what lies between."""

from typing import Final, NamedTuple

import numpy as np

from ennead.measure.recording import Samples

#: The mains of the world, Hz, how far they stray, and the step in which they are looked for.
MAINS_HZ: Final = (50.0, 60.0)
_STRAY_HZ, _STEP_HZ = 0.5, 0.02
_HARMONICS: Final = 3
#: So many are taken out of a ping.
_REMOVED: Final = 8
#: Samples times hum-to-noise below which nothing is said: from 3,300 on the answer is sure, noise gives some ten.
LEAST: Final = 1_500.0
#: A silence shorter than this tells 50 from 60 Hz no more, s.
SHORTEST_S: Final = 0.5
_TO_HZ: Final = 2_000


class Hum(NamedTuple):
    """What hums.

    Parameters
    ----------
    hertz : float, Hz
        The fundamental, as found.
    dbfs : float, dBFS
        Of all harmonics together; a sine of full scale is 0 (AES17).
    """

    hertz: float
    dbfs: float


def hum_in(silence: Samples, rate_hz: int) -> Hum | None:
    """Return the hum of a silence, or None where none can be told from noise.

    Parameters
    ----------
    silence : array of float, shape (frames,), full scale = 1
    """
    if len(silence) < SHORTEST_S * rate_hz:
        return None
    factor = max(1, rate_hz // _TO_HZ)
    thin = silence[: len(silence) // factor * factor].reshape(-1, factor).mean(axis=1)
    rate = rate_hz / factor
    thin = thin - thin.mean()
    time = np.arange(len(thin)) / rate
    best: tuple[float, float] | None = None
    for mains in MAINS_HZ:
        for hertz in np.arange(mains - _STRAY_HZ, mains + _STRAY_HZ + _STEP_HZ / 2, _STEP_HZ):
            energy = _energy(thin, time, hertz)
            if best is None or energy > best[0]:
                best = energy, float(hertz)
    if best is None:
        return None
    hertz = _finer(thin, time, best[1])
    basis = _basis(time, hertz)
    fit, *_ = np.linalg.lstsq(basis, thin, rcond=None)
    # The mean over each step of the thinning takes little off the harmonics; it is given back.
    lost = np.repeat([_kept((n + 1) * hertz, factor, rate_hz) for n in range(_HARMONICS)], 2)
    power = float(np.sum((fit[: 2 * _HARMONICS] / lost) ** 2)) / 2
    left = thin - basis @ fit
    noise = float(np.mean(left**2))
    # The noise of the whole band is that of the thinned one times the factor, where it is white.
    if noise > 0 and power * len(silence) < LEAST * noise * factor:
        return None
    return Hum(hertz, 10 * float(np.log10(2 * power))) if power > 0 else None


def without_hum(signal: Samples, fitted: Samples, hertz: float, rate_hz: int) -> Samples:
    """Return a signal less the offset and the hum that fit something, by least squares.

    Parameters
    ----------
    signal, fitted : array of float, shape (frames,) or (frames, channels)
        What it is taken from, and what it is found in: the same, or what a model leaves of it.
    hertz : float, Hz
        The fundamental; zero for the offset alone.
    """
    if not hertz:
        return np.asarray(signal - fitted.mean(axis=0))
    basis = _basis(np.arange(len(signal)) / rate_hz, hertz, _REMOVED)
    small = basis.T @ basis
    return np.asarray(signal - basis @ np.linalg.solve(small, basis.T @ fitted))


def _basis(time: Samples, hertz: float, harmonics: int = _HARMONICS) -> Samples:
    turns = [2 * np.pi * hertz * (n + 1) * time for n in range(harmonics)]
    columns = [wave(turn) for turn in turns for wave in (np.cos, np.sin)]
    return np.stack([*columns, np.ones(len(time))], axis=1)


def _energy(signal: Samples, time: Samples, hertz: float) -> float:
    """Return what three harmonics explain, by projection: over a whole silence they are all but orthogonal."""
    turn = np.exp(-2j * np.pi * hertz * time)
    total, power = 0.0, turn
    for _ in range(_HARMONICS):
        total += abs(np.dot(signal, power)) ** 2
        power = power * turn
    return float(total)


def _finer(signal: Samples, time: Samples, hertz: float) -> float:
    """Return the frequency at the top of a parabola through what is explained around a step."""
    step = _STEP_HZ / 2
    low, middle, high = (_energy(signal, time, hertz + d) for d in (-step, 0.0, step))
    bend = low - 2 * middle + high
    return hertz + step * float(np.clip(0.5 * (low - high) / bend, -1, 1)) if bend else hertz


def _kept(hertz: float, factor: int, rate_hz: int) -> float:
    turn = np.pi * hertz / rate_hz
    return float(np.sin(factor * turn) / (factor * np.sin(turn)))
