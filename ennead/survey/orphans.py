"""Orphans: lines of a session that would arrive if a plug in a front did not break a normal on their way."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import pairwise
from typing import NamedTuple

from ennead.studio.bays import Cord, Normal
from ennead.studio.ids import UnitId
from ennead.survey.normals import normals
from ennead.survey.passages import Ask, Passages
from ennead.survey.paths_onward import remembered
from ennead.survey.paths_out import is_terminal
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey_interface import Parts
from ennead.survey.walk import Hop, Lane, first_path, is_record


class Orphan(NamedTuple):
    """What a line lacks.

    Parameters
    ----------
    unit : UnitId
        The bay.
    normal : Normal
        The normal on its way that is broken.
    cords : tuple of Cord
        Those with a plug that breaks it: each that is enough to pull alone comes before the others.
    """

    unit: UnitId
    normal: Normal
    cords: tuple[Cord, ...]


def orphans(survey: Parts) -> tuple[tuple[SignalPath, Orphan], ...]:
    """Return the lines of the session that would arrive if plugs were pulled; a line that arrives by whatever way is none."""
    if not survey.cords or not survey.bays:
        return ()
    # With every normal whole a line goes as far as it ever does: only there is it asked which plugs are too many.
    hopeful, bare = _with(survey, (), whole=True), _with(survey, survey.cords, whole=True)
    found, wanted = [], _wanted(survey)
    outs = [r for r in survey.output_paths if r.way.gap is not None and (wanted or r.to is not None)]
    for run in (*survey.broken_paths, *outs):
        line = _Line(survey, run, wanted)
        for start in _starts(survey, run):
            lacking = line.lacks(start, (hopeful, bare)) if line.arrives(hopeful, start) else None
            if lacking is not None:
                found.append((run, lacking))
                break
    return tuple(found)


class _Line:
    """One line that does not arrive, and what would let it."""

    def __init__(self, survey: Parts, run: SignalPath, wanted: set[tuple[UnitId, str]]) -> None:
        self.survey, self.run, self.wanted = survey, run, wanted
        self.is_end: Callable[[Passages, Lane], bool] = is_terminal if run.out else is_record

    def arrives(self, ask: Ask, start: Lane) -> bool:
        """Say whether it comes to an ear, or to a record channel."""
        path = first_path(ask, start, self.is_end)
        if path.end.cause or not self.run.out or self.run.to is not None:
            return not path.end.cause
        return any(hop.to is not None and hop.to[:2] in self.wanted for hop in path.hops)

    def _breaking(self, start: Lane, hope: Ask) -> list[Cord]:
        """Return the cords that break a normal, those on the way there would be first."""
        on_the_way = [
            c for orphan in _broken(self.survey, first_path(hope, start, self.is_end).hops) for c in orphan.cords
        ]
        return list({c.id: c for c in (*on_the_way, *self._plugged_in_normals())}.values())

    def _plugged_in_normals(self) -> list[Cord]:
        switches = {unit: {key for n in bay.normals for key in n.switches} for unit, bay in self.survey.bays.items()}
        return [c for c in self.survey.cords if any(p.port in switches.get(p.unit, ()) for p in c.plugs)]

    def lacks(self, start: Lane, hopes: tuple[Ask, ...]) -> Orphan | None:
        """Return the normal it lacks: one that whole lets it arrive once one cord is pulled, else once several are; None where neither helps."""
        for cord in self._breaking(start, hopes[0]):
            ask = _with(self.survey, (cord,))
            if self.arrives(ask, start):
                for orphan in _broken(self.survey, first_path(ask, start, self.is_end).hops):
                    return orphan._replace(cords=(cord, *[c for c in orphan.cords if c is not cord]))
        for ask in hopes:
            broken = list(_broken(self.survey, first_path(ask, start, self.is_end).hops))
            every = tuple({c.id: c for orphan in broken for c in orphan.cords}.values())
            if every and self.arrives(_with(self.survey, every), start):
                return broken[0]
        return None


def orphan_of(survey: Parts) -> dict[int, Orphan]:
    """Return what each orphaned line lacks, by the identity of its run."""
    return {id(run): orphan for run, orphan in survey.once(orphans)}


def _starts(survey: Parts, run: SignalPath) -> list[Lane]:
    """Return the sockets a line begins at: an output, or all that the leads of a source are in."""
    if run.into is None or run.into.unit is None:
        return []
    first = run.into.unit, run.into.port, run.into.lane
    here = survey.passages[run.into.unit]
    if run.out and run.into.port not in here.leaving and run.into.port not in here.strands:
        # Nothing is plugged in that output.
        return []
    if run.out or run.source is None:
        return [first]
    at = run.source, run.channel
    leads = [lead for lead in (survey.leads.get(at), *survey.further_leads.get(at, ())) if lead is not None]
    return list(dict.fromkeys([first, *[(c.end.unit, c.end.port, c.lane) for c in leads]]))


def _wanted(survey: Parts) -> set[tuple[UnitId, str]]:
    """Return the sockets at which destinations of the session stand that no output feeds: what leads there is in use, whatever else says so."""
    wanted = {(end.unit, end.port) for d in survey.destinations for end in d.at if not d.outputs}
    return wanted | {
        (lead.end.unit, lead.end.port)
        for leads in survey.destination_leads.values()
        for several in leads.values()
        for lead in several
    }


def _broken(survey: Parts, hops: tuple[Hop, ...]) -> Iterator[Orphan]:
    """Yield the normals on a way that plugs have broken, in the order of the way."""
    held = {(plug.unit, plug.port): cord for cord in survey.cords for plug in cord.plugs}
    for before, hop in pairwise(hops):
        if hop.cable is not None or hop.to is None or before.to is None or hop.to[0] not in survey.bays:
            continue
        unit, ends = hop.to[0], {before.to[1], hop.to[1]}
        for normal in survey.bays[unit].normals:
            cords = [held[unit, key] for key in normal.switches if (unit, key) in held]
            if {normal.start, normal.end} == ends and cords:
                yield Orphan(unit, normal, tuple({c.id: c for c in cords}.values()))


def _with(survey: Parts, pulled: tuple[Cord, ...], *, whole: bool = False) -> Ask:
    """Return the passages of a house in which some cords are pulled; where asked, with all normals whole, whatever is plugged."""
    passages, gone = survey.passages, {str(cord.id) for cord in pulled}
    touched = {plug.unit for cord in pulled for plug in cord.plugs}
    held = {
        (plug.unit, plug.port)
        for cord in survey.cords
        if cord.id not in gone
        for plug in cord.plugs
        if plug.unit in touched
    }

    def ask(unit: UnitId) -> Passages:
        here = passages[unit]
        if unit not in survey.bays or (unit not in touched and not whole):
            return here
        bay = survey.bays[unit]
        here = replace(
            here, beside=bay.beside if whole else normals(bay, [port for there, port in held if there == unit])
        )
        if unit not in touched:
            return here
        return replace(
            here,
            leaving={port: tuple([n for n in links if n.cable not in gone]) for port, links in here.leaving.items()},
            strands={
                port: tuple([s for s in strands if s.cable not in gone]) for port, strands in here.strands.items()
            },
        )

    return remembered(ask)
