"""Samples that stand at the converter's limit, and what would stand there."""

from typing import Final

import numpy as np
import numpy.typing as npt

from ennead.measure.recording import Samples

#: Fewer are peaks that are met by chance, share of all.
LEAST: Final = 1e-3
#: Beyond this share no number is given.
MOST: Final = 0.2
_SAME: Final = 1e-4


def clipped_samples(heard: Samples) -> npt.NDArray[np.bool_] | None:
    """Return which samples stand at the highest level, above or below; None where there are too few to be a limit."""
    flat = np.zeros(len(heard), bool)
    for signed in (heard, -heard):
        top = float(signed.max())
        level = signed >= top * (1 - _SAME) if top > 0 else flat
        if np.count_nonzero(level) > LEAST * len(heard) / 2:
            flat |= level
    return flat if np.count_nonzero(flat) > LEAST * len(heard) / 2 else None


def unclipped(heard: Samples, model: Samples, flat: npt.NDArray[np.bool_]) -> Samples:
    """Return a ping with the samples at the limit replaced by its model, where that lies beyond the limit."""
    beyond = np.where(heard > 0, np.maximum(heard, model), np.minimum(heard, model))
    return np.where(flat, beyond, heard)
