"""Two waves laid over each other at a zoom: the points of their lines; pure geometry."""

from collections.abc import Sequence
from typing import Final, NamedTuple

#: Closer than this the samples are drawn as points of their own, px.
APART_PX: Final = 6.0
#: The least and the most of a wave that is seen at once, samples.
CLOSEST: Final = 8.0


class CurveLine(NamedTuple):
    """One wave as points, x and y in px; `dots` where each is a sample to be seen."""

    points: tuple[tuple[float, float], ...]
    dots: bool


class Sight(NamedTuple):
    """What of the waves is in view, samples."""

    first: float
    span: float

    def zoomed(self, factor: float, whole: float, about: float = 0.5) -> "Sight":
        """Return a sight of more or less, about a part of its width, within the whole."""
        span = min(whole, max(CLOSEST, self.span * factor))
        return Sight(self.first + (self.span - span) * about, span).within(whole)

    def moved(self, samples: float, whole: float) -> "Sight":
        """Return a sight further along."""
        return self._replace(first=self.first + samples).within(whole)

    def within(self, whole: float) -> "Sight":
        """Return a sight that does not leave the waves."""
        return self._replace(first=max(0.0, min(whole - self.span, self.first)))


def curve_line(wave: Sequence[float], late: float, sight: Sight, top: float, width: float, height: float) -> CurveLine:
    """Return a wave as a line: sample by sample where they lie apart, its lowest and highest by px where they do not.

    Parameters
    ----------
    late : float, samples
        How much later than the axis its first sample is.
    top : float
        The value that reaches the upper edge.
    """
    step = width / sight.span
    begin = max(0, int(sight.first - late) - 1)
    end = min(len(wave), int(sight.first + sight.span - late) + 2)
    middle, high = height / 2, 0.46 * height / top if top else 0.0

    def at(n: float, value: float) -> tuple[float, float]:
        return (n + late - sight.first) * step, middle - high * value

    if step >= 1:
        return CurveLine(tuple([at(n, wave[n]) for n in range(begin, end)]), step >= APART_PX)
    size = max(1, int(1 / step))
    points = []
    for n in range(begin, end, size):
        piece = wave[n : n + size]
        points += [at(n, min(piece)), at(n + size / 2, max(piece))]
    return CurveLine(tuple(points), dots=False)
