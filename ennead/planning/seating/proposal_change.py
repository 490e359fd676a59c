"""From a proposal to the change that carries it out, whole or in part."""

from collections.abc import Iterable, Sequence

from ennead.edits.cables import connect, disconnect
from ennead.edits.change import Change, Edit, step
from ennead.edits.destinations import send_out
from ennead.edits.settings import set_output, set_phantom
from ennead.planning.seating.allocation import OutPlacement, Placement, Proposal, cables_of, leads_of
from ennead.planning.seating.corded import cord_steps, laid
from ennead.planning.seating.switching import BankKey, BankSwitch, banks_behind, switch_over, wishes
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import CableId, DestinationId, SourceId, number_of
from ennead.studio.switches import offers
from ennead.survey.survey import Survey

Keys = set[SourceId | DestinationId]
Sits = dict[SourceId, tuple[PortEnd, ...]]


def take(survey: Survey, proposal: Proposal, only: Iterable[SourceId | DestinationId] | None = None) -> Change:
    """Return the change that carries out a proposal, or the part of it for some sources and destinations.

    Old cables are pulled first, then new ones plugged; 48 V follows what now sits behind each switch. A source that sits
    where one of them is to sit, or behind the same switch and wants it otherwise, moves as well, or is unplugged where
    the proposal has no place for it.
    """
    bare = survey.studio
    # What is plugged behind a cord is judged with the cord laid.
    survey = laid(survey, [c for cords in proposal.cords.values() for c in cords])
    studio = survey.studio
    wanted, ousted, silent = _with_displaced(survey, proposal, set(proposal.keys if only is None else only))
    patches = cord_steps(bare, [c for key, cords in proposal.cords.items() if key in wanted for c in cords])
    gone = list(dict.fromkeys([*ousted, *(proposal.unplugged if only is None else ())]))
    chosen = [p for p in proposal.placements if p.source in wanted]
    outs = [p for p in proposal.outs if p.destination in wanted]
    pulls = [step(disconnect, key) for key in _cables(survey, gone)]
    plugs: list[Edit] = []
    for placement in chosen:
        source = studio.source(placement.source)
        if [point.end for point in placement.points] == [c.end for c in cables_of(survey, source)]:
            continue
        pulls += [step(disconnect, c.id) for c in leads_of(survey, source)]
        for channel, point in enumerate(placement.points, start=1):
            plugs.append(step(connect, SourceEnd(source.id, channel), point.end))
    pulls += [
        step(send_out, p.destination, ()) for p in outs if (d := survey.placed(p.destination)).outputs or d.returns
    ]
    pulls += [step(send_out, key, ()) for key in silent]
    plugs += [step(send_out, p.destination, p.outputs, p.returns) for p in outs]
    plugs += fixed_sends(survey, [e for p in outs if survey.placed(p.destination).kind == "loop" for e in p.outputs])
    switches = proposal.switches if only is None else _switches(survey, chosen, gone)
    set_anew = [step(set_phantom, s.unit, s.bank, on=s.on) for s in switches]
    return Change(_label(survey, chosen, outs, gone), (*patches, *pulls, *plugs, *set_anew))


def fixed_sends(survey: Survey, ends: Iterable[PortEnd]) -> list[Edit]:
    """Return what sets the sends of loops to full level, so that no monitor knob turns them; one that is switched off is left so."""
    return [
        step(set_output, end.unit, end.port, "fixed")
        for end in dict.fromkeys(ends)
        if not survey.settings[end.unit].outputs.get(end.port)
        and offers(survey.profiles[end.unit], "output", end.port, "fixed")
    ]


def _cables(survey: Survey, sources: Iterable[SourceId]) -> list[CableId]:
    """Return the cables of some sources in the order of their numbers."""
    found = [c.id for key in sources for c in leads_of(survey, survey.studio.source(key))]
    return sorted(found, key=number_of)


def _with_displaced(
    survey: Survey, proposal: Proposal, wanted: Keys
) -> tuple[Keys, list[SourceId], list[DestinationId]]:
    """Return the lines that move along with some, the sources to be unplugged for good, and the destinations that lose their outputs."""
    studio = survey.studio
    proposed, left = proposal.keys, {*proposal.unplugged, *proposal.unplaced}
    now: Sits = {s.id: tuple(c.end for c in leads_of(survey, s)) for s in studio.session_sources}
    new: Sits = {p.source: tuple(s.end for s in p.points) for p in proposal.placements}
    sits = {end: key for key, ends in now.items() for end in ends}
    # A tap shares its output: it displaces no line, and none displaces it.
    takes = {end: d.id for d in survey.destinations if not d.tap for end in (*d.outputs, *d.returns)}
    while True:
        needed = [e for key, ends in new.items() if key in wanted for e in ends]
        needed += [e for p in proposal.outs if p.destination in wanted for e in (*p.outputs, *p.returns)]
        there = {takes[e] for e in needed if e in takes}
        others: Keys = {sits[e] for e in needed if e in sits} | there
        others |= _at_odds(survey, {key: ends for key, ends in new.items() if key in wanted}, now, wanted)
        more = (others & proposed) - wanted
        if not more:
            break
        wanted = wanted | more
    in_the_way = [sits[e] for e in needed if e in sits and sits[e] not in wanted]
    contrary = [key for key in now if key in others and key in left]
    return wanted, list(dict.fromkeys([*in_the_way, *contrary])), sorted(there - wanted)


def _at_odds(survey: Survey, moved: Sits, now: Sits, wanted: Keys) -> set[SourceId]:
    """Return the sources kept behind a switch that a newly placed source needs otherwise."""
    source_of = survey.studio.source
    asked: dict[BankKey, set[int]] = {}
    for key, ends in moved.items():
        for bank, wish in wishes(survey, source_of(key), ends):
            asked.setdefault(bank, set()).add(wish)
    return {
        key
        for key, ends in now.items()
        if asked and key not in wanted
        if any(-wish in asked.get(bank, ()) for bank, wish in wishes(survey, source_of(key), ends))
    }


def _switches(survey: Survey, chosen: Sequence[Placement], gone: Iterable[SourceId]) -> list[BankSwitch]:
    """Return the positions of the switches that the moved lines sit behind, before or after, when only a part is taken."""
    studio = survey.studio
    now: Sits = {s.id: tuple(c.end for c in cables_of(survey, s)) for s in studio.session_sources}
    new: Sits = {p.source: tuple(s.end for s in p.points) for p in chosen}
    touched = {bank for ends in new.values() for end in ends for bank in banks_behind(survey, end)}
    sits = {key: ends for key, ends in (now | new).items() if key not in set(gone)}
    return [s for s in switch_over(survey, sits, {}).switches if (s.unit, s.bank) in touched]


def _label(survey: Survey, chosen: Sequence[Placement], outs: Sequence[OutPlacement], gone: Sequence[SourceId]) -> str:
    studio = survey.studio
    names = [*(studio.source(p.source).name for p in chosen), *(studio.destinations[p.destination].name for p in outs)]
    if not names:
        return (
            f"Unplug {studio.source(gone[0]).name}"
            if len(gone) == 1
            else "Unplug sources"
            if gone
            else "Set 48 V switches"
        )
    if len(names) == 1:
        return f"Place {names[0]}"
    what = "lines" if chosen and outs else "sources" if chosen else "destinations"
    return f"Place {len(names)} {what}"
