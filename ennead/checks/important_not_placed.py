"""A source that must be in should have its place before others do."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.checks.stated_sources import stated
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that must be in and is not plugged in, while others are."""
    cables = survey.leads
    for source in stated(survey).important:
        if (source.id, 1) in cables or not cables:
            continue
        yield Finding(
            "important_not_placed",
            "trouble",
            subject_of(source.id),
            (source.id,),
            f"{source.name} must be in, and it is plugged in nowhere.",
            "Others have their inputs already; when these run out it is the one that is missing. Press Allocate: it"
            " leaves out others first.",
            (Fix("Allocate", Request("allocate", source.id)),),
            (f"marked as must be in; {len(cables)} channels of others are plugged in",),
        )
