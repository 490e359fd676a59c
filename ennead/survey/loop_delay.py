"""How late a loop is: as it was measured, while the conditions are still the same."""

import hashlib
from typing import Final

from ennead.studio.delays import LoopDelay
from ennead.studio.ids import UnitId
from ennead.studio.session import PlacedDestination
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts

#: Which condition of a measurement is another now, in words.
STALE_TEXTS: Final = {
    "rate": "at another rate",
    "buffer": "with another buffer",
    "clock": "on another clock",
    "wiring": "over another way",
}


def buffer_of(survey: Parts, loop: PlacedDestination) -> int | None:
    """Return the stated buffer of the computer a loop is sent from, samples."""
    interface = _interface(survey, loop)
    computer = survey.numbering.computer_of.get(interface) if interface is not None else None
    return None if computer is None else survey.computers[computer].times_at(survey.rate_hz).buffer


def leader_of(survey: Parts, loop: PlacedDestination) -> UnitId:
    """Return the leader of the clock on which a loop's interface runs; empty where several lead, or none."""
    interface = _interface(survey, loop)
    if interface is None or not survey.views[interface].profile.is_digital:
        return UnitId("")
    leaders = survey.clocks.domain_of(interface).leaders
    return leaders[0] if len(leaders) == 1 else UnitId("")


def _interface(survey: Parts, loop: PlacedDestination) -> UnitId | None:
    points = output_point_at(survey.output_points)
    held = [point for end in loop.outputs[:1] for point in points.get(end, ())]
    return held[0].driver.unit if held else None


def trail_digest(survey: Parts, loop: PlacedDestination) -> str:
    """Return what a loop passes, out and back, in twelve hexadecimal digits: sockets, cables, and the modes of the boxes; no number, no name.

    References
    ----------
    FIPS 180-4: SHA-256.
    """
    points = output_point_at(survey.output_points)
    ways = []
    for at, end in enumerate(loop.outputs):
        for point in points.get(end, ())[loop.outputs[:at].count(end) :][:1]:
            channel = point.driver.channel
            ways.append(survey.outward[point.driver.unit].get((channel.port, channel.lane)))
    ways += [survey.way(end.unit, end.port) for end in loop.returns]
    passed = [[(s.unit, s.port, s.lane, s.cable) for s in way.stops] if way is not None else [] for way in ways]
    units = sorted({unit for way in ways if way is not None for unit in way.passes})
    modes = [(unit, sorted(survey.settings[unit].modes.items()), survey.settings[unit].off) for unit in units]
    parts = ([(e.unit, e.port) for e in (*loop.outputs, *loop.returns)], passed, modes)
    return hashlib.sha256(repr(parts).encode()).hexdigest()[:12]


def stale_since(survey: Parts, loop: PlacedDestination, delay: LoopDelay) -> str:
    """Return which condition of a measurement is another now: ``rate``, ``buffer``, ``clock`` or ``wiring``; empty where it holds."""
    if delay.rate_hz != survey.rate_hz:
        return "rate"
    if delay.digest != trail_digest(survey, loop):
        return "wiring"
    if delay.buffer != buffer_of(survey, loop):
        return "buffer"
    return "clock" if delay.leader != leader_of(survey, loop) else ""


def measured(survey: Parts, loop: PlacedDestination) -> LoopDelay | None:
    """Return the measured delay of a loop that holds as things are."""
    return next((d for d in reversed(loop.measured) if not stale_since(survey, loop, d)), None)


def nearest(survey: Parts, loop: PlacedDestination) -> LoopDelay | None:
    """Return the measurement at the present rate, else the last one at any."""
    here = [d for d in loop.measured if d.rate_hz == survey.rate_hz]
    known = here or list(loop.measured)
    return known[-1] if known else None
