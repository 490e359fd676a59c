"""An input by which a loop comes back is reserved."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that sits in a loop's return."""
    destinations = [d for d in survey.destinations if d.returns]
    if not destinations:
        return
    kept = {end: destination for destination in destinations for end in destination.returns}
    for (source_id, _), cable in survey.leads.items():
        if cable.end in kept:
            source, destination = survey.source_by_id[source_id], kept[cable.end]
            yield Finding(
                "return_taken",
                "trouble",
                subject_of(source_id),
                (source_id, destination.id, cable.end.unit),
                f"{source.name} sits on {survey.end_text(cable.end)}, by which {destination.name} comes back.",
                "Only one of them can be plugged there.",
                (Fix(f"Find another place for {source.name}", Request("place", source_id)),),
                (f"{destination.name} comes back by {', '.join(survey.end_text(e) for e in destination.returns)}",),
                cause=at(cable.end),
            )
