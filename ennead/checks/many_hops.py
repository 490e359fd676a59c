"""The clock should not pass through too many boxes."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.standards.links import MANY_HOPS
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every domain in which a unit is more than two hops from the leader."""
    units, clocks = survey.units, survey.clocks.by_unit
    for domain in survey.clocks.domains:
        if domain.most_hops <= MANY_HOPS:
            continue
        far = [u for u in domain.units if clocks[u].hops > MANY_HOPS]
        farthest = max(far, key=lambda u: clocks[u].hops)
        way: list[UnitId] = [farthest]
        while (before := clocks[way[-1]].from_unit) is not None and way[-1] != clocks[farthest].leader:
            way.append(before)
        others = f", and {len(far) - 1} more are beyond {MANY_HOPS}" if len(far) > 1 else ""
        yield Finding(
            "many_hops",
            "note",
            subject_of(farthest),
            tuple(far),
            f"{units[farthest].name} is {clocks[farthest].hops} hops from {units[way[-1]].name}, which leads{others}.",
            "Every box passes the clock on with a little jitter of its own, and each is one more that can fail. "
            "A star from the leader is calmer.",
            (),
            (
                " → ".join(units[u].name for u in reversed(way)),
                f"{clocks[farthest].hops} cables; a note above {MANY_HOPS} (house default)",
            ),
        )
