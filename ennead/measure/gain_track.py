"""The gain over the time of a ping, where a box moves it."""

from typing import Final

import numpy as np

from ennead.measure.recording import Samples

#: The shortest part that has a gain of its own, samples at 48 kHz, and the longest.
_SHORTEST, _LONGEST = 128, 4096
#: The noise a part's gain may have, as a share.
_NOISE: Final = 0.02
#: The gain moved where its parts differ by more than chance would let them, in standard deviations.
_MOVED: Final = 8.0
#: Below this it stands still to any ear, dB.
LEAST_DB: Final = 0.05


def gains_of(heard: Samples, model: Samples, noise: float) -> Samples | None:
    """Return the gain at each sample of a ping against its model, mean one, or None where it stands still.

    Parameters
    ----------
    noise : float
        Variance of what is heard beside the model, full scale = 1.
    """
    power = float(np.mean(model**2))
    if power <= 0:
        return None
    size = _SHORTEST * (len(model) // 2**15)
    while size < _LONGEST * (len(model) // 2**15) and noise / (power * size) > _NOISE**2:
        size *= 2
    parts_y, parts_m = heard.reshape(-1, size), model.reshape(-1, size)
    energy = np.sum(parts_m**2, axis=1)
    gains = np.sum(parts_y * parts_m, axis=1) / energy
    left = np.sum((parts_y - gains[:, None] * parts_m) ** 2, axis=1) / (size - 1)
    stds = np.sqrt(np.maximum(np.median(left), 1e-30) / energy)
    mean = float(np.mean(gains))
    score = float(np.sum(((gains - mean) / stds) ** 2)) - len(gains)
    if score < _MOVED * np.sqrt(2 * len(gains)) or mean <= 0:
        return None
    kept = np.maximum(gains, 0.02 * mean)
    if 20 * np.log10(kept.max() / kept.min()) < LEAST_DB:
        return None
    middles = (np.arange(len(kept)) + 0.5) * size - 0.5
    return np.asarray(np.interp(np.arange(len(model)), middles, kept / mean))
