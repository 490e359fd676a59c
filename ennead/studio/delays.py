"""Stated and measured delays, with the conditions they hold under."""

import math
import re
from typing import Final

from ennead.studio.ids import UnitId
from ennead.studio.record import record

#: Longer than any box or loop delays, samples. House default.
MOST_DELAY: Final = 1_000_000


@record(frozen=True)
class StopDelay:
    """What passing a socket adds, at one rate, where it is otherwise than the profile says.

    Parameters
    ----------
    samples : float, samples
    rate_hz : int, Hz
    measured : bool
        Whether it was measured; else it is stated.
    at : str
        When, as ISO 8601.
    """

    samples: float
    rate_hz: int
    measured: bool = False
    at: str = ""


@record(frozen=True)
class LoopDelay:
    """How late a loop was when it was measured, and under which conditions; zero and less are values like others.

    Parameters
    ----------
    samples : float, samples
        From the track to the track, as the software leaves it.
    rate_hz : int, Hz
    buffer : int or None, samples
        The computer's at the time, where it was stated.
    leader : UnitId
        The leader of the clock it ran on; empty where there was none.
    digest : str
        What it passed, in twelve hexadecimal digits.
    at : str
        When, as ISO 8601.
    by_channel : tuple of float, samples
        Each channel on its own, where that was measured.
    """

    samples: float
    rate_hz: int
    buffer: int | None = None
    leader: UnitId = UnitId("")
    digest: str = ""
    at: str = ""
    by_channel: tuple[float, ...] = ()

    @property
    def apart(self) -> float:
        """How far the channels lie apart, samples."""
        return max(self.by_channel) - min(self.by_channel) if self.by_channel else 0.0


def delay_fault(delay: StopDelay | LoopDelay) -> str:
    """Return what is wrong with a delay, in words; empty where nothing is."""
    least = 0.0 if isinstance(delay, StopDelay) else -MOST_DELAY
    several = (delay.samples, *(delay.by_channel if isinstance(delay, LoopDelay) else ()))
    if any(not math.isfinite(d) or not least <= d <= MOST_DELAY for d in several):
        return f"it is none from {least:,.0f} to {MOST_DELAY:,} samples"
    if isinstance(delay, LoopDelay) and not re.fullmatch("[0-9a-f]{12}", delay.digest):
        return "what it passed is not said"
    return ""
