"""What an edit does to the tracks, before it is done: which are lost, which change their number."""

from collections.abc import Mapping
from dataclasses import dataclass

from ennead.studio.ids import SourceId
from ennead.survey.runs import Run
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class Renumbered:
    """One track whose driver input changes."""

    track: str
    source: SourceId
    before: int
    after: int


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """The difference an edit makes.

    Parameters
    ----------
    lost : tuple of Run
        Input runs that arrived before and do not arrive afterwards, as they stand afterwards.
    found : tuple of Run
        Those that did not arrive before and do afterwards.
    renumbered : tuple of Renumbered
        In the order of their present numbers.
    inputs, outputs : pair of int
        Driver channels that carry something before and after.
    """

    before: Survey
    after: Survey
    lost: tuple[Run, ...]
    found: tuple[Run, ...]
    renumbered: tuple[Renumbered, ...]
    inputs: tuple[int, int]
    outputs: tuple[int, int]


def rehearse(before: Survey, after: Survey) -> Rehearsal:
    """Return what changes for the tracks between two surveys of one house."""
    old, new = _by_channel(before), _by_channel(after)
    both = [(old[key], new[key]) for key in old if key in new]
    lost = tuple(now for was, now in both if was.driver is not None and now.driver is None)
    found = tuple(now for was, now in both if was.driver is None and now.driver is not None)
    moved = [
        Renumbered(now.track, was.of.id, was.driver.number, now.driver.number)
        for was, now in both
        if was.of is not None and was.driver is not None and now.driver is not None and was.driver.number != now.driver.number
    ]
    moved.sort(key=lambda m: m.before)
    return Rehearsal(before, after, lost, found, tuple(moved), *_live(before, after))


def _by_channel(survey: Survey) -> Mapping[tuple[SourceId, int], Run]:
    return {(run.of.id, run.channel): run for run in survey.runs if run.of is not None}


def _live(before: Survey, after: Survey) -> tuple[tuple[int, int], tuple[int, int]]:
    def count(survey: Survey) -> tuple[int, int]:
        numbering = survey.numbering
        return sum(d.channel.live for d in numbering.inputs), sum(d.channel.live for d in numbering.outputs)

    (ins, outs), (ins_after, outs_after) = count(before), count(after)
    return (ins, ins_after), (outs, outs_after)
