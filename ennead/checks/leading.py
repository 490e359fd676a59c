"""What clock rules share: the one-press change that sets every unit of a domain to a leader."""

from ennead.checks.finding import Fix
from ennead.edits.change import Change, step
from ennead.edits.settings import set_clock_source
from ennead.standards.clock import UNSTATED_PPM, slip_s
from ennead.standards.rates import rate_text
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
