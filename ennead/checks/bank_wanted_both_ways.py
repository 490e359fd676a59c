"""Sources behind one 48 V switch must agree about it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.rules.phantom_reaches_source import phantom_wish_at
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts

WantedOfBank = dict[tuple[UnitId, str], tuple[list[SourceId], list[SourceId]]]


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every switch that is off, that one source needs on and another off.

    Where it is on, `phantom_reaches_forbidden` speaks already.
    """
    for (unit, key), (on, off) in survey.once(_torn).items():
        if key in survey.phantom_on[unit]:
            continue
        bank = next(b for b in survey.profiles[unit].banks if b.key == key)
        name = survey.units[unit].name
        need, must_not = (", ".join(survey.source_by_id[s].name for s in those[:3]) for those in (on, off))
        yield Finding(
            "bank_wanted_both_ways",
            "trouble",
            subject_of(off[0]),
            (*on, *off, unit),
            f"{name}'s {bank.label} is off; it would have to be on for {need} and stay off for {must_not}.",
            "One of them is silent, or the other in danger: the switch serves all its sockets.",
            tuple(
                Fix(f"Find another place for {survey.source_by_id[s].name}", Request("place", s))
                for s in (off[0], on[0])
            ),
            (f"{bank.label} serves {len(bank.ports)} sockets; {len(on)} need 48 V there, {len(off)} must not have it",),
            cause=at((unit, key)),
        )


def _torn(survey: Parts) -> WantedOfBank:
    sources, profiles = survey.source_by_id, survey.profiles
    off: dict[tuple[UnitId, str], list[SourceId]] = {}
    # Few must not have 48 V; only the switches they sit behind are looked at.
    for (source_id, _), cable in survey.leads.items():
        source = sources[source_id]
        if source.phantom == "forbidden" and phantom_wish_at(source, survey.port(cable.end)) < 0:
            for powered in survey.powered_sockets(cable.end):
                bank = profiles[powered.unit].bank_of_port.get(powered.port)
                if bank is not None:
                    off.setdefault((powered.unit, bank.key), []).append(source_id)
    if not off:
        return {}
    on: dict[tuple[UnitId, str], list[SourceId]] = {}
    for (source_id, _), cable in survey.leads.items():
        if phantom_wish_at(sources[source_id], survey.port(cable.end)) > 0:
            # Any one of several preamps on its line may feed it; the first is asked to.
            powered = survey.powered_sockets(cable.end)[0]
            bank = profiles[powered.unit].bank_of_port.get(powered.port)
            if bank is not None and (powered.unit, bank.key) in off:
                on.setdefault((powered.unit, bank.key), []).append(source_id)
    return {key: (list(dict.fromkeys(on[key])), list(dict.fromkeys(those))) for key, those in off.items() if key in on}
