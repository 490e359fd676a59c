"""Optical is one way: an expander's outputs stay dead unless a second fibre runs back."""

from collections.abc import Iterator

from ennead.checks.advice import has_way_back
from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import connect, misfit
from ennead.edits.change import change
from ennead.studio.house import PortEnd, Unit
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every expander that sends to an interface but gets nothing back for its own outputs."""
    for unit_id, feeds, fed in survey.once(_one_way):
        unit, profile = survey.units[unit_id], survey.profiles[unit_id]
        sends = [n for n in survey.links.values() if n.start.unit == unit.id and n.digital and n.lanes_out]
        back = profile.port_by_key[min(feeds)].label
        yield Finding(
            "outputs_have_no_way_back",
            "note",
            subject_of(unit.id),
            (unit.id,),
            f"{unit.name}'s {fed} outputs stay silent: no cable comes back to its {back}.",
            f"A fibre carries sound one way only. {_remedy(survey, unit, sends, feeds)}",
            _run_back(survey, unit, sends, sorted(feeds)),
            (f"out of {unit.name}: {len(sends)} digital cable; into {back}: none",),
            cause=at(*[(unit.id, key) for key in feeds]),
        )


def _remedy(survey: Parts, unit: Unit, sends: list[Link], feeds: frozenset[str]) -> str:
    """Return what to do if these outputs are needed, as far as it can be done."""
    if _run_back(survey, unit, sends, sorted(feeds)):
        return "If you need these outputs, run a second fibre back."
    there = dict.fromkeys(n.end.unit for n in sends)
    if any(has_way_back(survey, u, unit.id, key) for u in there for key in feeds):
        return "If you need these outputs, free a digital output for a cable back, or set both ends alike."
    names = " and ".join(survey.units[u].name for u in there)
    return (
        f"{names} has no digital output for a cable back: if you need these outputs, they have to come from another"
        " box."
    )


def _one_way(survey: Parts) -> list[tuple[UnitId, frozenset[str], int]]:
    """Return the units that send digitally, have outputs of their own fed digitally, and get nothing back for them."""
    arriving, leaving, profiles = survey.taken, survey.leaving_by_unit, survey.profiles
    found = []
    for unit, feeds, fed in survey.once(_fed):
        if unit in survey.numbering.computer_of:
            # The computer plays into it over its own cable.
            continue
        if not feeds.isdisjoint(arriving.get(unit, ())):
            continue
        ports, links = profiles[unit].ports, leaving.get(unit, {})
        if any(n.digital and n.lanes_out for p in ports if p.direction == "out" for n in links.get(p.key, ())):
            found.append((unit, feeds, fed))
    return found


def _fed(survey: Parts) -> list[tuple[UnitId, frozenset[str], int]]:
    """Return the units with outputs of their own that digital inputs feed."""
    fed_by = {key: profile.fed_digitally for key, profile in {id(p): p for p in survey.profiles.values()}.items()}
    return [(unit, *fed_by[id(profile)]) for unit, profile in survey.profiles.items() if fed_by[id(profile)][0]]


def _run_back(survey: Parts, unit: Unit, sends: list[Link], feeds: list[str]) -> tuple[Fix, ...]:
    """Return the fix that cables a free output of a unit it sends to back into the first socket that fits."""
    used = {n.start for n in survey.links.values()}
    for there in dict.fromkeys(n.end.unit for n in sends):
        for port in survey.profiles[there].ports:
            start = PortEnd(there, port.key)
            if port.direction != "out" or not port.is_digital or start in used:
                continue
            for key in feeds:
                end = PortEnd(unit.id, key)
                agree = survey.views[there].formats[port.key] == survey.views[unit.id].formats[key]
                if agree and not misfit(port, survey.port(end)):
                    text = f"Run a second fibre back: {survey.end_text(start)} to {survey.end_text(end)}"
                    return (Fix(text, change(text, connect, start, end)),)
    return ()
