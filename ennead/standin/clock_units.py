"""Stand-in units: each looks for its clock, locks or does not, and drifts by its crystal; slips are counted, not computed."""

from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from typing import Final, Literal

from ennead.standards.clock import UNSTATED_PPM
from ennead.standards.links import WORD
from ennead.studio.ids import CableId, UnitId
from ennead.survey.links import Link
from ennead.survey.survey import Survey

#: House defaults, s: after power-on, and how long a steady clock must arrive before a unit trusts it.
POWER_UP_S: Final = 0.2
TRUST_S: Final = 0.3
_STEP_S: Final = 0.02

Lamp = Literal["off", "leads", "searching", "locked", "lost"]


@dataclass(slots=True)
class StandIn:
    """One simulated box.

    Parameters
    ----------
    ppm : float, ppm
        By how much its own crystal is off, with its sign.
    source : pair of (cable, unit) or None
        The cable that its clock source selects, and the unit that feeds it; None for its own crystal.
    phase : float, samples
        Samples it has counted since the start.
    """

    unit: UnitId
    ppm: float
    own: bool
    source: tuple[CableId, UnitId] | None
    lamp: Lamp = "off"
    steady_s: float = 0.0
    phase: float = 0.0

    def hear(self, steady: bool, step_s: float) -> None:
        """Move on by a step, with or without a steady clock at the chosen input."""
        if self.own:
            self.lamp = "leads"
            return
        self.steady_s = self.steady_s + step_s if steady else 0.0
        if self.steady_s >= TRUST_S - 1e-9:
            self.lamp = "locked"
        elif self.lamp == "locked" and not steady:
            self.lamp = "lost"
        elif self.lamp == "off":
            self.lamp = "searching"


@dataclass(frozen=True, slots=True)
class Event:
    """A lamp that changes."""

    at_s: float
    unit: UnitId
    lamp: Lamp


@dataclass(frozen=True, slots=True)
class Slips:
    """Samples lost or doubled on one link.

    Parameters
    ----------
    every_s : float, s
        Time between two of them, as counted.
    """

    link: Link
    count: int
    every_s: float


@dataclass(frozen=True, slots=True)
class Played:
    """What happened in a simulation."""

    events: tuple[Event, ...]
    lamps: dict[UnitId, Lamp]
    slips: tuple[Slips, ...]
    silent: tuple[Link, ...]
    seconds: float


@dataclass
class House:
    """All stand-in units of a studio, driven by its plan."""

    survey: Survey
    units: dict[UnitId, StandIn] = field(default_factory=dict)
    pulled: set[CableId] = field(default_factory=set)
    now_s: float = 0.0

    def __post_init__(self) -> None:
        profiles, settings = self.survey.profiles, self.survey.settings
        arrivals = {link.clock[0]: link for link in self.survey.links.values() if link.clock is not None}
        digital = [u for u, p in profiles.items() if p.is_digital]
        for number, unit in enumerate(digital):
            entry = profiles[unit].clock_source(settings[unit].clock_source)
            own = entry is None or entry.port is None
            link = None if own or entry is None or entry.port is None else arrivals.get((unit, entry.port))
            stated = profiles[unit].ppm
            # The worst case between two neighbours: one fast, one slow, each by all that is stated.
            off = (UNSTATED_PPM if stated is None else stated) * (1 if number % 2 else -1)
            self.units[unit] = StandIn(unit, off, own, (link.cable, link.start.unit) if link is not None else None)

    def rate_of(self, unit: UnitId) -> float:
        """Return at which rate a unit really runs now, Hz: its leader's while it is locked, else its own crystal's."""
        seen: set[UnitId] = set()
        here = self.units[unit]
        while here.lamp == "locked" and here.source is not None and here.unit not in seen:
            seen.add(here.unit)
            here = self.units[here.source[1]]
        switch = self.survey.settings[here.unit].rate_hz
        return (switch or self.survey.rate_hz) * (1 + here.ppm * 1e-6)

    def step(self) -> list[Event]:
        """Let a step of time pass; return the lamps that changed."""
        self.now_s = round(self.now_s + _STEP_S, 6)
        if self.now_s < POWER_UP_S:
            return []
        before = {u: s.lamp for u, s in self.units.items()}
        for stand_in in self.units.values():
            source = stand_in.source
            steady = source is not None and source[0] not in self.pulled and before[source[1]] in ("leads", "locked")
            stand_in.hear(steady, _STEP_S)
        for unit, stand_in in self.units.items():
            stand_in.phase += self.rate_of(unit) * _STEP_S
        return [Event(self.now_s, u, s.lamp) for u, s in self.units.items() if s.lamp != before[u]]


def play(
    survey: Survey, seconds: float = 20.0, pulled: Collection[CableId] = (), stop: Callable[[], bool] = lambda: False
) -> Played:
    """Let a house run for a while and say what its lamps did and what would be heard.

    Parameters
    ----------
    seconds : float, s
    pulled : collection of CableId
        Cables pulled once all units have had time to lock: after a third of the time.
    """
    house = House(survey)
    links = [n for n in survey.links.values() if n.digital and n.sends not in WORD and n.clock is not None]
    links = [n for n in links if n.start.unit in house.units and n.end.unit in house.units]
    events: list[Event] = []
    begun: dict[CableId, float] = {}
    settled_s = seconds / 3
    while house.now_s < seconds and not stop():
        events += house.step()
        if house.now_s >= settled_s:
            house.pulled = set(pulled)
        if house.now_s >= 2 * settled_s and not begun:
            begun = {n.cable: _apart(house, n) for n in links}
    counted_s = house.now_s - 2 * settled_s
    slips = []
    for link in links:
        if link.cable in house.pulled or link.in_view.profile.port_by_key[link.end.port].asynchronous or not begun:
            continue
        moved = abs(_apart(house, link) - begun[link.cable])
        one, other = house.rate_of(link.start.unit), house.rate_of(link.end.unit)
        # Different nominal rates are a wrong rate, not a drift.
        if moved > 1e-6 * counted_s and abs(one - other) < 0.002 * survey.rate_hz:
            slips.append(Slips(link, int(moved), counted_s / moved))
    silent = tuple(n for n in links if n.cable in house.pulled or (n.sends == "adat" and not n.agrees))
    return Played(tuple(events), {u: s.lamp for u, s in house.units.items()}, tuple(slips), silent, house.now_s)


def _apart(house: House, link: Link) -> float:
    return house.units[link.start.unit].phase - house.units[link.end.unit].phase


def heard(survey: Survey, played: Played) -> tuple[str, ...]:
    """Return what one would hear, a sentence each."""
    units = survey.studio.units
    said = []
    for slip in played.slips:
        start, end = units[slip.link.start.unit].name, units[slip.link.end.unit].name
        said.append(f"{start} → {end} ({slip.link.cable}): a click every {slip.every_s:.3g} s, on every channel of it.")
    for link in played.silent:
        start, end = units[link.start.unit].name, units[link.end.unit].name
        said.append(f"{start} → {end} ({link.cable}): silence.")
    lost = [units[u].name for u, lamp in played.lamps.items() if lamp in ("lost", "searching")]
    if lost:
        said.append(
            f"{' and '.join(lost)}"
            f" {'has no lock and runs on by its' if len(lost) == 1 else 'have no lock and run on, each by its'} own"
            " crystal."
        )
    return tuple(said) or ("Everybody is in step; nothing is heard of the clock.",)
