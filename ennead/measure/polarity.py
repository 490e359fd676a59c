"""The polarity of a loop, and when it has none."""

from typing import Final

import numpy as np

from ennead.measure.delay import Transfer, pink

#: Further than this from 0 and 180° the phase at the envelope's peak is no polarity, degrees.
FURTHEST_DEG: Final = 60.0
#: A peak of the other sign this close to the largest leaves none.
RUNNER_UP: Final = 0.9


def polarity_of(transfer: Transfer, rate_hz: int, period: int, within: int) -> int | None:
    """Return 1, −1, or None where the loop turns the phase so much that neither is right."""
    values = pink(transfer.omega, rate_hz) * transfer.answer
    first = round(transfer.omega[0] * period / (2 * np.pi))
    whole = np.zeros(4 * period, complex)
    whole[first : first + len(values)] = values
    # Σ values exp(+jωτ) by its inverse transform, a quarter of a sample a step.
    course = np.fft.ifft(whole) * len(whole)
    near = np.concatenate([course[-4 * within :], course[: 4 * within + 1]])
    peak = near[int(np.argmax(np.abs(near)))]
    turn = abs(np.degrees(np.angle(peak)))
    if min(turn, 180.0 - turn) > FURTHEST_DEG:
        return None
    up, down = float(near.real.max()), float(-near.real.min())
    if min(up, down) >= RUNNER_UP * max(up, down):
        return None
    return 1 if up > down else -1
