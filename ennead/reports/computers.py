"""Which driver numbers each interface of a computer has, as lines of text."""

from typing import Any

from ennead.studio.house import AudioTimes, Computer
from ennead.studio.record import names_of
from ennead.survey.survey import Survey


def time_rows(survey: Survey) -> list[dict[str, Any]]:
    """Return the noted buffer and latencies of each computer at the present rate, samples; computers without any are left out."""
    found = [(c, c.times_at(survey.rate_hz)) for c in survey.computers.values()]
    return [
        {"computer": c.name, **{f"{name}_samples": getattr(times, name) for name in names_of(AudioTimes)}}
        for c, times in found
        if times != AudioTimes()
    ]


def computer_spans(survey: Survey, computer: Computer) -> tuple[str, ...]:
    """Return a line for each interface on a computer, in the order in which it numbers them."""
    lines = []
    for unit in computer.interfaces:
        parts = []
        for word, channels in (("in", survey.numbering.inputs), ("out", survey.numbering.outputs)):
            mine = [d.number for d in channels if d.unit == unit]
            if mine:
                parts.append(f"{word} {mine[0]}–{mine[-1]}")
        lines.append(f"{survey.studio.units[unit].name}: {', '.join(parts) or 'no channel as it is set'}")
    return tuple(lines)
