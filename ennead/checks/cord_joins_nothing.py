"""A cord at one end of which nothing is wired."""

from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every cord of the scene whose net nobody drives, or nobody hears."""
    nets = survey.nets
    for cord in survey.cords:
        if len(cord.plugs) != 2:
            continue
        net = nets.get((cord.plugs[0].unit, cord.plugs[0].port, 1))
        if net is not None and net.drivers and net.receivers:
            continue
        lack = "nothing listens to it" if net is not None and net.drivers else "nothing drives it"
        text, cord_said = f"Pull cord {cord.id}", cord_text(survey, cord)
        yield Finding(
            "cord_joins_nothing", "caution", cord.id, (cord.id, *(p.unit for p in cord.plugs)),
            f"{cord_said[:1].upper()}{cord_said[1:]} carries nothing: {lack}.",
            "It is one point beside the one that was meant, or what it was for has gone.",
            (Fix(text, change(text, pull_cord, cord.id)),), cause=("unheard" if net is not None and net.drivers else "undriven",),
        )  # fmt: skip
