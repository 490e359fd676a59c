"""Rule: a source that wants a certain preamp, or outboard on the way in, sits where its way passes it."""

from ennead.studio.document import Studio
from ennead.studio.ids import ProfileId, UnitId
from ennead.studio.session import Source
from ennead.survey.input_points import InputPoint
from ennead.survey.survey import Survey


def way_wanted(studio: Studio, source: Source) -> str:
    """Return where a source is wanted, in words: ``on Harbour``, ``by way of Tower``; empty where it has no wish."""
    if source.preamp:
        return f"on {studio.units[UnitId(source.preamp)].name if source.preamp in studio.units else studio.profiles[ProfileId(source.preamp)].name}"
    return f"by way of {studio.units[source.outboard].name}" if source.outboard is not None else ""


def why_not_its_way(survey: Survey, source: Source, point: InputPoint) -> str:
    """Return why a socket's way is not the wanted one, or an empty string where it is."""
    studio = survey.studio
    if source.preamp and source.preamp not in (point.unit, point.powered_unit, point.profile.id, point.powered_by.id):
        return f"{source.name} is wanted {way_wanted(studio, source)}"
    if source.outboard is not None and source.outboard not in survey.way(point.unit, point.port.key).passes:
        return f"its way does not pass {studio.units[source.outboard].name}"
    return ""
