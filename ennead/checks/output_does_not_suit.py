"""Loudspeakers, cues, sends and loops each leave by outputs of their kind."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.rules.destination_fits_output import why_no_output
from ennead.survey.asked import Parts
from ennead.survey.output_points import output_point_at


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every destination on an output that serves something else, or that no number comes out of."""
    destinations = [d for d in survey.destinations if d.outputs]
    if not destinations:
        return
    points = output_point_at(survey.output_points)
    for destination in destinations:
        for end in dict.fromkeys(destination.outputs):
            held = points.get(end)
            reason = "no driver output comes out there at this rate" if held is None else why_no_output(destination, held[0].port, held[0].feeds)
            if end.port in survey.units[end.unit].faults:
                reason = "it is out of service"
            if reason:
                yield Finding(
                    "output_does_not_suit", "trouble", "Lines", destination.id, (destination.id, end.unit),
                    f"{destination.name} is taken from {survey.end_text(end)}, but {reason}.",
                    "It is silent there, or comes out where it should not: main outputs stay with the loudspeakers, and what "
                    "drives outboard serves no ears.",
                    (Fix("Allocate", Wish("allocate", destination.id)),), (f"{survey.end_text(end)}: {reason}",),
                )  # fmt: skip
                break
