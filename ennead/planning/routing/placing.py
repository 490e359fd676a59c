"""One source to one place: by search, by driver number, by socket."""

from ennead.edits.change import Change
from ennead.planning.seating.allocation import Placement, Proposal, cables_of
from ennead.planning.seating.corded import CordTo, within_reach
from ennead.planning.seating.options import Option, banks_of, options_for, phantom_wish, reserved_inputs, why_not
from ennead.planning.seating.proposal_change import take
from ennead.planning.seating.switching import BankKey
from ennead.rules.may_sit import obstacles, sentence, wanted_of, where_of
from ennead.rules.source_fits_port import why_unfit
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import DestinationId, SourceId
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
    """Return the change that gives a source another place while all others keep theirs.

    Raises
    ------
    NoPlace
    """
    source = survey.studio.source(source_id)
    option = _free_option(survey, survey, source)
    if option is not None:
        return _one(survey, source, option)
    # Behind a cord there may be one still.
    reached, cords = within_reach(survey)
    option = _free_option(survey, reached, source) if cords else None
    if option is None:
        raise NoPlace(source.name, why_not(survey, source))
    return _one(survey, source, option, tuple([cords[s.end] for s in option if s.end in cords]))


def _free_option(survey: Survey, reached: Survey, source: Source) -> Option | None:
    """Return the first free place for a source, other than the one it has, of those that are reached."""
    now = survey.leads.get((source.id, 1))
    taken, wishes = _sitters(survey, source)
    for option in options_for(reached, source):
        if any(s.end in taken or (now is not None and s.end == now.end) for s in option):
            continue
        wish = phantom_wish(source, option)
        if not wish or all(wishes.get(bank, wish) == wish for bank in banks_of(option)):
            return option
    return None


def _sitters(survey: Survey, but: Source) -> tuple[set[PortEnd], dict[BankKey, int]]:
    """Return the sockets the other sources sit in, and how they need the switches of their banks."""
    studio, input_point_at = survey.studio, survey.input_point_at
    taken: set[PortEnd] = set()
    wishes: dict[BankKey, int] = {}
    for source in studio.session_sources:
        if source.id == but.id:
            continue
        ends = [c.end for c in cables_of(survey, source)]
        taken.update(ends)
        option = tuple(input_point_at[e.unit, e.port] for e in ends if (e.unit, e.port) in input_point_at)
        wish = phantom_wish(source, option)
        if wish:
            wishes.update(dict.fromkeys(banks_of(option), wish))
    return taken, wishes


def place_at_number(survey: Survey, source_id: SourceId, number: int) -> Change:
    """Return the change that brings a source to a driver input by its number.

    Raises
    ------
    NoPlace
        If nothing can arrive there, it is taken, or the source does not suit the socket.
    """
    patched = _by_cord(survey, source_id, number)
    if patched is not None:
        return patched
    point = next((s for s in survey.input_points if s.number == number), None)
    if point is None:
        name = survey.studio.source(source_id).name
        raise NoPlace(name, f"no free-standing socket leads to driver input {number}")
    return place_at_port(survey, source_id, point.end)


def _by_cord(survey: Survey, source_id: SourceId, number: int) -> Change | None:
    """Return the change that brings a source to a driver input by a cord alone, from where it is plugged; None where none would.

    Raises
    ------
    NoPlace
        If another source arrives there.
    """
    source, now = survey.studio.source(source_id), survey.leads.get((source_id, 1))
    if now is None or source.channels > 1:
        return None
    reached, cords = within_reach(survey, (now.end, number))
    if not cords:
        return None
    there = next((r for r in survey.signal_paths if r.driver is not None and r.driver.number == number), None)
    if there is not None and there.source != source_id:
        raise NoPlace(source.name, f"driver input {number} is taken by {there.signal}")
    try:
        option = hard_reason(reached, source, now.end)
    except Refused:
        return None
    if option[0].number != number:
        return None
    placed = Placement(source_id, option, (number,))
    return take(survey, Proposal((placed,), 0, {}, cords={source_id: (cords[now.end],)}))


def place_at_port(survey: Survey, source_id: SourceId, end: PortEnd) -> Change:
    """Return the change that plugs a source into a socket; a stereo source takes the pair that begins there.

    Raises
    ------
    NoPlace
    """
    studio = survey.studio
    source = studio.source(source_id)
    option = hard_reason(survey, source, end)
    for point in option:
        sitter = next((c.start for c in survey.cables_at(point.end)), None)
        if isinstance(sitter, SourceEnd) and sitter.source != source_id:
            there = studio.sources[sitter.source].name
            raise NoPlace(source.name, f"{studio.end_text(point.end)} is taken by {there}")
    return _one(survey, source, option)


def hard_reason(survey: Survey, source: Source, end: PortEnd) -> Option:
    """Return the sockets a source takes when it begins at one, occupied or not.

    Raises
    ------
    Refused
        With the hard rule that forbids it.
    """
    option = next((o for o in options_for(survey, source) if o[0].end == end), None)
    if option is None:
        raise Refused(source.name, _why_not_there(survey, source, end))
    return option


class Refused(NoPlace):
    """A socket that a hard rule forbids."""


def _why_not_there(survey: Survey, source: Source, end: PortEnd) -> str:
    port = survey.studio.port(end)
    reason = why_unfit(source, port)
    text = survey.studio.end_text(end)
    if reason:
        return reason
    if survey.studio.units[end.unit].faults.get(end.port):
        return f"{text} is out of service"
    point = survey.input_point_at.get((end.unit, end.port))
    if point is None:
        return f"nothing leads from {text} to the computer"
    against = obstacles(wanted_of(source), where_of(survey, point, reserved_inputs(survey).get(end, "")))
    if source.channels == 2 and (not against or against[0].rule == "48 V needed"):
        return f"no pair begins at {text}; pairs are odd and even, side by side"
    return sentence(survey, source, port, end, against[0])


def _one(survey: Survey, source: Source, option: Option, cords: tuple[CordTo, ...] = ()) -> Change:
    numbers = tuple(d.number for s in option for d in s.drivers)[: source.channels]
    laid: dict[SourceId | DestinationId, tuple[CordTo, ...]] = {source.id: cords} if cords else {}
    return take(survey, Proposal((Placement(source.id, option, numbers),), 0, {}, cords=laid), [source.id])
