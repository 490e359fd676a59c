"""Rule: a source that wants a certain preamp, or outboard on the way in, sits where its way passes it."""

from ennead.studio.ids import ProfileId, UnitId
from ennead.studio.session import Source
from ennead.survey.asked import Parts
from ennead.survey.input_points import InputPoint


def way_wanted(survey: Parts, source: Source) -> str:
    """Return where a source is wanted, in words: ``on Harbour``, ``by way of Tower``; empty where it has no wish."""
    if source.preamp:
        box = survey.units.get(UnitId(source.preamp))
        return f"on {box.name if box is not None else survey.shelf[ProfileId(source.preamp)].name}"
    return f"by way of {survey.units[source.outboard].name}" if source.outboard is not None else ""


def why_not_its_way(survey: Parts, source: Source, point: InputPoint) -> str:
    """Return why a socket's way is not the wanted one, or an empty string where it is."""
    if source.preamp and source.preamp not in (point.unit, point.powered_unit, point.profile.id, point.powered_by.id):
        return f"{source.name} is wanted {way_wanted(survey, source)}"
    if source.outboard is not None and source.outboard not in survey.way(point.unit, point.port.key).passes:
        return f"its way does not pass {survey.units[source.outboard].name}"
    return ""
