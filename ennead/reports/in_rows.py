"""Sources with the way of each: driver numbers, where it breaks, whether it is built, its 48 V, and how late it comes."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass

from ennead.reports.cable_schedule import run_is_built
from ennead.rules.phantom_reaches_source import is_live, touches_phantom
from ennead.studio.house import PortEnd
from ennead.studio.ids import SourceId
from ennead.studio.session import Source
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey
from ennead.survey.words import gap_text


@dataclass(frozen=True, slots=True)
class InWay:
    """One source's way, whichever screen, list or sheet of paper it stands on.

    Parameters
    ----------
    numbers : tuple of int
        Its driver inputs.
    broken, placed, built : bool
        Whether a channel of it ends early; whether it is plugged in at all; whether all its cables are ticked.
    gap : str
        Where and why it breaks, in words; empty for one that is plugged in nowhere.
    phantom : str
        ``on`` where 48 V reaches it, ``bad`` where it must not.
    """

    numbers: tuple[int, ...]
    broken: bool
    placed: bool
    built: bool
    gap: str
    phantom: str


def in_way(survey: Survey, source: Source, runs: Collection[SignalPath]) -> InWay:
    """Return the way of a source, from its runs."""
    broken = next((r for r in runs if r.gap), None)
    placed = any(r.into for r in runs)
    cables = [survey.in_use[s.cable] for r in runs for s in r.stops if s.cable and s.cable in survey.in_use]
    return InWay(
        tuple([r.driver.number for r in runs if r.driver]),
        broken is not None,
        placed,
        run_is_built(survey.studio, cables),
        "" if broken is None or not placed else gap_text(survey, broken),
        _phantom(survey, source, runs),
    )


def _phantom(survey: Survey, source: Source, runs: Iterable[SignalPath]) -> str:
    for run in runs:
        stop = run.into
        if stop is None or stop.unit is None:
            continue
        port = survey.views[stop.unit].profile.port_by_key[stop.port]
        powered = survey.powered_sockets(PortEnd(stop.unit, stop.port))
        if touches_phantom(source, port) and any(
            is_live(p.port, survey.profiles[p.unit], survey.phantom_on[p.unit]) for p in powered
        ):
            return "bad" if source.phantom == "forbidden" else "on"
    return ""


def late_by(sources: Iterable[Source], runs: Mapping[SourceId, list[SignalPath]]) -> dict[SourceId, str]:
    """Return by how many samples sources come late: after the first of a coherent group, or one side of a pair after the other."""
    first: dict[str, float] = {}
    found: dict[SourceId, str] = {}
    coherent = [s for s in sources if s.coherent and s.group]
    for source in coherent:
        for run in runs[source.id]:
            if run.latency_samples is not None:
                first[source.group] = min(first.get(source.group, run.latency_samples), run.latency_samples)
    for source in sources:
        delays = [r.latency_samples for r in runs[source.id] if r.latency_samples is not None]
        if not delays:
            continue
        start = first[source.group] if source.coherent and source.group else min(delays)
        if max(delays) - start >= 1.0:
            found[source.id] = f"+{max(delays) - start:g}"
    return found


def number_text(numbers: Collection[int]) -> str:
    """Return driver numbers as the box shows them: ``3``, ``15–16``, ``4 + 9``."""
    ordered = list(numbers)
    if len(ordered) == 2 and ordered[1] == ordered[0] + 1:
        return f"{ordered[0]}–{ordered[1]}"
    return " + ".join(map(str, ordered))
