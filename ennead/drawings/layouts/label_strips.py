"""Designation strips at true scale: a row of a bay cut at whole points into pieces that fit on a page; pure geometry in mm."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from ennead.reports.strip_rows import strip_rows
from ennead.standards.bays import place_mm
from ennead.studio.bays import Bay, PointLabel
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey

#: Sheets of paper by name: width and height upright, mm. ISO 216; the Letter of ANSI/ASME Y14.1.
PAPERS: Final[dict[str, tuple[float, float]]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4), "A3": (297.0, 420.0)}
#: What printers cannot reach, and what keeps hands off the strips; the height of a strip, and what lies between two. House defaults, mm.
MARGIN_MM, STRIP_MM, BETWEEN_MM = 10.0, 9.0, 12.0
#: The ruler of the test page. A typed length within these of it is a printer; beyond them, a slip of the hand. mm.
RULER_MM: Final = 150.0
MEASURED_MM: Final = (120.0, 180.0)


class StripCell(NamedTuple):
    """One point on a strip: from x to x, and what it says."""

    left: float
    right: float
    number: str
    first: str
    second: str


@dataclass(frozen=True, slots=True)
class StripPiece:
    """A piece of a row's strip on a page, mm.

    Parameters
    ----------
    ticks : tuple of float
        Where points end: from the left edge of the page.
    part, parts : int
        Which piece of its row it is, from 1, and of how many.
    """

    name: str
    x: float
    y: float
    width: float
    cells: tuple[StripCell, ...]
    ticks: tuple[float, ...]
    part: int
    parts: int


@dataclass(frozen=True, slots=True)
class StripPage:
    """A page of strips, or the test page where it has a ruler, mm."""

    width: float
    height: float
    pieces: tuple[StripPiece, ...] = ()
    ruler: bool = False


def correction(measured_mm: float) -> float:
    """Return by what lengths are multiplied so that a printer that makes the ruler so long prints true.

    Parameters
    ----------
    measured_mm : float, mm

    Raises
    ------
    ValueError
        If no printer is that far off.

    >>> round(correction(148.5), 4)
    1.0101
    """
    if not MEASURED_MM[0] <= measured_mm <= MEASURED_MM[1]:
        raise ValueError(f"{measured_mm:g} mm")
    return RULER_MM / measured_mm


def edges(bay: Bay, across: int) -> list[tuple[float, float]]:
    """Return where each point of a row begins and ends on its strip, from the strip's left, mm."""
    begins = [place_mm(at, bay.pitch_mm, in_pairs=bay.in_pairs) for at in range(across)]
    return list(zip(begins, [*begins[1:], begins[-1] + bay.pitch_mm] if begins else [], strict=True))


def lay_pages(
    strips: Sequence[tuple[str, Bay, Sequence[str], Mapping[str, PointLabel]]],
    paper: str,
    scale: float = 1.0,
    *,
    landscape: bool = True,
) -> list[StripPage]:
    """Return the pages of some strips.

    Parameters
    ----------
    strips : sequence of (name, bay, port keys, labels)
        A row of a bay each; what a point says is under its key.
    paper : str
        One of `PAPERS`.
    scale : float
        What lengths are multiplied by, against a printer that does not print true.
    """
    upright = PAPERS[paper]
    width, height = (upright[1], upright[0]) if landscape else upright
    room = width - 2 * MARGIN_MM
    pages: list[list[StripPiece]] = [[]]
    y = MARGIN_MM + 6.0
    for name, bay, keys, labels in strips:
        cut = list(_cut(edges(bay, len(keys)), room / scale))
        for part, (first, last) in enumerate(cut, start=1):
            if y + (STRIP_MM + 4.0) * scale > height - MARGIN_MM:
                pages.append([])
                y = MARGIN_MM + 6.0
            pages[-1].append(_piece(name, bay, keys, labels, first, last, y, scale, part, len(cut)))
            y += STRIP_MM * scale + BETWEEN_MM
    return [StripPage(width, height, tuple(pieces)) for pieces in pages if pieces]


def _cut(points: Sequence[tuple[float, float]], room: float) -> Iterator[tuple[int, int]]:
    """Yield from which to which point each piece goes: as even as whole points allow."""
    most = max(1, sum(1 for left, right in points if right - points[0][0] <= room))
    parts = -(-len(points) // most)
    begin = 0
    for part in range(parts):
        end = len(points) * (part + 1) // parts
        while points[end - 1][1] - points[begin][0] > room and end > begin + 1:
            end -= 1
        yield begin, end
        begin = end
    while begin < len(points):
        end = begin + most
        yield begin, min(end, len(points))
        begin = end


def _piece(
    name: str,
    bay: Bay,
    keys: Sequence[str],
    labels: Mapping[str, PointLabel],
    first: int,
    last: int,
    y: float,
    scale: float,
    part: int,
    parts: int,
) -> StripPiece:
    where = edges(bay, len(keys))[first:last]
    begin = where[0][0]
    cells, ticks = [], [MARGIN_MM]
    for (left, right), key in zip(where, keys[first:last], strict=True):
        label = labels.get(key, PointLabel())
        x0, x1 = MARGIN_MM + (left - begin) * scale, MARGIN_MM + (right - begin) * scale
        cells.append(StripCell(x0, x1, label.number, label.first, label.second))
        ticks.append(x1)
    return StripPiece(name, MARGIN_MM, y, ticks[-1] - MARGIN_MM, tuple(cells), tuple(ticks), part, parts)


def pages_of(survey: Survey, paper: str, measured_mm: float, *, test: bool) -> list[StripPage]:
    """Return the pages of all strips, or the test page.

    Parameters
    ----------
    measured_mm : float, mm

    Raises
    ------
    BadValue
        If there is no bay, or no printer is that far off.
    """
    width, height = PAPERS[paper]
    if test:
        return [StripPage(height, width, ruler=True)]
    try:
        scale = correction(measured_mm)
    except ValueError:
        least, most = MEASURED_MM
        raise BadValue(
            f"the length of a ruler of {RULER_MM:g} mm",
            f"{measured_mm:g} mm",
            f"A printer makes {least:g} to {most:g} mm of it.",
        ) from None
    pages = lay_pages(strip_rows(survey), paper, scale)
    if not pages:
        raise BadValue("a strip", "nothing", "There are no patch bays; make one first.")
    return pages
