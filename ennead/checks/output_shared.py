"""One output serves one destination, but for a deliberate tap."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.session import Destination
from ennead.studio.subjects import subject_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every output that two destinations are taken from; a note where one of them is a tap on purpose."""
    if not any(d.outputs for d in survey.destinations):
        return
    # Phones that mirror a pair of line outputs give out what it does.
    points = output_point_at(survey.output_points)
    held: dict[PortEnd | int, Destination] = {}
    for destination in survey.destinations:
        for end in dict.fromkeys(destination.outputs):
            keys: list[PortEnd | int] = [
                end,
                *[point.number for point in points.get(end, ())[: destination.outputs.count(end)]],
            ]
            other = next((held[key] for key in keys if held.get(key, destination) is not destination), destination)
            for key in keys:
                held.setdefault(key, destination)
            if other is destination:
                continue
            meant = destination.tap or other.tap
            yield Finding(
                "output_shared",
                "note" if meant else "trouble",
                subject_of(destination.id),
                (destination.id, other.id, end.unit),
                f"{destination.name} and {other.name} are taken from the same output, {survey.end_text(end)}.",
                "Both hear the same, and a change for one is heard by the other: a click on the mains, a loop in"
                " somebody's ears.",
                (),
                (f"one of them is a tap on purpose: {'yes' if meant else 'no'}",),
                cause=at(end),
            )
            break
