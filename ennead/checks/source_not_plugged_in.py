"""Every source of the session needs an input."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield one caution for all sources of which a channel is plugged in nowhere."""
    runs = [r for r in survey.broken_paths if r.source is not None and r.gap is not None and r.gap.cause == "unplaced"]
    waiting = list(dict.fromkeys(r.source for r in runs if r.source is not None))
    if not waiting:
        return
    if len(waiting) == 1:
        source = survey.source_by_id[waiting[0]]
        message = f"{source.name} has no input yet."
        fix = Fix(f"Find a place for {source.name}", Request("place", source.id))
    else:
        message = f"{len(waiting)} sources have no input yet."
        fix = Fix("Allocate them all…", Request("allocate", survey.session_facts.session))
    yield Finding(
        "source_not_plugged_in",
        "caution",
        subject_of(waiting[0]),
        tuple(waiting),
        message,
        "They will not be recorded." if len(waiting) > 1 else "It will not be recorded.",
        (fix,),
        (f"channels listed {len(survey.signal_paths)}, plugged in {len(survey.signal_paths) - len(runs)}",),
    )
