"""Rule: a source that wants a certain preamp, or outboard on the way in, sits where its way passes it."""

from ennead.studio.session import Source
from ennead.survey.seats import Seat
from ennead.survey.survey import Survey


def why_not_its_way(survey: Survey, source: Source, seat: Seat) -> str:
    """Return why a socket's way is not the wanted one, or an empty string where it is."""
    studio = survey.studio
    if source.preamp and source.preamp not in (seat.unit, seat.powered_unit, seat.profile.id, seat.powered_by.id):
        wanted = studio.units[source.preamp].name if source.preamp in studio.units else studio.profiles[source.preamp].name  # type: ignore[index]
        return f"{source.name} is wanted on {wanted}"
    if source.outboard is not None and source.outboard not in survey.wires.onward(seat.unit, seat.port.key, 1).units:
        return f"its way does not pass {studio.units[source.outboard].name}"
    return ""
