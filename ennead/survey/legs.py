"""Legs: where else a signal goes that is split; every leg is a run of its own beside the one its line is known by."""

from ennead.survey.asked import Parts
from ennead.survey.runs import Run
from ennead.survey.ways import OnwardWalk, OutwardWalk


def legs(survey: Parts, run: Run) -> tuple[Run, ...]:
    """Return the other runs of a signal that arrive: at a driver input, at a loudspeaker or an ear; in the order of paths and cables.

    A second way to the same place is none.
    """
    into = run.into
    if into is None or into.unit is None or run.gap is not None:
        return ()
    ask = survey.passages.__getitem__
    walk = OutwardWalk(ask) if run.out else OnwardWalk(ask)
    ends: list[object] = [run.way.stops[-1:] if run.out else run.way.lands]
    found = []
    for way in walk.every(into.unit, into.port, into.lane, set()):
        end = way.stops[-1:] if run.out else way.lands
        if end not in ends:
            ends.append(end)
            driver = run.driver if way.lands is None else survey.numbering.input_at(way.lands)
            found.append(run._replace(into=into._replace(zone=way.zone), way=way, driver=driver))
    return tuple(found)
