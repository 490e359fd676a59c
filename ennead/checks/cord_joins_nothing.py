"""A cord at one end of which nothing is wired."""

from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every cord of the scene on a net without a driver or without a receiver."""
    nets, said = survey.nets, survey.once(_said)
    for cord in survey.cords:
        if len(cord.plugs) != 2:
            continue
        net = nets.get((cord.plugs[0].unit, cord.plugs[0].port, 1))
        if net is not None and net.drivers and net.receivers:
            continue
        lack = "nothing listens to it" if net is not None and net.drivers else "nothing drives it"
        text, fixes = said[cord.id]
        yield Finding(
            "cord_joins_nothing",
            "caution",
            subject_of(cord.id),
            (cord.id, *(p.unit for p in cord.plugs)),
            f"{text} carries nothing: {lack}.",
            "It is one point beside the one that was meant, or what it was for has gone.",
            fixes,
            cause=("unheard" if net is not None and net.drivers else "undriven",),
        )


def _said(survey: Parts) -> dict[str, tuple[str, tuple[Fix, ...]]]:
    """Return each cord in words, and what pulls it: neither is another when a cable is."""
    found: dict[str, tuple[str, tuple[Fix, ...]]] = {}
    for cord in survey.cords:
        said, text = cord_text(survey, cord), f"Pull cord {cord.id}"
        found[cord.id] = said[:1].upper() + said[1:], (Fix(text, change(text, pull_cord, cord.id)),)
    return found
