"""The delay of a transfer function, by one of two definitions, and how sure it is.

*Pure* is the maximum-likelihood delay of a loop whose phase is a straight line: flat, or filtered with linear phase.
*Weighted* is defined for any loop: the delay that maximises |Σ W Re{H exp(jωτ)}|, W pink from 100 Hz to 10 kHz.

References
----------
The Cramér–Rao bound of a delay: var ≥ σ² / (E β²), E the received energy, β its rms bandwidth in rad/sample.
"""

from typing import Final, NamedTuple

import numpy as np

from ennead.measure.recording import Samples, Spectrum

#: The band of the weighted delay, Hz; its weight falls as one over the frequency.
PINK_HZ: Final = (100.0, 10_000.0)
#: Bins are smoothed over at least and at most so many to see the shape of a filter.
_SMOOTH: Final = (33, 1024)
#: The noise that a smoothed shape may have, as a share of it.
_SHAPE_NOISE: Final = 0.05
#: A shape below so many times its noise is none: such bins count for nothing.
_GATE: Final = 4.0
#: In so many bands of the same information the phase is compared with a straight line; beyond so many standard
#: deviations it is none. A straight one that is taken for bent by chance costs a wider claim, and no error.
_BANDS: Final = 12
_BENT: Final = 3.1
#: How far two delays of one loop may lie apart, in standard deviations of their difference.
_APART: Final = 3.0


class Transfer(NamedTuple):
    """What a loop does to each bin, with its noise.

    Parameters
    ----------
    omega : array of float, rad/sample
        Frequency of each bin.
    answer : array of complex
        Returned over sent.
    noise : array of float
        Variance of each answer (both parts together).
    """

    omega: Samples
    answer: Spectrum
    noise: Samples

    def moved(self, samples: float) -> "Transfer":
        """Return the same with a delay taken out of it."""
        return self._replace(answer=self.answer * np.exp(1j * self.omega * samples))


class Delay(NamedTuple):
    """A delay and what stands behind it.

    Parameters
    ----------
    samples, std_samples : float, samples
    is_pure : bool
        Whether the phase is a straight line.
    gain : float
        With its sign; of the weighted delay its weighted mean.
    spread_samples : float, samples
        Rms of the group delay about it, weighted by W |H|²; zero for a pure delay.
    """

    samples: float
    std_samples: float
    is_pure: bool
    gain: float
    spread_samples: float


def pink(omega: Samples, rate_hz: int) -> Samples:
    """Return the weight W of each bin."""
    hertz = omega * rate_hz / (2 * np.pi)
    half = (hertz[1] - hertz[0]) / 2
    # One over the frequency, summed over the width of each bin: the band ends inside of two of them.
    low, high = np.maximum(hertz - half, PINK_HZ[0]), np.minimum(hertz + half, PINK_HZ[1])
    weight = np.where(high > low, np.log(np.maximum(high, low) / low), 0.0)
    return np.asarray(weight / weight.sum())


def peak_of(values: Spectrum, omega: Samples, period: int, within: int) -> float:
    """Return the delay within so many samples of zero at which |Σ Re{values exp(jωτ)}| is largest, to 1e-9 sample."""
    first = round(omega[0] * period / (2 * np.pi))
    whole = np.zeros(period + 1, complex)
    # Twice the period: half samples, fine enough for Newton's steps from any of them.
    whole[first : first + len(values)] = values
    course = np.fft.irfft(whole, 2 * period) * period
    reach = 2 * within
    near = np.concatenate([course[-reach:], course[: reach + 1]])
    return newton(values, omega, (int(np.argmax(np.abs(near))) - reach) / 2)


def newton(values: Spectrum, omega: Samples, start: float) -> float:
    """Return the stationary delay of Σ Re{values exp(jωτ)} next to a start."""
    tau = start
    for _ in range(20):
        turned = values * np.exp(1j * omega * tau)
        slope, bend = -np.dot(omega, turned.imag), -np.dot(omega**2, turned.real)
        step = -slope / bend if bend else 0.0
        tau += float(np.clip(step, -0.5, 0.5))
        if abs(step) < 1e-10:
            break
    return tau


def std_of(weights: Samples, turned: Spectrum, transfer: Transfer) -> float:
    """Return the standard deviation of the delay that maximises Σ weights Re{turned exp(jωτ)}, samples."""
    above = np.sum((weights * transfer.omega) ** 2 * transfer.noise) / 2
    below = np.dot(weights * transfer.omega**2, turned.real)
    return float(np.sqrt(above) / abs(below)) if below else np.inf


def weighted_delay(transfer: Transfer, rate_hz: int, period: int, within: int) -> Delay:
    """Return the delay by its definition for any loop."""
    weights = pink(transfer.omega, rate_hz)
    tau = peak_of(weights * transfer.answer, transfer.omega, period, within)
    turned = transfer.moved(tau).answer
    gain = float(np.dot(weights, turned.real))
    return Delay(tau, std_of(weights, turned, transfer), False, gain, _spread(turned, transfer, weights))


def pure_delay(transfer: Transfer, start: float) -> tuple[Delay, Samples]:
    """Return the maximum-likelihood delay of a loop with a straight phase, near a start, and the loop's shape by bin."""
    tau, shape = start, np.ones(len(transfer.omega))
    sign = 1.0
    for _ in range(4):
        turned = transfer.moved(tau).answer
        sign = 1.0 if np.dot(np.abs(shape), turned.real) >= 0 else -1.0
        shape = shape_of(sign * turned.real, transfer.noise / 2).real
        weights = sign * shape / transfer.noise
        tau = newton(weights * transfer.answer, transfer.omega, tau)
    turned = transfer.moved(tau).answer
    weights = shape / transfer.noise
    whole = np.dot(weights, shape)
    gain = float(np.dot(weights, turned.real) / whole) if whole else 0.0
    level = float(np.sqrt(np.mean(shape**2)))
    return Delay(tau, std_of(weights, turned, transfer), True, np.copysign(max(level, 0.0), gain), 0.0), shape


def shape_of(values: "Samples | Spectrum", variance: Samples) -> "Samples | Spectrum":
    """Return values smoothed over as many bins as their noise asks for, zero where nothing stands out of it."""
    from scipy.ndimage import uniform_filter1d  # type: ignore[import-untyped]

    power = max(float(np.mean(np.abs(values) ** 2) - np.mean(variance)), 1e-30)
    asked = float(np.mean(variance)) / (power * _SHAPE_NOISE**2)
    width = int(np.clip(asked, *_SMOOTH)) | 1
    smooth = uniform_filter1d(values, width, mode="reflect")
    noise = np.sqrt(uniform_filter1d(variance, width, mode="reflect") / width)
    # At both ends half of the bins stand for two.
    noise[: width // 2] *= np.sqrt(2)
    noise[-(width // 2) :] *= np.sqrt(2)
    return np.where(np.abs(smooth) > _GATE * noise, smooth, 0.0)


def bend_of(delay: Delay, shape: Samples, transfer: Transfer) -> float:
    """Return how far the phase is from a straight line through zero, in standard deviations."""
    turned = transfer.moved(delay.samples).answer * np.sign(delay.gain)
    weights = shape / transfer.noise
    told = np.cumsum(weights * shape)
    edges = np.searchsorted(told, told[-1] * np.arange(1, _BANDS) / _BANDS)
    parts = np.split(np.arange(len(shape)), edges)
    scores = []
    for part in parts:
        deviation = np.sqrt(np.sum(weights[part] ** 2 * transfer.noise[part]) / 2)
        if deviation > 0:
            scores.append(np.dot(weights[part], turned.imag[part]) / deviation)
    count = max(1, len(scores) - 1)
    # The cube root of chi-square over its degrees is all but normal (Wilson and Hilferty).
    mean, width = 1 - 2 / (9 * count), np.sqrt(2 / (9 * count))
    return float(((float(np.sum(np.square(scores))) / count) ** (1 / 3) - mean) / width)


def delay_of(transfer: Transfer, rate_hz: int, period: int, within: int) -> Delay:
    """Return the delay: pure where the phase is straight and both definitions agree, weighted otherwise."""
    other = weighted_delay(transfer, rate_hz, period, within)
    pure, shape = pure_delay(transfer, other.samples)
    if not np.any(shape) or bend_of(pure, shape, transfer) > _BENT:
        return other
    apart = np.sqrt(max(other.std_samples**2 - pure.std_samples**2, pure.std_samples**2))
    if abs(pure.samples - other.samples) > _APART * apart:
        return other
    return pure._replace(gain=other.gain)


def _spread(turned: Spectrum, transfer: Transfer, weights: Samples) -> float:
    """Return the rms of the group delay about the delay that is taken out, weighted by W |H|²."""
    shape = shape_of(turned, transfer.noise)
    step = transfer.omega[1] - transfer.omega[0]
    group = -np.imag(np.gradient(shape, step) * np.conj(shape)) / np.maximum(np.abs(shape) ** 2, 1e-30)
    share = weights * np.abs(shape) ** 2
    return float(np.sqrt(np.dot(share, group**2) / max(share.sum(), 1e-30)))
