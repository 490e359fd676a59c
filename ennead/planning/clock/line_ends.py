"""The ends of word-clock lines after a plan: each line that it touches is closed once, at its far end."""

from collections.abc import Iterable, Iterator

from ennead.edits.change import Edit, step
from ennead.edits.settings import may_be_closed, set_termination
from ennead.planning.clock.clock_ways import ClockWay
from ennead.standards.links import WORD
from ennead.studio.house import PortEnd
from ennead.studio.ids import number_of
from ennead.survey.survey_interface import Parts


def line_ends(survey: Parts, added: Iterable[ClockWay]) -> list[Edit]:
    """Return what closes and opens the lines to which cables come, or from which some are pulled.

    References
    ----------
    AES11 annex; 75 ohm coaxial lines are closed once, at the far end.
    """
    added = list(added)
    pulled = {way.pulls for way in added if way.pulls is not None}
    # New cables are numbered in the order in which they are added, so that the last one is the far end.
    lines: dict[PortEnd, list[PortEnd]] = {}
    for start in [*(survey.links[cable].start for cable in pulled), *(w.start for w in added if w.kind in WORD)]:
        links = sorted(survey.passages[start.unit].leaving.get(start.port, ()), key=lambda n: number_of(n.cable))
        lines[start] = [n.end for n in links if n.cable not in pulled]
    for way in added:
        if way.start in lines:
            lines[way.start].append(way.end)
    return [edit for ends in lines.values() for edit in _closed_once(survey, ends)]


def _closed_once(survey: Parts, ends: list[PortEnd]) -> Iterator[Edit]:
    for end in ends:
        port, last = survey.port(end), end == ends[-1]
        closed = end.port in survey.settings[end.unit].terminated
        # Where it has no switch for it, a T-piece with a terminator closes the line.
        if last != closed and may_be_closed(port) and (closed or port.termination in ("switchable", "none")):
            yield step(set_termination, end.unit, end.port, on=last)
