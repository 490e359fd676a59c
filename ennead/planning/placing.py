"""One source to one place: by search, by driver number, by socket."""

from ennead.edits.change import Change
from ennead.planning.allocation import Option, Placement, Proposal, options_for, place_one, set_table, take, why_not
from ennead.rules.source_fits_port import why_unfit
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import SourceId
from ennead.studio.session import Source
from ennead.survey.survey import Survey


class NoPlace(EnneadError):
    """A source that cannot sit where it is wanted, or anywhere."""

    def __init__(self, source: str, reason: str) -> None:
        super().__init__(source, reason)
        self.source, self.reason = source, reason

    def __str__(self) -> str:
        return f"{self.source} cannot be placed: {self.reason}."


def place_anew(survey: Survey, source_id: SourceId) -> Change:
    """Return the change that gives a source another place while everybody else stays.

    Raises
    ------
    NoPlace
    """
    studio = survey.studio
    source = studio.source(source_id)
    now = survey.source_cables.get((source_id, 1))
    others = frozenset(
        s.id for s in studio.session_sources if s.id != source_id and survey.source_cables.get((s.id, 1))
    )
    desk = set_table(survey, others, avoid=now.end if now else None)
    if not place_one(desk, source_id, set(), 0):
        raise NoPlace(source.name, why_not(survey, source, desk))
    return _one(survey, source, desk.placed[source_id])


def place_at_number(survey: Survey, source_id: SourceId, number: int) -> Change:
    """Return the change that brings a source to a driver input by its number.

    Raises
    ------
    NoPlace
        If nobody can arrive there, it is taken, or the source does not suit the socket.
    """
    seat = next((s for s in survey.seats if s.number == number), None)
    if seat is None:
        name = survey.studio.source(source_id).name
        raise NoPlace(name, f"no free-standing socket leads to driver input {number}")
    return place_at_port(survey, source_id, seat.end)


def place_at_port(survey: Survey, source_id: SourceId, end: PortEnd) -> Change:
    """Return the change that plugs a source into a socket; a stereo source takes the pair that begins there.

    Raises
    ------
    NoPlace
    """
    studio = survey.studio
    source = studio.source(source_id)
    option = next((o for o in options_for(source, survey.seats) if o[0].end == end), None)
    if option is None:
        raise NoPlace(source.name, _why_not_there(survey, source, end))
    for seat in option:
        sitter = next(
            (c.start for c in studio.cables.values() if c.end == seat.end and studio.is_active(c)), None
        )
        if isinstance(sitter, SourceEnd) and sitter.source != source_id:
            there = studio.sources[sitter.source].name
            raise NoPlace(source.name, f"{studio.end_text(seat.end)} is taken by {there}")
    return _one(survey, source, option)


def _why_not_there(survey: Survey, source: Source, end: PortEnd) -> str:
    port = survey.studio.port(end)
    reason = why_unfit(source, port)
    text = survey.studio.end_text(end)
    if reason:
        return reason
    if survey.studio.units[end.unit].faults.get(end.port):
        return f"{text} is out of service"
    if not any(s.end == end for s in survey.seats):
        return f"nothing leads from {text} to the computer"
    if source.channels == 2:
        return f"no pair begins at {text}; pairs are odd and even, side by side"
    return f"{text} has no 48 V, which it needs"


def _one(survey: Survey, source: Source, option: Option) -> Change:
    numbers = tuple(d.number for s in option for d in s.drivers)[: source.channels]
    return take(survey, Proposal((Placement(source.id, option, numbers),), 0, {}))
