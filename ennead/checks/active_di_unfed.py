"""An active DI box needs 48 V or a battery."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.checks.stated_sources import stated
from ennead.edits.change import change
from ennead.edits.session import change_source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every active DI box for which no 48 V is asked."""
    for source in stated(survey).active:
        if source.phantom == "needed":
            continue
        text = f"Ask 48 V for {source.name}"
        yield Finding(
            "active_di_unfed",
            "note",
            subject_of(source.id),
            (source.id,),
            f"{source.name} goes through an active DI box, and no 48 V is asked for it.",
            "Unless it has a fresh battery it passes nothing, or a thin and crackling signal.",
            (Fix(text, change(text, change_source, source.id, phantom="needed")),),
            ("an active DI box is fed by phantom (IEC 61938) or a battery of its own",),
        )
