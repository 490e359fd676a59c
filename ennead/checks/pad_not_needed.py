"""A pad that is on although the source is quiet costs noise."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.checks.stated_sources import plugged_levels
from ennead.edits.change import change
from ennead.edits.settings import set_pad
from ennead.studio.subjects import subject_of
from ennead.survey.levels import into_socket, peak_working
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note where a source would have headroom with the pad off as well."""
    for source, cable, port, unit in plugged_levels(survey):
        into = into_socket(source, port, survey.settings[unit.id])
        if into is None or not into.padded or into.pad_db is None or into.peak_dbu > into.limit_dbu - 2 * into.pad_db:
            continue
        text = f"Switch the pad of {survey.end_text(cable.end)} off"
        yield Finding(
            "pad_not_needed",
            "note",
            subject_of(source.id),
            (source.id, unit.id),
            f"{source.name} is quiet, and the pad of {survey.end_text(cable.end)} is on.",
            f"Its {into.pad_db:g} dB are made up by gain, and the preamp's noise comes up with it.",
            (Fix(text, change(text, set_pad, unit.id, port.key, on=False)),),
            peak_working(source, into),
            cause=at(cable.end),
        )
