"""A digital source brings a clock of its own."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.stated_sources import stated
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every plugged digital source, unless its input resamples."""
    digital = stated(survey).digital
    leads = survey.leads if digital else {}
    for source in digital:
        cable = leads.get((source.id, 1))
        if cable is None or survey.port(cable.end).asynchronous:
            continue
        yield Finding(
            "digital_source_keeps_time",
            "note",
            subject_of(source.id),
            (source.id, cable.end.unit),
            f"{source.name} is digital: it must follow the studio's clock, or {survey.units[cable.end.unit].name} must"
            " follow it.",
            "On a clock of its own it clicks at every slip. Where it cannot follow, use an input that resamples, or its"
            " analogue output.",
            (),
            (f"{survey.end_text(cable.end)} does not resample",),
        )
