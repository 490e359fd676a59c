"""Signal paths that are split, with everywhere they go; most are not, and are not looked at."""

from collections.abc import Collection, Mapping
from typing import NamedTuple

from ennead.standards.links import WORD
from ennead.studio.ids import UnitId
from ennead.survey.parts import each, part
from ennead.survey.passages import Passages
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey_interface import Parts
from ennead.survey.traces import Trace, trace


class SplitPath(NamedTuple):
    """A run, and where else its signal goes."""

    run: SignalPath
    trace: Trace


def split_paths(survey: Parts) -> tuple[SplitPath, ...]:
    """Return the runs, in and out, that have more than one wired way to go."""
    forks = frozenset(survey.forks)
    several = survey.further_leads
    if not forks and not several:
        return ()
    apart = forks.isdisjoint
    # All lines of a house are asked the one thing that nearly all answer with no.
    ins = [
        run
        for run in survey.signal_paths
        if not apart(run.way.passes) or (several and (run.source, run.channel) in several)
    ]
    ins = [
        run
        for run in ins
        if run.gap is None and ((run.source, run.channel) in several or not apart(run.way.passes[:-1]))
    ]
    outs = [run for run in survey.output_paths if not apart(run.way.passes) and run.gap is None]
    return tuple([SplitPath(run, trace(survey, run)) for run in (*ins, *outs)])


@each("branching", of={"here": "passages", "held": "held_inputs"})
def branching(here: Passages, held: Collection[str] | None) -> bool:
    """Say whether a signal may have more than one way on from a unit."""
    return _branches(here, held or ())


@part
def forks(branching: Mapping[UnitId, bool]) -> tuple[UnitId, ...]:
    """Return the units by which a signal may have more than one way on."""
    return tuple([unit for unit, several in branching.items() if several])


def _branches(here: Passages, held: Collection[str]) -> bool:
    leaving, strands = here.leaving, here.strands
    for links in leaving.values():
        if len(links) > 1 and links[0].sends not in WORD:
            return True
    if here.points or strands:
        # Copper goes on by every arm but the one it came by.
        beside = here.beside
        for port in (*strands, *leaving):
            if len(leaving.get(port, ())) + len(strands.get(port, ())) + len(beside.get(port, ())) + (port in held) > 2:
                return True
    if not here.view.forks or not leaving:
        return False
    return any(
        sum(out in leaving for out, _ in outs) > 1
        for (port, _), outs in here.view.inside.items()
        if port in here.view.forks
    )
