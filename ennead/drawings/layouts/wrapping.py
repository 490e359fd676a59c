"""Texts on two lines: pure, from a measure of widths."""

from collections.abc import Callable

#: (text, size) to width, px.
Measure = Callable[[str, float], float]
#: A design measure to px at the present scale.
Scale = Callable[[float], int]


def wrap(text: str, width: float, size: float, measure: Measure) -> tuple[str, ...]:
    """Return a text on at most two lines, each cut with an ellipsis if it must be."""
    lines = [""]
    for word in text.split():
        longer = f"{lines[-1]} {word}".strip()
        if measure(longer, size) <= width or not lines[-1]:
            lines[-1] = longer
        else:
            lines.append(word)
    lines = [lines[0], " ".join(lines[1:])] if len(lines) > 2 else lines
    return tuple(_cut(line, width, size, measure) for line in lines)


def at_a_word(text: str, fits: Callable[[str], bool]) -> str:
    """Return a text as far as it fits: whole, else shortened at a word; empty where not one word fits."""
    if fits(text):
        return text
    words = text.split()
    for count in range(len(words) - 1, 0, -1):
        shorter = f"{' '.join(words[:count])} …"
        if fits(shorter):
            return shorter
    return ""


def _cut(line: str, width: float, size: float, measure: Measure) -> str:
    if measure(line, size) <= width:
        return line
    while line and measure(f"{line}…", size) > width:
        line = line[:-1]
    return f"{line.rstrip()}…"
