"""Both ends of a digital cable must be set to the same format."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.checks.link_kinds import link_kinds
from ennead.edits.change import change
from ennead.edits.settings import set_mode
from ennead.standards.links import LINKS
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every digital cable with ends that send and take different formats."""
    for link in link_kinds(survey).disagreeing:
        # What locks all the same is a rule of its own.
        if link.clock is not None:
            continue
        start, end = survey.units[link.start.unit].name, survey.units[link.end.unit].name
        sends, takes = LINKS[link.sends].label, LINKS[link.takes].label
        here = ("format", link.end.unit, link.end.port)
        silent = tuple(
            r.source
            for r in survey.broken_paths
            if (gap := r.way.gap) and (gap.cause, gap.unit, gap.port) == here and r.source
        )
        yield Finding(
            "formats_disagree",
            "trouble",
            subject_of(link.cable),
            (link.cable, link.end.unit, link.start.unit, *dict.fromkeys(silent)),
            f"{end}'s {survey.port(link.end).label} is set to {takes}, but {start} sends {sends} ({link.cable}).",
            "The receiver finds no signal it knows: every channel on this cable stays silent, and no clock arrives.",
            agreeing_fixes(survey, link),
            (
                f"{survey.end_text(link.start)} sends {sends}",
                f"{survey.end_text(link.end)} takes {takes}",
                f"session channels lost: {len(silent)}",
            ),
            cause=(link.sends, link.takes),
        )


def agreeing_fixes(survey: Parts, link: Link) -> tuple[Fix, ...]:
    """Return the ways to make both ends of a link speak the same format: the receiver's mode, the sender's mode."""
    return (*_set(survey, link.end, link.sends), *_set(survey, link.start, link.takes))


def _set(survey: Parts, end: PortEnd, wanted: str) -> tuple[Fix, ...]:
    """Return the fix that sets the mode of one end, where it has one that offers the format."""
    port, profile = survey.port(end), survey.profiles[end.unit]
    mode = profile.mode(port.format_mode) if port.format_mode else None
    if mode is None or wanted not in {c.key for c in mode.choices}:
        return ()
    text = f"Set {survey.units[end.unit].name}'s {mode.label} to {mode.label_of(wanted)}"
    return (Fix(text, change(text, set_mode, end.unit, mode.key, wanted)),)
