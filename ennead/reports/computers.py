"""Which driver numbers each interface of a computer has, as lines of text."""

from ennead.studio.house import Host
from ennead.survey.survey import Survey


def host_spans(survey: Survey, host: Host) -> tuple[str, ...]:
    """Return a line for each interface on a computer, in the order in which it numbers them."""
    lines = []
    for unit in host.interfaces:
        parts = []
        for word, channels in (("in", survey.numbering.inputs), ("out", survey.numbering.outputs)):
            mine = [d.number for d in channels if d.unit == unit]
            if mine:
                parts.append(f"{word} {mine[0]}–{mine[-1]}")
        lines.append(f"{survey.studio.units[unit].name}: {', '.join(parts) or 'no channel as it is set'}")
    return tuple(lines)
