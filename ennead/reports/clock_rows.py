"""How each unit stands to the clock, in words: what its menu is set to, over what it follows, and why it is not locked."""

from typing import NamedTuple

from ennead.standards.clock import UNSTATED_PPM
from ennead.standards.links import LINKS, carried_text
from ennead.studio.ids import CableId, UnitId
from ennead.survey.clock import Domain, UnitClock
from ennead.survey.survey import Survey
from ennead.survey.words import samples_text


class ClockRow(NamedTuple):
    """One unit of a cascade.

    Parameters
    ----------
    depth : int
        Steps to the right: its hops, or those of the unit it is set to follow.
    parent : UnitId or None
        The unit above it.
    word : str
        Its state in a word: leads, locked, no clock, adrift, in a ring.
    menu : str
        What its clock menu is set to.
    medium, reason : str
        Over what it follows; why it is not locked.
    """

    unit: UnitId
    name: str
    depth: int
    parent: UnitId | None
    cable: CableId | None
    locked: bool
    word: str
    menu: str
    medium: str
    reason: str


_WORDS = {"leads": "leads", "locked": "locked", "silent": "no clock", "adrift": "adrift", "ring": "in a ring"}


def clock_rows(survey: Survey, domain: Domain) -> list[ClockRow]:
    """Return the units of a domain as a cascade: leaders first, each before its followers."""
    clocks = survey.clocks.by_unit
    followers: dict[UnitId | None, list[UnitId]] = {}
    for unit in domain.units:
        above = clocks[unit].from_unit if clocks[unit].state != "ring" else None
        followers.setdefault(above if above in domain.units else None, []).append(unit)
    rows: list[ClockRow] = []

    def add(unit: UnitId, depth: int, parent: UnitId | None) -> None:
        rows.append(_row(survey, clocks[unit], depth, parent))
        for below in followers.get(unit, ()):
            add(below, depth + 1, unit)

    tops = followers.get(None, [])
    for unit in sorted(tops, key=lambda u: (clocks[u].state != "leads", domain.units.index(u))):
        add(unit, 0, None)
    return rows


def _row(survey: Survey, clock: UnitClock, depth: int, parent: UnitId | None) -> ClockRow:
    studio = survey.studio
    profile = survey.profiles[clock.unit]
    entry = profile.clock_source(clock.source)
    menu = entry.label if entry is not None else clock.source
    medium = reason = ""
    if clock.state == "leads":
        ppm = UNSTATED_PPM if profile.ppm is None else profile.ppm
        medium = f"own crystal, ±{ppm:g} ppm" + (" (house default)" if profile.ppm is None else "")
    elif clock.via is not None and clock.from_unit is not None:
        link = survey.links[clock.via]
        medium = f"{LINKS[link.sends].label} from {studio.units[clock.from_unit].name} over {clock.via}"
        if clock.hops > 0:
            medium += f", hop {clock.hops}"
    if clock.state == "silent" and entry is not None and entry.port is not None:
        label = profile.port_by_key[entry.port].label
        held = next((n for n in survey.links.values() if n.end.unit == clock.unit and n.end.port == entry.port), None)
        reason = (
            f"no cable arrives at {label}"
            if held is None
            else f"it does not lock at {samples_text(survey)}"
            if held.agrees and held.digital
            else f"{carried_text(held.sends)} arrives at {label}, set to {carried_text(held.takes)}"
        )
    elif clock.state == "adrift":
        reason = "whom it follows is not locked itself"
    elif clock.state == "ring":
        reason = "whom it follows follows it in the end"
    name = studio.units[clock.unit].name
    locked = clock.state in ("leads", "locked")
    return ClockRow(clock.unit, name, depth, parent, clock.via, locked, _WORDS[clock.state], menu, medium, reason)
