"""Loudspeaker level never goes on a bay."""

from collections.abc import Iterator

from ennead.checks.at_points import points_of
from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every output of loudspeaker level that reaches a point."""
    if not survey.bays:
        return
    loud = {(unit, port.key): None for unit, profile in survey.profiles.items() for port in profile.loud_outputs}
    for net in survey.each_net if loud else ():
        for key, port, _ in net.drivers:
            points = points_of(survey, net) if (key, port) in loud else ()
            if not points:
                continue
            end = PortEnd(UnitId(key), port)
            cable = next((c for c in survey.in_use.values() if end in c.plugs), None)
            fixes = (
                () if cable is None else (Fix(f"Pull {cable.id}", change(f"Pull {cable.id}", disconnect, cable.id)),)
            )
            yield Finding(
                "speaker_level_on_bay",
                "trouble",
                subject_of(points[0][0]),
                (points[0][0], key, *((cable.id,) if cable else ())),
                f"{survey.end_text(end)} puts loudspeaker level on {survey.end_text(PortEnd(*points[0]))}.",
                "A plug shorts an amplifier in passing and burns its contact; a line input beside it is destroyed. "
                "Wire loudspeakers from the amplifier directly, by somebody who knows how.",
                fixes,
                cause=at(end, *points),
            )
