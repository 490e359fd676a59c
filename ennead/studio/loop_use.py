"""How a loop is used, and how strong the signal is on it, as a person states it."""

import math
from collections.abc import Mapping
from typing import Final

from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import UnitId
from ennead.studio.record import record

#: The loudest that a track sends where nothing else is stated, dBFS. House default: the figure of a calibrated mix.
PEAK_DBFS: Final = -6.0
#: Gains beyond these are slips of the hand, dB. House default.
MOST_GAIN_DB: Final = 60.0
#: With how many channels a loop can go out, or come back. House default: one multi-way digital link each way.
MOST_CHANNELS: Final = 32
#: What can come out of a box, dBu. House default.
LEVELS_DBU: Final = (-80.0, 40.0)


@record(frozen=True)
class LoopUse:
    """How a loop is used.

    Parameters
    ----------
    parallel : bool
        Whether it stands on a bus beside the dry path; else it is an insert.
    peak_dbfs : float, dBFS
        The loudest of the track at the point where the loop is sent, before the send's gain.
    send_gain_db, return_gain_db : float, dB
        Gains in the software.
    peaks_dbu : map of UnitId to float, dBu
        What comes out of a box at its loudest, open circuit, typed or measured; a box that is not among them is not guessed. Of a box
        that gives numbers, dBFS.
    sent, returned : tuple of int
        The driver numbers that the software picked by itself, where they were typed.
    twin : str
        A plug-in that does the same; empty for none.
    twin_on : bool
        Whether the plug-in is on in place of the loop.
    twin_trim_db : float, dB
        What makes the plug-in as loud as the loop.
    """

    parallel: bool = False
    peak_dbfs: float = PEAK_DBFS
    send_gain_db: float = 0.0
    return_gain_db: float = 0.0
    peaks_dbu: Mapping[UnitId, float] = FrozenMap()
    sent: tuple[int, ...] = ()
    returned: tuple[int, ...] = ()
    twin: str = ""
    twin_on: bool = False
    twin_trim_db: float = 0.0

    def __post_init__(self) -> None:
        object.__setattr__(self, "peaks_dbu", FrozenMap.of(self.peaks_dbu))


#: The use of a loop with nothing stated.
USUAL: Final = LoopUse()


def use_fault(use: LoopUse, channels: int, backs: int) -> str:
    """Return what is wrong with what is stated of a loop of some width, in words; empty where nothing is."""
    gains = {"send gain": use.send_gain_db, "return gain": use.return_gain_db, "trim of the plug-in": use.twin_trim_db}
    for what, gain in gains.items():
        if not math.isfinite(gain) or abs(gain) > MOST_GAIN_DB:
            return f"the {what} is none from −{MOST_GAIN_DB:g} to +{MOST_GAIN_DB:g} dB"
    if not math.isfinite(use.peak_dbfs) or not -120.0 <= use.peak_dbfs <= 0.0:
        return "the peak of the track is none from −120 to 0 dBFS"
    least, most = LEVELS_DBU
    if any(not math.isfinite(level) or not least <= level <= most for level in use.peaks_dbu.values()):
        return f"the peak behind a box is none from −{-least:g} to +{most:g} dBu"
    if any(not 1 <= number <= 4096 for number in (*use.sent, *use.returned)):
        return "a driver number is none from 1 to 4096"
    if len(use.sent) > channels or len(use.returned) > max(backs, 1):
        return "it has more driver numbers than channels"
    if len(use.twin) > 500:
        return "the name of the plug-in is longer than 500 letters"
    return ""
