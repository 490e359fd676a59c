"""Microphone lines apart from line level."""

from collections.abc import Iterator
from itertools import pairwise

from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.profile import Port
from ennead.studio.subjects import subject_of
from ennead.survey.behind import Behind
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each row in which microphone and line level stand side by side without a point between."""
    if not survey.bays:
        return
    levels = {}
    for point, there in survey.behind.items():
        for wired in there:
            level = _of_socket(wired.port) if wired.port is not None else _level(survey, wired)
            if level in ("mic", "line"):
                levels[point] = level
                break
    both = {at[0] for at, level in levels.items() if level == "mic"} & {
        at[0] for at, level in levels.items() if level == "line"
    }
    for unit, bay in survey.bays.items():
        for row in bay.rows if unit in both else ():
            pairs = [
                (one, other)
                for one, other in pairwise(row)
                if {levels.get((unit, one)), levels.get((unit, other))} == {"mic", "line"}
            ]
            if not pairs:
                continue
            one, other = (survey.end_text(PortEnd(unit, key)) for key in pairs[0])
            more = f", and {len(pairs) - 1} more such pairs in the row" if len(pairs) > 1 else ""
            yield Finding(
                "mic_beside_line",
                "note",
                subject_of(unit),
                (unit,),
                f"{one} and {other} stand side by side, one at microphone and one at line level{more}.",
                "A hand that misses by one point sends line level into a preamp, and a long parallel loom lets line"
                " level be heard in the microphone. Keep them on different rows or bays, or leave a point between.",
                cause=at(*[(unit, key) for pair in pairs for key in pair]),
            )


def _of_socket(port: Port) -> str:
    """Return the level at a socket; empty where its plug decides."""
    return "" if port.connector == "combo" else port.carries[0]


def _level(survey: Parts, wired: Behind) -> str:
    """Return the level of the line that is wired behind a point: of a microphone, or of anything else."""
    if not isinstance(wired.far, SourceEnd):
        return ""
    return "mic" if survey.source_by_id[wired.far.source].is_microphone else "line"
