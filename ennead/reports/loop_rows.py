"""Loops as rows: numbers, boxes, round trip, what to enter in the software, level at each stop, what is found wrong."""

from collections.abc import Sequence
from typing import Any, Final, NamedTuple

from ennead.checks.finding import Finding
from ennead.studio.delays import LoopDelay
from ennead.studio.session import PlacedDestination
from ennead.studio.widths import width_text
from ennead.survey.circuits import Circuit, Passed, circuits
from ennead.survey.interrupted import interruption, interruption_text
from ennead.survey.loop_delay import STALE_TEXTS, measured, nearest, stale_since
from ennead.survey.loop_time import LoopTime, TimePart, comb_notches, loop_time
from ennead.survey.numbering import DriverChannel
from ennead.survey.staircase import LevelStop, Staircase, staircase
from ennead.survey.survey_interface import Parts


class LoopFigures(NamedTuple):
    """What is worked out of one loop.

    Parameters
    ----------
    sends, returns : tuple of int
        Driver numbers, one a channel; empty where it does not go round.
    boxes : tuple of str
        Names of the boxes in order.
    time : LoopTime or None
        None for a loop that does not go round.
    levels : tuple of Staircase
        One a channel.
    held, last : LoopDelay or None
        The measurement that holds, and the last one at all.
    stale : str
        Which condition of the last one is another now.
    stop_names : tuple of str
        The sockets of the first channel on its way, in words: of a digital link the unit alone, of a point its number.
    away : tuple of str
        Names of its boxes that are not there on this session.
    interrupted : str
        Where the scene takes it apart, in words; empty where it does not.
    """

    circuit: Circuit
    sends: tuple[int, ...]
    returns: tuple[int, ...]
    boxes: tuple[str, ...]
    time: LoopTime | None
    levels: tuple[Staircase, ...]
    held: LoopDelay | None
    last: LoopDelay | None
    stale: str
    stop_names: tuple[str, ...] = ()
    away: tuple[str, ...] = ()
    interrupted: str = ""

    @property
    def loop(self) -> PlacedDestination:
        """The loop itself."""
        return self.circuit.loop

    @property
    def offset(self) -> float | None:
        """What to enter in the software, samples: as measured, else as stated; None where neither is known."""
        if self.held is not None:
            return self.held.samples
        return self.time.residual if self.time is not None else None


def figures_of(survey: Parts, circuit: Circuit) -> LoopFigures:
    """Return what is worked out of a loop."""
    loop, channels = circuit.loop, circuit.channels
    last = nearest(survey, loop) if loop.outputs and loop.returns else None
    boxes = dict.fromkeys([unit for channel in channels for unit in channel.boxes] or loop.boxes)
    return LoopFigures(
        circuit,
        tuple([d.number for d in circuit.sends]),
        tuple([d.number for d in circuit.returns]),
        tuple([survey.units[unit].name for unit in boxes if unit in survey.units]),
        loop_time(survey, circuit),
        tuple([staircase(survey, circuit, channel) for channel in channels]),
        measured(survey, loop) if last is not None else None,
        last,
        stale_since(survey, loop, last) if last is not None else "",
        tuple([_socket_name(survey, at) for at in channels[0].passed]) if channels else (),
        tuple([survey.units[u].name for u in loop.boxes if u in survey.session_facts.missing]),
        "" if circuit.closed else _interrupted(survey, loop),
    )


def _interrupted(survey: Parts, loop: PlacedDestination) -> str:
    found = interruption(survey, loop)
    return interruption_text(survey, found) if found is not None else ""


def _socket_name(survey: Parts, at: Passed) -> str:
    name, bay = survey.units[at.unit].name, survey.bays.get(at.unit)
    label = survey.profiles[at.unit].port_by_key[at.port].label
    if bay is not None and at.port in bay.points:
        return f"{name} {bay.point_label(at.port, label)}"
    return f"{name} {at.what if at.what in ('D/A', 'A/D', 'link') else label}"


def numbers_text(numbers: Sequence[int]) -> str:
    """Return driver numbers of one loop: ``17–18``, ``5, 9``, ``1–8, 11–18``, or a dash where it has none."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return ", ".join([f"{run[0]}–{run[-1]}" if len(run) > 1 else str(run[0]) for run in runs]) or "–"


def boxes_text(figures: LoopFigures) -> str:
    """Return the boxes of a loop in order, or what is there instead."""
    bare = not figures.circuit.closed or any(c.is_bare for c in figures.circuit.channels)
    return " → ".join(figures.boxes) or ("no box" if bare else "box away")


def part_name(survey: Parts, part: TimePart) -> str:
    """Return a part of a round trip in words: ``buffers``, ``Cove D/A``."""
    if part.unit is None:
        return part.what
    name = survey.units[part.unit].name
    return name if part.what == "box" else f"{name} {part.what}"


def stop_name(survey: Parts, at: Passed) -> str:
    """Return a stop of the staircase in words: ``Cove · Line out 3``."""
    return f"{survey.units[at.unit].name} · {survey.profiles[at.unit].port_by_key[at.port].label}"


def offset_text(figures: LoopFigures, rate_hz: int) -> str:
    """Return what to do in the software about a loop's delay."""
    samples = figures.offset
    if samples is None and figures.stale:
        return f"Its delay was measured {STALE_TEXTS[figures.stale]} and holds no more: measure it again."
    if samples is None:
        return "Its delay is not known: measure it, or state buffer and reported latency of the computer."
    by = "as measured" if figures.held is not None else "as stated"
    if figures.stale and figures.held is None:
        by += f"; what was measured {STALE_TEXTS[figures.stale]} holds no more"
    if abs(samples) < 0.005:
        return f"Enter no offset: the software makes all of it up ({by})."
    said = f"Enter {samples:+g} samples ({samples / rate_hz * 1e3:+.3f} ms) on it ({by})."
    if samples < 0:
        said += " Where the software refuses a negative offset, delay the other tracks by as much."
    notches = comb_notches(samples, rate_hz, 1)
    return said + (f" Without it, wet against dry: first notch at {notches[0]:.0f} Hz." if notches else "")


def open_text(figures: LoopFigures) -> str:
    """Return what a loop lacks that does not go round."""
    name = figures.loop.name
    if figures.away:
        boxes = " and ".join(figures.away)
        return (
            f"{boxes} is away on this session, so {name} is not connected. Make the loop of another box, or bring it."
        )
    if figures.interrupted:
        return f"{name} is not connected in this scene: {figures.interrupted}."
    if not figures.sends:
        return f"{name} is sent nowhere yet. Allocate finds it outputs and inputs, or type its numbers on Session."
    return f"{name} goes out and does not come back. Wire its last box to an input that has a number."


def software_lines(survey: Parts, figures: LoopFigures) -> tuple[str, ...]:
    """Return what to choose in the software, line by line: the numbers with the names it shows, width, use, offset, gains."""
    loop, use = figures.loop, figures.loop.use
    outs, ins = figures.circuit.sends, figures.circuit.returns
    if not outs or not ins:
        return ()
    width = [{1: "mono", 2: "stereo"}.get(many, f"{many} channels") for many in (loop.channels, loop.backs)]
    kind = "on a bus beside the dry track, all wet" if use.parallel else "as an insert"
    lines = [
        f"Send: {width[0]}, output {numbers_text(figures.sends)} ({_labels(outs)}).",
        f"Return: {width[1]}, input {numbers_text(figures.returns)} ({_labels(ins)}), {kind}.",
    ]
    picked = [
        f"{what} {numbers_text(typed)} where {numbers_text(planned)} is planned"
        for what, typed, planned in (("output", use.sent, figures.sends), ("input", use.returned, figures.returns))
        if typed and typed != planned
    ]
    if picked:
        lines.append(f"The software has picked {' and '.join(picked)}.")
    lines.append(offset_text(figures, survey.rate_hz))
    if use.send_gain_db or use.return_gain_db:
        gains = [f"{gain:+g} dB" if gain else "0 dB" for gain in (use.send_gain_db, use.return_gain_db)]
        lines.append(f"Send gain {gains[0]}, return gain {gains[1]}.".replace("-", "−"))
    if use.twin:
        on = "is on: the loop is bypassed" if use.twin_on else "is off"
        lines.append(f"Its plug-in twin {use.twin} {on}; {minus(use.twin_trim_db)} dB makes both as loud.")
    return tuple(lines)


def minus(figure: float) -> str:
    """Return a figure with its sign, a true minus."""
    return f"{figure:+g}".replace("-", "−")


def _labels(drivers: Sequence[DriverChannel]) -> str:
    """Return the names the software shows; of a wide block the first and the last."""
    names = [d.label for d in drivers]
    return ", ".join(names) if len(names) <= _FEW else f"{names[0]} … {names[-1]}"


def time_working(survey: Parts, time: LoopTime) -> tuple[str, ...]:
    """Return the arithmetic of a round trip, line by line."""
    known = [f"{part_name(survey, p)} {p.samples:g}" for p in time.parts if p.samples is not None]
    lines = []
    whole = time.round_trip
    if whole is not None:
        lines.append(f"{' + '.join(known)} = {whole:g} samples = {whole / survey.rate_hz * 1e3:.3f} ms")
    elif time.unstated:
        lines.append(f"{' + '.join(known) or 'nothing is stated'}; not stated: {_names(survey, time.unstated)}")
    if time.reported is not None and time.residual is not None:
        lines.append(f"{whole:g} − {time.reported:g} that the driver reports = {time.residual:+g} left over")
    return tuple(lines)


def level_working(survey: Parts, figures: LoopFigures) -> tuple[str, ...]:
    """Return the arithmetic of the levels of the first channel, stop by stop."""
    lines = []
    for stop in figures.levels[0].stops if figures.levels else ():
        peak = peak_text(stop) or "?"
        limit = f"{stop.limit_dbu:+.1f}" if stop.limit_dbu is not None else "0 dBFS"
        room = f"; clips at {limit}, headroom {stop.headroom_db:.1f} dB" if stop.headroom_db is not None else ""
        said = f"{peak} ({stop.working}){room}".replace("-", "−")
        lines.append(f"{stop_name(survey, stop.at)}: {said}")
    return tuple(lines)


def peak_text(stop: LevelStop) -> str:
    """Return the peak at a stop in words; empty where it is not known."""
    if stop.digital:
        return f"{stop.dbfs:+.1f} dBFS" if stop.dbfs is not None else ""
    return f"{stop.peak_dbu:+.1f} dBu" if stop.peak_dbu is not None else ""


def _names(survey: Parts, parts: Sequence[TimePart]) -> str:
    return ", ".join([part_name(survey, p) for p in parts])


def loop_row(survey: Parts, figures: LoopFigures, findings: Sequence[Finding]) -> dict[str, Any]:
    """Return a loop as a plain row."""
    loop, time = figures.loop, figures.time
    samples = figures.offset
    notches = comb_notches(samples, survey.rate_hz, 1) if samples is not None else ()
    return {
        "name": loop.name,
        "closed": figures.circuit.closed,
        "use": "parallel" if loop.use.parallel else "insert",
        "width": width_text(loop),
        "send": list(figures.sends),
        "return": list(figures.returns),
        "boxes": list(figures.boxes),
        "round_trip_samples": time.round_trip if time is not None else None,
        "reported_samples": time.reported if time is not None else None,
        "residual_samples": time.residual if time is not None else None,
        "measured_samples": figures.held.samples if figures.held is not None else None,
        "stale": figures.stale or None,
        "offset_samples": samples,
        "offset_ms": None if samples is None else samples / survey.rate_hz * 1e3,
        "first_notch_hz": notches[0] if notches else None,
        "headroom_db": [s.headroom_db for stairs in figures.levels for s in stairs.stops],
        "parts": [
            {"what": part_name(survey, p), "samples": p.samples, "measured": p.measured}
            for p in (time.parts if time is not None else ())
        ],
        "stops": [
            {
                "channel": n,
                "stop": stop_name(survey, s.at),
                "peak_dbu": s.peak_dbu,
                "limit_dbu": s.limit_dbu,
                "nominal_dbu": s.nominal_dbu,
                "dbfs": s.dbfs,
                "working": s.working,
            }
            for n, stairs in enumerate(figures.levels, start=1)
            for s in stairs.stops
        ],
        "findings": [f.message for f in about(loop, findings)],
    }


def about(loop: PlacedDestination, findings: Sequence[Finding]) -> list[Finding]:
    """Return what is found of one loop."""
    return [f for f in findings if loop.id in (f.subject.key, *f.concerns)]


#: Names in a row that are all read. House default.
_FEW: Final = 4
#: Columns of the table of loops.
LOOP_COLUMNS: Final = (
    "loop",
    "send",
    "boxes",
    "return",
    "use",
    "round_trip_samples",
    "reported_samples",
    "left_over_samples",
    "measured_samples",
    "enter_samples",
    "least_headroom_db",
)


def all_figures(survey: Parts) -> list[LoopFigures]:
    """Return what is worked out of every loop of the session, in the order of the list."""
    return [figures_of(survey, circuit) for circuit in survey.once(circuits)]


def loops_table(survey: Parts) -> list[dict[str, Any]]:
    """Return one row a loop."""
    rows = []
    for one in all_figures(survey):
        time, least = one.time, [s.least.headroom_db for s in one.levels if s.least is not None]
        known = [room for room in least if room is not None]
        values = (
            one.loop.name,
            numbers_text(one.sends),
            boxes_text(one),
            numbers_text(one.returns),
            "bus" if one.loop.use.parallel else "insert",
            time.round_trip if time is not None else None,
            time.reported if time is not None else None,
            time.residual if time is not None else None,
            one.held.samples if one.held is not None else None,
            one.offset,
            round(min(known), 2) if known else None,
        )
        rows.append(dict(zip(LOOP_COLUMNS, values, strict=True)))
    return rows
