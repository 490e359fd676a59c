"""A cord that does not reach from point to point."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.bays import SLACK_M, reach_m
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every cord of the scene that is shorter than its way along one bay."""
    for cord in survey.cords:
        if cord.length_m is None or len(cord.plugs) != 2 or cord.plugs[0].unit != cord.plugs[1].unit:
            continue
        bay = survey.bays[cord.plugs[0].unit]
        where = bay.places
        points = [where[p.port][1] for p in cord.plugs]
        needed = reach_m(points[0], points[1], bay.pitch_mm, in_pairs=bay.in_pairs)
        apart = abs(points[0] - points[1])
        # Points in pairs stand apart unevenly: then the distance says more than a product.
        way = f"{(needed - SLACK_M) * 1000:.0f} mm" if bay.in_pairs else f"{apart} × {bay.pitch_mm:g} mm"
        if cord.length_m < needed:
            yield Finding(
                "cord_too_short",
                "trouble",
                subject_of(cord.id),
                (cord.id, bay.id),
                f"Cord {cord.id} is {cord.length_m:g} m and does not reach from {survey.end_text(cord.plugs[0])} to"
                f" {survey.end_text(cord.plugs[1])}.",
                "It hangs like a string, pulls at its plugs and comes out. Take a longer one, or nearer points.",
                (),
                (f"{way} + {SLACK_M:g} m for plugs and bend = {needed:.2f} m (house default)",),
            )
