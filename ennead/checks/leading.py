"""What clock rules share: the one-press change that sets every unit of a domain to a leader."""

from ennead.checks.finding import Fix
from ennead.edits.cables import connect
from ennead.edits.change import Change, step
from ennead.edits.settings import set_clock_source
from ennead.standards.clock import UNSTATED_PPM, slip_s
from ennead.standards.links import LINKS, WORD, adapters_between, formats_join
from ennead.standards.rates import rate_text
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.clock import Domain
from ennead.survey.survey_interface import Parts


def lead_change(survey: Parts, domain: Domain, leader: UnitId) -> Change:
    """Return the change that lets a unit lead its domain and sets all others to follow."""
    settings = domain.possible[leader]
    steps = tuple(
        step(set_clock_source, unit, source)
        for unit, source in settings.items()
        if survey.settings[unit].clock_source != source
    )
    return Change(f"Let {survey.units[leader].name} lead the clock", steps)


def lead_fixes(survey: Parts, domain: Domain) -> tuple[Fix, ...]:
    """Return one fix for every unit that could lead over the cables that are there."""
    fixes = []
    for leader in domain.possible:
        change = lead_change(survey, domain, leader)
        if not change.steps:
            continue
        followers = [survey.units[u].name for u in domain.units if u != leader]
        follow = f"; {_joined(followers)} {'follows' if len(followers) == 1 else 'follow'}" if followers else ""
        fixes.append(Fix(f"Let {survey.units[leader].name} lead{follow}", change))
    return tuple(fixes)


def is_idle(survey: Parts, domain: Domain) -> bool:
    """Say whether a domain is of clock boxes alone: nothing follows them that could suffer."""
    return all(survey.profiles[u].role == "clock" for u in domain.units)


def cable_back_fixes(survey: Parts, domain: Domain, leader: UnitId) -> tuple[Fix, ...]:
    """Return the fix that runs a cable from a unit to one that leads now by need, so that the unit can lead instead.

    With one fibre clock runs one way; a second one brings it back.
    """
    own = next((c.key for c in survey.profiles[leader].clock_sources if c.port is None), None)
    must = next(iter(domain.possible), None)
    if own is None or must is None or leader in domain.possible or not survey.views[leader].runs:
        return ()
    now = survey.settings[must].clock_source
    entries = sorted(survey.profiles[must].clock_sources, key=lambda c: c.key != now)
    for entry in entries:
        if entry.port is None or entry.port in survey.held_inputs.get(must, ()):
            continue
        end = PortEnd(must, entry.port)
        for port in survey.profiles[leader].ports:
            start = PortEnd(leader, port.key)
            if port.direction != "out" or not port.is_digital or port.key in survey.passages[leader].leaving:
                continue
            if not _would_lock(survey, start, end):
                continue
            settings = {**domain.possible[must], leader: own, must: entry.key}
            kind = LINKS[survey.views[leader].formats[port.key]].label
            ends = f"{survey.end_text(start)} to {survey.end_text(end)}"
            text = f"Run a cable back ({kind}), {ends}, and let {survey.units[leader].name} lead"
            steps = [step(connect, start, end)]
            steps += [step(set_clock_source, u, s) for u, s in settings.items() if survey.settings[u].clock_source != s]
            return (Fix(text, Change(text, tuple(steps))),)
    return ()


def _would_lock(survey: Parts, start: PortEnd, end: PortEnd) -> bool:
    """Say whether a free output carries what a free input takes, over a plain cable."""
    out, into = survey.views[start.unit], survey.views[end.unit]
    sends, takes = out.formats[start.port], into.formats[end.port]
    plugs = (survey.port(start).connector, sends), (survey.port(end).connector, takes)
    carries = out.lanes[start.port] or sends in WORD
    return bool(carries) and formats_join(sends, takes) and adapters_between(*plugs) == ()


def lead_working(survey: Parts, domain: Domain) -> tuple[str, ...]:
    """Return which unit's clock reaches which others over the cables that are there."""
    lines = []
    for link in survey.links.values():
        if link.digital and link.agrees and link.end.unit in domain.units and link.start.unit in domain.units:
            start, end = survey.units[link.start.unit].name, survey.units[link.end.unit].name
            lines.append(f"{link.cable} carries clock {start} → {end}, one way ({link.label})")
    for unit in domain.units:
        able = unit in domain.possible
        lines.append(f"{survey.units[unit].name}'s clock {'reaches' if able else 'cannot reach'} all the others")
    return tuple(lines)


def slip_working(survey: Parts, one: UnitId, other: UnitId) -> tuple[str, ...]:
    """Return the drift arithmetic of two free-running units.

    References
    ----------
    AES11 grades, IEC 60958 levels for stated tolerances; the house default for unstated crystals.
    """
    ppm = []
    lines = []
    for unit in (one, other):
        stated = survey.profiles[unit].ppm
        ppm.append(UNSTATED_PPM if stated is None else stated)
        kind = "house default, not stated" if stated is None else "stated"
        lines.append(f"{survey.units[unit].name} ±{ppm[-1]:g} ppm ({kind})")
    if sum(ppm) > 0:
        slip = slip_s(survey.rate_hz, sum(ppm))
        rate = rate_text(survey.rate_hz)
        lines.append(f"1 / ({rate} × {sum(ppm):g} ppm) = {slip:.3g} s between slips at worst")
    return tuple(lines)


def _joined(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]
