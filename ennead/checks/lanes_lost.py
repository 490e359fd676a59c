"""Channels a link no longer carries at this rate."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.edits.change import change
from ennead.edits.session import set_rate
from ennead.standards.links import LINKS
from ennead.standards.rates import is_faster, rate_text, single_speed_of, speed_of
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts
from ennead.survey.words import gap_text


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every run of a source that ends because its lane is lost at this rate."""
    for run in survey.broken_paths:
        if run.gap is None or run.gap.cause != "lane" or run.source is None:
            continue
        speed = speed_of(survey.rate_hz)
        adat = LINKS["adat"].lanes
        anew = f"Find another place for {survey.source_by_id[run.source].name}"
        fixes: tuple[Fix, ...] = (Fix(anew, Request("place", run.source)),)
        if is_faster(speed, "single"):
            slow = single_speed_of(survey.rate_hz)
            text = f"Go to {rate_text(slow)}"
            fixes = (Fix(text, change(text, set_rate, slow)), *fixes)
        yield Finding(
            "lanes_lost",
            "trouble",
            subject_of(run.source),
            (run.source, *((run.gap.unit,) if run.gap.unit else ())),
            f"{run.signal} does not get through: {gap_text(survey, run)}",
            "The channel is silent at this rate, though it worked at a lower one.",
            fixes,
            tuple(f"ADAT at {s} speed: {n} lanes" for s, n in adat.items()),
            cause=at(run.gap),
        )
