"""One destination to one place: by driver number, by socket."""

from ennead.edits.change import Change, change
from ennead.edits.destinations import change_destination, send_out
from ennead.planning.routing.out_reasons import place_from, places_of, why_not_from
from ennead.planning.routing.placing import NoPlace
from ennead.planning.seating.of_studio import pose
from ennead.planning.seating.problem import Seats
from ennead.planning.seating.studio_problem import DemandOwner, Posed
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.session import Destination, PlacedDestination
from ennead.survey.survey import Survey


def place_out_at_number(survey: Survey, key: DestinationId, number: int) -> Change:
    """Return the change that takes a destination from a driver output by its number; a stereo one takes the pair there.

    Raises
    ------
    NoPlace
        If nothing comes out there, or the destination does not suit the socket; that it is taken is told by the change.
    """
    destination = survey.placed(key)
    point = next((s for s in survey.output_points if s.number == number), None)
    if point is None:
        raise NoPlace(destination.name, f"no socket gives out driver output {number}")
    posed, index = _posed(survey, destination)
    place = next((p for p in places_of(posed, index) if posed.numbers(p)[0] == number), None)
    return _one(survey, destination, posed, place, point.end)


def place_out_at_port(survey: Survey, key: DestinationId, end: PortEnd) -> Change:
    """Return the change that takes a destination from a socket; a stereo one takes the pair that begins there.

    Raises
    ------
    NoPlace
    """
    destination = survey.placed(key)
    posed, index = _posed(survey, destination)
    return _one(survey, destination, posed, place_from(posed, index, end), end)


def _posed(survey: Survey, destination: Destination) -> tuple[Posed, int]:
    """Return the seating problem and the destination's demand in it, whether it taps or not."""
    if destination.tap:
        survey = Survey(change_destination(survey.studio, destination.id, tap=False), survey)
    posed = pose(survey, loose=destination.id)
    return posed, posed.asked.index(DemandOwner(destination.id, "out"))


def _one(survey: Survey, destination: PlacedDestination, posed: Posed, place: Seats | None, end: PortEnd) -> Change:
    if place is None:
        raise NoPlace(destination.name, why_not_from(survey, destination, end))
    return change(
        f"Send {destination.name} out by {posed.numbers(place)[0]}",
        send_out,
        destination.id,
        posed.ends(place),
        destination.returns,
    )
