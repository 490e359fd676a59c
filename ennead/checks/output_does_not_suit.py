"""Loudspeakers, cues, sends and loops each leave by outputs of their kind."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.rules.may_go_out import OutObstacle, obstacles, wanted_of, where_of
from ennead.studio.subjects import subject_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every destination on an output that serves something else, or that no number comes out of."""
    destinations = [d for d in survey.destinations if d.outputs]
    if not destinations:
        return
    points = output_point_at(survey.output_points)
    for destination in destinations:
        for end in dict.fromkeys(destination.outputs):
            held = points.get(end)
            note = survey.faults.get(end.unit, {}).get(end.port, "")
            none = (OutObstacle("faults", note) if note else OutObstacle("numbers"),)
            against = (
                none if held is None else obstacles(wanted_of(destination, by_hand=True), where_of(survey, held[0]))
            )
            if against:
                reason = _said(survey.port(end).label, against[0])
                yield Finding(
                    "output_does_not_suit",
                    "trouble",
                    subject_of(destination.id),
                    (destination.id, end.unit),
                    f"{destination.name} is taken from {survey.end_text(end)}, but {reason}.",
                    "It is silent there, or comes out where it should not: main outputs stay with the loudspeakers, and"
                    " what drives outboard serves no ears.",
                    (Fix("Allocate", Request("allocate", destination.id)),),
                    (f"{survey.end_text(end)}: {reason}",),
                    cause=(*at(end), against[0].rule),
                )
                break


def _said(label: str, against: OutObstacle) -> str:
    if against.rule == "faults":
        return "it is out of service"
    return str(against) if against.rule == "numbers" else f"{label} {against}"
