"""Where one cord closes a loop past its boxes: the points of bays nearest the converters."""

from ennead.studio.house import PortEnd
from ennead.survey.circuits import CircuitChannel
from ennead.survey.survey_interface import Parts


def bypass_points(survey: Parts, channel: CircuitChannel) -> tuple[PortEnd, PortEnd] | None:
    """Return the first point after the D/A and the last before the A/D; None where a way meets no bay or no box."""
    inside = [n for n, at in enumerate(channel.passed) if at.what == "box"]
    if not inside:
        return None
    found = []
    for part in (channel.passed[: inside[0]], channel.passed[: inside[-1] : -1]):
        at = next((p for p in part if p.unit in survey.bays and p.port in survey.bays[p.unit].points), None)
        if at is None:
            return None
        found.append(PortEnd(at.unit, at.port))
    return found[0], found[1]
