"""A loop goes out and comes back on one clock; where it does not, the clock itself is in trouble already."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop whose converters out and back are not in step."""
    by_unit = survey.clocks.by_unit
    for circuit in survey.once(circuits):
        for channel in circuit.channels if circuit.closed else ():
            converters = [p.unit for p in channel.passed if p.what in ("D/A", "A/D") and p.unit in by_unit]
            apart = [u for u in converters if not _in_step(survey, converters[0], u)]
            if not apart:
                continue
            one, other = (survey.units[u].name for u in (converters[0], apart[0]))
            loop = circuit.loop
            yield Finding(
                "loop_on_two_clocks",
                "caution",
                subject_of(loop.id),
                (loop.id, converters[0], apart[0]),
                f"{loop.name} goes out over {one} and comes back over {other}, and they run on two clocks.",
                "Its delay drifts while it plays: a comb that moves, and a click now and then."
                " Join the clocks, or bring"
                " it back where it goes out.",
                (Fix(f"Bring {other} onto one clock", Request("clock", apart[0])),),
                cause=at(*loop.outputs, *loop.returns),
            )
            break


def _in_step(survey: Parts, one: UnitId, other: UnitId) -> bool:
    """Say whether two units run on one clock: the same box, or both locked to one leader."""
    clocks = survey.clocks.by_unit
    return one == other or (clocks[one].leader is not None and clocks[one].leader == clocks[other].leader)
