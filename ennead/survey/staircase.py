"""The level staircase of a loop: peak and limit at each converter and box, in dBu and dBFS."""

from typing import NamedTuple

from ennead.standards.levels import loaded_db
from ennead.studio.ids import UnitId
from ennead.studio.loop_use import LoopUse
from ennead.studio.profile import Level
from ennead.survey.circuits import Circuit, CircuitChannel, Passed
from ennead.survey.levels import line_level
from ennead.survey.survey_interface import Parts


class LevelStop(NamedTuple):
    """One socket of the staircase.

    Parameters
    ----------
    peak_dbu : float or None, dBu
        The loudest that arrives, or leaves; None behind a box with no stated output level.
    limit_dbu : float or None, dBu
        What clips it; None where the profile states nothing.
    nominal_dbu : float or None, dBu
    dbfs : float or None, dBFS
        The same peak in the converter, where it is one.
    working : str
        How the peak comes about.
    digital : bool
        Whether it is a digital socket of a box: its level is dBFS alone, and full scale is its limit.
    """

    at: Passed
    peak_dbu: float | None
    limit_dbu: float | None
    nominal_dbu: float | None
    dbfs: float | None
    working: str
    digital: bool = False

    @property
    def headroom_db(self) -> float | None:
        """How far the peak lies below the limit, dB; below zero where it clips."""
        if self.digital:
            return None if self.dbfs is None else -self.dbfs
        return None if self.peak_dbu is None or self.limit_dbu is None else self.limit_dbu - self.peak_dbu


class Staircase(NamedTuple):
    """The levels of one channel of a loop.

    Parameters
    ----------
    sent_dbfs : float, dBFS
        What leaves the software at its loudest.
    returned_dbfs : float or None, dBFS
        What comes back into it, behind the return's gain.
    """

    sent_dbfs: float
    stops: tuple[LevelStop, ...]
    returned_dbfs: float | None

    @property
    def least(self) -> LevelStop | None:
        """The stop with the least headroom, of those of which it is known."""
        known = [s for s in self.stops if s.headroom_db is not None]
        return min(known, key=lambda s: s.headroom_db or 0.0) if known else None

    @property
    def silent_about(self) -> UnitId | None:
        """The first box with no stated output level."""
        boxes = [s for s in self.stops if s.at.what == "box"]
        return next((s.at.unit for s in boxes if (s.dbfs if s.digital else s.peak_dbu) is None), None)


def staircase(survey: Parts, circuit: Circuit, channel: CircuitChannel) -> Staircase:
    """Return the levels of a channel of a loop."""
    use = circuit.loop.use
    dbfs: float | None = use.peak_dbfs + use.send_gain_db
    sent = use.peak_dbfs + use.send_gain_db
    peak: float | None = None
    driving: Level | None = None
    stops: list[LevelStop] = []
    for at in channel.passed:
        if at.what not in ("D/A", "box", "A/D"):
            continue
        if at.port in survey.views[at.unit].digital:
            if at.what == "box":
                stops.append(_in_numbers(use, at, dbfs, stops[-1] if stops else None))
                dbfs = stops[-1].dbfs
            continue
        level = _level(survey, at)
        out = at.what == "D/A" or (at.what == "box" and bool(stops) and stops[-1].at.unit == at.unit)
        if at.what == "D/A":
            peak = None if level is None or dbfs is None else dbfs + level.max_dbu
            said = f"{_figure(dbfs, 'dBFS')} at {_figure(level.max_dbu if level else None, 'dBu')} for 0 dBFS"
        elif out:
            peak = use.peaks_dbu.get(at.unit)
            said = "as stated" if peak is not None else "nobody has said what comes out at its loudest"
        elif at.what == "A/D" and at.cable is None and not channel.boxes:
            peak, said = None, "behind a box that is not in the rig"
        else:
            peak, said = _loaded(peak, driving, level)
        limit = _limit(survey, at, level)
        if at.what == "A/D":
            # What clips the input is its full scale.
            dbfs = None if peak is None or limit is None else peak - limit
        shown = dbfs if at.what != "box" else None
        stops.append(LevelStop(at, peak, limit, level.nominal_dbu if level is not None else None, shown, said))
        driving = level if out else driving
    came_back = bool(stops) and (stops[-1].at.what == "A/D" or stops[-1].digital)
    return Staircase(sent, tuple(stops), dbfs + use.return_gain_db if came_back and dbfs is not None else None)


def _in_numbers(use: LoopUse, at: Passed, dbfs: float | None, before: LevelStop | None) -> LevelStop:
    """Return a digital socket of a box: what is sent in numbers arrives as it is, what leaves is stated."""
    if before is None or before.at.unit != at.unit:
        return LevelStop(at, None, None, None, dbfs, "in numbers, nothing lost", digital=True)
    stated = use.peaks_dbu.get(at.unit)
    said = "as stated" if stated is not None else "nobody has said what comes out at its loudest"
    return LevelStop(at, None, None, None, stated, said, digital=True)


def _level(survey: Parts, at: Passed) -> Level | None:
    """Return what a socket states of its level; of several, that at line level."""
    return line_level(survey.profiles[at.unit].port_by_key[at.port], survey.settings[at.unit])


def _limit(survey: Parts, at: Passed, level: Level | None) -> float | None:
    """Return what clips a socket, its pad as it stands, dBu."""
    if level is None:
        return None
    pad = survey.profiles[at.unit].port_by_key[at.port].pad_db
    return level.max_dbu + (pad if pad is not None and at.port in survey.settings[at.unit].pads else 0.0)


def _loaded(peak: float | None, driving: Level | None, level: Level | None) -> tuple[float | None, str]:
    """Return what is left of a level at a socket that loads it, with the arithmetic."""
    if peak is None:
        return None, "not known behind the box before"
    source = driving.impedance_ohm if driving is not None else None
    load = level.impedance_ohm if level is not None else None
    if not source or not load:
        return peak, "over copper"
    loss = loaded_db(source, load)
    return peak + loss, f"{loss:+.2f} dB: {source:.10g} Ω into {load:.10g} Ω"


def _figure(value: float | None, unit: str) -> str:
    return f"{value:+.1f} {unit}" if value is not None else f"? {unit}"
