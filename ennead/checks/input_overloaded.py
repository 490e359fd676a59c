"""The loudest a source gives must not clip its input."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.checks.stated_sources import plugged_levels
from ennead.edits.change import change
from ennead.edits.settings import set_pad
from ennead.studio.subjects import subject_of
from ennead.survey.levels import into_socket, peak_working
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble where a stated peak is above what the input takes, its pad as it stands."""
    for source, cable, port, unit in plugged_levels(survey):
        into = into_socket(source, port, survey.settings[unit.id])
        if into is None or into.peak_dbu <= into.limit_dbu:
            continue
        over = into.peak_dbu - into.limit_dbu
        helps = into.pad_db is not None and not into.padded
        text = f"Switch the pad of {survey.end_text(cable.end)} on"
        remedy = "Switch its pad on." if helps else "Put a pad into the line, or turn the source down."
        yield Finding(
            "input_overloaded",
            "trouble",
            subject_of(source.id),
            (source.id, unit.id),
            f"{source.name} can clip {survey.end_text(cable.end)} by {over:.1f} dB.",
            f"At its loudest it is flattened before any fader, with the gain all the way down. {remedy}",
            (Fix(text, change(text, set_pad, unit.id, port.key, on=True)),) if helps else (),
            peak_working(source, into),
            cause=at(cable.end),
        )
