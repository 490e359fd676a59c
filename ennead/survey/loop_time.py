"""How late a loop comes back by what is stated: buffers, converters, links, boxes, and what of it the driver does not report."""

from typing import Literal, NamedTuple

from ennead.studio.house import AudioTimes
from ennead.studio.ids import UnitId
from ennead.survey.circuits import Circuit, CircuitChannel
from ennead.survey.survey_interface import Parts


class TimePart(NamedTuple):
    """One part of a round trip.

    Parameters
    ----------
    what : str
        ``buffers`` and ``safety`` of the computer, ``D/A``, ``A/D``, ``link`` or ``box``.
    unit : UnitId or None
        Where it is; None for the computer's.
    samples : float or None, samples
        None where not stated.
    measured : bool
        Whether it was measured; else it is stated.
    """

    what: Literal["buffers", "safety", "D/A", "A/D", "link", "box"]
    unit: UnitId | None
    samples: float | None
    measured: bool = False


class LoopTime(NamedTuple):
    """The round trip of one channel of a loop at the session's rate.

    Parameters
    ----------
    parts : tuple of TimePart
        In the order of the signal, the computer's first.
    reported : float or None, samples
        What the driver tells the software, out and in together.
    """

    parts: tuple[TimePart, ...]
    reported: float | None

    @property
    def round_trip(self) -> float | None:
        """All parts together, samples; None where one is not stated."""
        known = [p.samples for p in self.parts if p.samples is not None]
        return sum(known) if len(known) == len(self.parts) else None

    @property
    def residual(self) -> float | None:
        """What the software does not make up by itself, samples: below zero where the driver reports more than the loop passes."""
        whole = self.round_trip
        return None if whole is None or self.reported is None else whole - self.reported

    @property
    def unstated(self) -> tuple[TimePart, ...]:
        """The parts without a stated delay."""
        return tuple([p for p in self.parts if p.samples is None])


def loop_time(survey: Parts, circuit: Circuit) -> LoopTime | None:
    """Return the round trip of a loop: of its latest channel, where they differ; None for one that does not come back."""
    if not circuit.closed:
        return None
    found = [_channel_time(survey, channel) for channel in circuit.channels]
    return max(found, key=lambda t: (t.round_trip is None, t.round_trip or 0.0))


def _channel_time(survey: Parts, channel: CircuitChannel) -> LoopTime:
    assert channel.out is not None  # noqa: S101 - a closed circuit leaves the computer
    computer = survey.numbering.computer_of.get(channel.out.unit)
    times = survey.computers[computer].times_at(survey.rate_hz) if computer is not None else AudioTimes()
    safety = _together(times.safety_out, times.safety_in)
    parts = [
        TimePart("buffers", None, None if times.buffer is None else 2.0 * times.buffer),
        # A driver that states no safety offset keeps none in hand.
        TimePart("safety", None, 0.0 if safety is None else safety),
    ]
    for at in channel.passed:
        if at.what == "copper":
            continue
        late = survey.views[at.unit].delays[at.port]
        measured = any(d.measured for d in survey.units[at.unit].delays.get(at.port, ()) if d.rate_hz == survey.rate_hz)
        before = parts[-1]
        if before.what == at.what and before.unit == at.unit:
            # In by one socket and out by another: one part of the way.
            parts[-1] = before._replace(samples=_together(before.samples, late), measured=before.measured or measured)
        else:
            parts.append(TimePart(at.what, at.unit, late, measured))
    shown = [p for p in parts if p.samples is None or p.samples or p.unit is None]
    return LoopTime(tuple(shown), _together(times.reported_out, times.reported_in))


def _together(one: float | None, other: float | None) -> float | None:
    return None if one is None or other is None else float(one + other)


def comb_notches(samples: float, rate_hz: int, many: int = 3) -> tuple[float, ...]:
    """Return the lowest frequencies at which a copy that comes so much later cancels the dry one, Hz.

    Parameters
    ----------
    samples : float, samples
        Early and late alike.

    Notes
    -----
    Of the same polarity: (2 n − 1) fs / (2 Δn), n from 1, below half the rate.

    Examples
    --------
    >>> [round(f) for f in comb_notches(76, 48_000)]
    [316, 947, 1579]
    """
    if not samples:
        return ()
    lowest = rate_hz / (2 * abs(samples))
    return tuple([f for n in range(1, many + 1) if (f := (2 * n - 1) * lowest) < rate_hz / 2])
