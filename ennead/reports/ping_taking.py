"""A measured delay into its loop: which channels, what the driver reports taken off, when."""

from collections.abc import Sequence

from ennead.edits.change import Change, change
from ennead.edits.delays import set_loop_delay
from ennead.measure.loop_reading import ChannelReading
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.ids import DestinationId
from ennead.survey.circuits import circuits
from ennead.survey.loop_time import loop_time
from ennead.survey.survey import Survey


def loop_named(studio: Studio, name: str) -> DestinationId:
    """Return the loop of a name, or of an id.

    Raises
    ------
    UnknownObject
    """
    loops = [d for d in studio.destinations.values() if d.kind == "loop"]
    found = [d.id for d in loops if d.name.casefold() == name.strip().casefold()] or [
        d.id for d in loops if d.id == name
    ]
    if not found:
        raise UnknownObject("loop", name)
    return found[0]


def take_reading(
    survey: Survey,
    loop: DestinationId,
    readings: Sequence[ChannelReading],
    rate_hz: int,
    at: str,
    *,
    buffer: int | None = None,
) -> Change:
    """Return the change that notes what was measured as the delay that the software leaves.

    Parameters
    ----------
    readings : sequence of ChannelReading
        Those of the loop's returns, in order.
    rate_hz : int, Hz
        Of the recording.
    at : str
        When, as ISO 8601.
    buffer : int or None, samples
        With which it was measured, where that is known; else the stated one.

    Raises
    ------
    BadValue
        If it was measured at another rate, holds no delay, has other channels than the loop, or is a whole round trip
        while what the driver reports is not known.
    """
    field = f"the measured delay of {(name := survey.studio.destination(loop).name)}"
    known = _known(survey, field, readings, rate_hz)
    circuit = next((c for c in survey.once(circuits) if c.loop.id == loop), None)
    if circuit is None or not circuit.closed:
        raise BadValue(field, f"{known[0]:.2f}", "Only a loop that goes out and comes back has one.")
    backs = max(len(circuit.sends), len(circuit.returns))
    if len(known) not in (1, backs):
        raise BadValue(
            field,
            f"{len(known)} channels",
            f"The loop has {backs}: record its returns alone, or name the reference channel.",
        )
    off = 0.0
    if readings[0].delay_is == "round_trip":
        time = loop_time(survey, circuit)
        if time is None or time.reported is None:
            raise BadValue(
                field,
                f"a round trip of {known[0]:.2f}",
                "What the driver reports is not stated: measure with the software’s correction on, as a residual.",
            )
        off = time.reported
    left = [round(value - off, 4) for value in known]
    return change(
        f"Take the measured delay of {name}",
        set_loop_delay,
        loop,
        round(sum(left) / len(left), 4),
        at,
        by_channel=tuple(left) if len(left) > 1 else (),
        buffer=buffer,
    )


def _known(survey: Survey, field: str, readings: Sequence[ChannelReading], rate_hz: int) -> list[float]:
    """Return the delays of all readings."""
    if rate_hz != survey.rate_hz:
        raise BadValue(
            field, f"a recording at {rate_hz} Hz", f"The session runs at {survey.rate_hz} Hz: measure at its rate."
        )
    known = [r.delay_samples for r in readings if r.delay_samples is not None]
    if not known or len(known) < len(readings):
        said = next((r.verdict for r in readings if r.delay_samples is None), "No ping is heard.")
        raise BadValue(field, "a recording without a delay", said)
    return known
