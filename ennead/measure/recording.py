"""A recording as the measurements read it: piece by piece, so that an hour of it needs no hour of memory."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np
import numpy.typing as npt

Samples = npt.NDArray[np.float64]
Spectrum = npt.NDArray[np.complex128]


class Recording(Protocol):
    """Samples of some channels at one rate.

    Parameters
    ----------
    frames : int, samples
        How many there are of each channel.
    rate_hz : int, Hz
    channels : int
    """

    @property
    def frames(self) -> int: ...

    @property
    def rate_hz(self) -> int: ...

    @property
    def channels(self) -> int: ...

    def read(self, start: int, count: int) -> Samples:
        """Return frames as an array of shape (count, channels); zeros where the recording has none."""
        ...

    def blocks(self, size: int) -> Iterator[npt.NDArray[np.floating]]:
        """Yield all frames from the first on, so many at a time, in single precision where that is quicker."""
        ...


class ArrayRecording:
    """A recording that is in memory.

    Parameters
    ----------
    samples : array of float, shape (frames, channels) or (frames,), full scale = 1
    rate_hz : int, Hz
    """

    def __init__(self, samples: Samples, rate_hz: int) -> None:
        self.samples = samples[:, None] if samples.ndim == 1 else samples
        self.rate_hz = rate_hz

    @property
    def frames(self) -> int:
        """How many samples each channel has."""
        return len(self.samples)

    @property
    def channels(self) -> int:
        """How many channels there are."""
        return int(self.samples.shape[1])

    def read(self, start: int, count: int) -> Samples:
        """Return frames as an array of shape (count, channels); zeros where the recording has none."""
        out = np.zeros((count, self.channels))
        first, last = max(0, start), min(self.frames, start + count)
        if first < last:
            out[first - start : last - start] = self.samples[first:last]
        return out

    def blocks(self, size: int) -> Iterator[npt.NDArray[np.floating]]:
        """Yield all frames from the first on, so many at a time."""
        for start in range(0, self.frames, size):
            yield self.samples[start : start + size]
