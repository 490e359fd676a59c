"""An input behind an asynchronous converter need not be in step, and pays for it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.link_kinds import link_kinds
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every link into an input that resamples."""
    for link in link_kinds(survey).resampled:
        port = link.in_view.profile.port_by_key[link.end.port]
        start, delay = survey.units[link.start.unit].name, link.in_view.delays[port.key]
        late = f"; {delay:g} samples late" if delay is not None else ""
        yield Finding(
            "input_resampled",
            "note",
            subject_of(link.end.unit),
            (link.end.unit, link.start.unit, link.cable),
            f"{survey.end_text(link.end)} resamples what {start} sends, so {start} may keep its own clock.",
            f"Nothing clicks, but the channels are no longer sample-exact with the others{late}. Its other inputs are"
            " not exempt.",
            (),
            (f"asynchronous sample-rate converter at {survey.end_text(link.end)}",),
        )
