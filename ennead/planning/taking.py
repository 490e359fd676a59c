"""From a proposal to the change that carries it out, whole or in part."""

from collections.abc import Iterable

from ennead.edits.cables import connect, disconnect
from ennead.edits.change import Change, Edit, step
from ennead.edits.destinations import send_out
from ennead.edits.settings import set_phantom
from ennead.planning.allocation import OutPlacement, Placement, Proposal, cables_of
from ennead.planning.options import BankKey, Option, banks_of, phantom_wish
from ennead.studio.house import Cable, SourceEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey


def take(survey: Survey, proposal: Proposal, only: Iterable[SourceId | DestinationId] | None = None) -> Change:
    """Return the change that carries out a proposal, or the part of it for some sources and destinations.

    Old cables are pulled first, then new ones plugged; 48 V follows what now sits in each bank. Whoever sits where
    one of them is to sit moves as well, or is unplugged where the proposal has no place for it.
    """
    studio = survey.studio
    wanted: set[SourceId | DestinationId] = set(proposal.keys if only is None else only)
    wanted, gone, silent = _with_displaced(survey, proposal, wanted)
    chosen = [p for p in proposal.placements if p.source in wanted]
    outs = [p for p in proposal.outs if p.destination in wanted]
    pulls: list[Edit] = [step(disconnect, c.id) for c in gone]
    plugs: list[Edit] = []
    for placement in chosen:
        source = studio.sources[placement.source]
        pulls += [step(disconnect, c.id) for c in cables_of(survey, source)]
        for channel, seat in enumerate(placement.seats, start=1):
            plugs.append(step(connect, SourceEnd(source.id, channel), seat.end))
    pulls += [step(send_out, p.destination, ()) for p in outs if (d := studio.destinations[p.destination]).outputs or d.returns]
    pulls += [step(send_out, key, ()) for key in silent]
    plugs += [step(send_out, p.destination, p.outputs, p.returns) for p in outs]
    return Change(_label(survey, chosen, outs), (*pulls, *plugs, *_switch_phantom(survey, chosen)))


def _with_displaced(
    survey: Survey, proposal: Proposal, wanted: set[SourceId | DestinationId]
) -> tuple[set[SourceId | DestinationId], list[Cable], list[DestinationId]]:
    """Return all who move when some do, the cables that have to be pulled for good, and who has to leave its outputs for good."""
    studio = survey.studio
    sits = {cable.end: cable for _, cable in survey.plugged}
    # A tap shares what it hears; nobody has to leave for it, nor it for anybody.
    going = {end: d.id for d in studio.session_destinations if not d.tap for end in (*d.outputs, *d.returns)}
    proposed = proposal.keys
    while True:
        needed = [e for p in proposal.placements if p.source in wanted for e in (s.end for s in p.seats)]
        needed += [e for p in proposal.outs if p.destination in wanted for e in (*p.outputs, *p.returns)]
        there = {going[e] for e in needed if e in going}
        others = {SourceId(getattr(sits[e].start, "source", "")) for e in needed if e in sits} | there
        more = (others & proposed) - wanted
        if not more:
            break
        wanted = wanted | more
    gone = {sits[e].id: sits[e] for e in needed if e in sits and getattr(sits[e].start, "source", "") not in wanted}
    return wanted, list(gone.values()), sorted(there - wanted)


def _label(survey: Survey, chosen: list[Placement], outs: list[OutPlacement]) -> str:
    studio = survey.studio
    names = [*(studio.sources[p.source].name for p in chosen), *(studio.destinations[p.destination].name for p in outs)]
    if len(names) == 1:
        return f"Place {names[0]}"
    what = "lines" if chosen and outs else "sources" if chosen else "destinations"
    return f"Place {len(names)} {what}"


def _switch_phantom(survey: Survey, chosen: list[Placement]) -> list[Edit]:
    """Return the edits that switch each touched bank as the sources now in it need."""
    studio = survey.studio
    moved = {p.source for p in chosen}
    sits: dict[SourceId, Option] = {p.source: p.seats for p in chosen}
    by_end = {s.end: s for s in survey.seats}
    for source in studio.session_sources:
        if source.id not in moved:
            sits[source.id] = tuple(by_end[c.end] for c in cables_of(survey, source) if c.end in by_end)
    wishes: dict[BankKey, set[int]] = {}
    for source_id, option in sits.items():
        for key in banks_of(option):
            wishes.setdefault(key, set()).add(phantom_wish(studio.sources[source_id], option))
    touched = {key for p in chosen for key in banks_of(p.seats)}
    edits = []
    for unit, bank in sorted(touched):
        on = bank in studio.units[unit].settings.phantom
        if 1 in wishes[unit, bank] and -1 not in wishes[unit, bank] and not on:
            edits.append(step(set_phantom, unit, bank, on=True))
        elif -1 in wishes[unit, bank] and 1 not in wishes[unit, bank] and on:
            edits.append(step(set_phantom, unit, bank, on=False))
    return edits
