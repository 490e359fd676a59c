"""The clock between pings: a line through their delays, and steps of whole samples where the recording slipped.

Positive: the recorder's clock is the faster one, so that each ping comes later than the one before.
"""

from typing import Final, NamedTuple

import numpy as np
import numpy.typing as npt

from ennead.measure.recording import Samples

#: A step counts beyond so many standard deviations of the difference of two delays.
_SURE: Final = 6.0
#: The rates within pings and between them may differ by so many.
_DIFFER: Final = 4.0
#: Beyond this share of the spacings with a step it slips faster than the pings can tell.
_MOST_STEPS: Final = 1 / 3


class Clock(NamedTuple):
    """The recorder's clock against the sender's.

    Parameters
    ----------
    rate, rate_std : float, ratio
        How much faster the recorder is, 1e-6 for one ppm.
    steps : tuple of int, samples
        By spacing between two pings, how many samples the delay stepped beside the line.
    is_too_fast : bool
        Whether it slips faster than the pings can tell.
    """

    rate: float
    rate_std: float
    steps: tuple[int, ...]
    is_too_fast: bool


def clock_of(times: Samples, delays: Samples, stds: Samples, within: Samples, within_stds: Samples) -> Clock:
    """Return the clock from the delay of each ping and the rate inside it.

    Parameters
    ----------
    times, delays, stds : array of float, samples
        Of the middle of each ping.
    within, within_stds : array of float, ratio
    """
    weights = 1 / within_stds**2
    inner = float(np.dot(weights, within) / weights.sum())
    inner_std = float(1 / np.sqrt(weights.sum()))
    if len(times) == 1:
        return Clock(inner, inner_std, (), False)
    rate, steps = _stepped(times, delays, stds, inner, inner_std)
    level = delays - np.concatenate([[0.0], np.cumsum(steps)])
    weights = 1 / stds**2
    middle = np.dot(weights, times) / weights.sum()
    spread = float(np.dot(weights, (times - middle) ** 2))
    rate = float(np.dot(weights * (times - middle), level) / spread)
    std = float(1 / np.sqrt(spread))
    too_fast = np.count_nonzero(steps) > _MOST_STEPS * len(steps) or abs(rate - inner) > _DIFFER * np.hypot(
        std, inner_std
    )
    return Clock(rate, std, tuple(int(n) for n in steps), bool(too_fast))


def _stepped(
    times: Samples, delays: Samples, stds: Samples, inner: float, inner_std: float
) -> tuple[float, npt.NDArray[np.int_]]:
    """Return the rate and the whole steps beside it: from the rate inside the pings, then from the line that remains."""
    apart, jumps = np.diff(times), np.diff(delays)
    pair = np.hypot(stds[1:], stds[:-1])
    rate = inner
    if inner_std * float(apart.max()) > 0.15:
        rate = float(np.median(jumps / apart))
    steps = np.zeros(len(jumps), int)
    for _ in range(5):
        beside = jumps - rate * apart
        steps = np.where(np.abs(beside) > _SURE * pair, np.round(beside), 0.0).astype(int)
        weights = (apart / pair) ** 2
        rate = float(np.dot(weights, (jumps - steps) / apart) / weights.sum())
    return rate, steps
