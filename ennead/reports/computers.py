"""Which driver numbers each interface of a computer has, as lines of text."""

from ennead.studio.house import Computer
from ennead.survey.survey import Survey


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
