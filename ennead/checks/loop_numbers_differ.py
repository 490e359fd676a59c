"""A loop with equal numbers for send and return is found without a list; some software allows no other."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.studio.subjects import subject_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every loop that leaves and comes back by different driver numbers; trouble where they must be the same."""
    policy = survey.session_facts.loop_numbers
    if policy == "free":
        return
    loops = [d for d in survey.destinations if d.kind == "loop" and d.outputs and d.returns]
    if not loops:
        return
    points = output_point_at(survey.output_points)
    for loop in loops:
        out, back = points.get(loop.outputs[0]), survey.arrival(loop.returns[0])
        if out is None or back is None or out[0].number == back.number:
            continue
        yield Finding(
            "loop_numbers_differ",
            "trouble" if policy == "always" else "note",
            subject_of(loop.id),
            (loop.id, out[0].unit, back.unit),
            f"{loop.name} goes out by {out[0].number} and comes back by {back.number}.",
            "Your software wants the same number out and in: as it is, the loop cannot be opened there."
            if policy == "always"
            else "Paired numbers need no list and are not mixed up at night (a policy, not a fault).",
            (Fix("Find places with one number", Request("allocate", loop.id)),) if policy == "always" else (),
            (f"driver output {out[0].number}, driver input {back.number}",),
            cause=at(*loop.outputs, *loop.returns),
        )
