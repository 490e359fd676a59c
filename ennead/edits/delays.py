"""Edits of delays: what passing a socket adds, and how late a loop was when it was measured."""

from collections.abc import Sequence

from ennead.studio.delays import LoopDelay, StopDelay, delay_fault
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.record import replace
from ennead.survey.loop_delay import buffer_of, leader_of, trail_digest
from ennead.survey.survey import survey_of


def set_stop_delay(
    studio: Studio, end: PortEnd, samples: float | None, *, measured: bool = False, at: str = ""
) -> Studio:
    """Note what passing a socket adds at the session's rate, samples; None for what the profile says.

    Raises
    ------
    UnknownObject, NoSuchPort
    BadValue
        If that is no delay.
    """
    unit, port = studio.unit(end.unit), studio.port(end)
    others = [d for d in unit.delays.get(end.port, ()) if d.rate_hz != studio.rate_hz]
    if samples is not None:
        new = StopDelay(float(samples), studio.rate_hz, measured, at)
        if fault := delay_fault(new):
            raise BadValue(f"a delay at {unit.name} {port.label}", samples, f"{fault[:1].upper()}{fault[1:]}.")
        others.append(new)
    delays = {key: held for key, held in unit.delays.items() if key != end.port}
    if others:
        delays[end.port] = tuple(sorted(others, key=lambda d: d.rate_hz))
    return replace(studio, units=studio.units.put(unit.id, replace(unit, delays=delays)))


def set_loop_delay(
    studio: Studio,
    destination: DestinationId,
    samples: float | None,
    at: str = "",
    by_channel: Sequence[float] = (),
    buffer: int | None = None,
) -> Studio:
    """Note how late a loop was measured to be at the session's rate, samples, with the conditions at hand; None forgets it.

    Parameters
    ----------
    by_channel : sequence of float, samples
        Each channel on its own, where that was measured.
    buffer : int or None, samples
        The computer's buffer at the time, where it is not the stated one; of a computer that states none, none is kept.

    Raises
    ------
    UnknownObject
    BadValue
        If it is no loop that is wired, or that is no delay.
    """
    old = studio.destination(destination)
    others = [d for d in old.measured if d.rate_hz != studio.rate_hz]
    if samples is not None:
        survey = survey_of(studio)
        loop = survey.placed(destination)
        if loop.kind != "loop" or not loop.outputs or not loop.returns:
            raise BadValue(
                f"a measured delay of {old.name}", samples, "Only a loop that goes out and comes back has one."
            )
        new = LoopDelay(
            float(samples),
            studio.rate_hz,
            buffer if buffer is not None and buffer_of(survey, loop) is not None else buffer_of(survey, loop),
            leader_of(survey, loop),
            trail_digest(survey, loop),
            at,
            tuple([float(d) for d in by_channel]),
        )
        if fault := delay_fault(new):
            raise BadValue(f"a measured delay of {old.name}", samples, f"{fault[:1].upper()}{fault[1:]}.")
        others.append(new)
    return replace(studio, destinations=studio.destinations.put(destination, replace(old, measured=tuple(others))))
