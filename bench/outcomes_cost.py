"""What the outcome of one fault costs over a plan that has been surveyed, against the same outcome of a house surveyed anew."""

import random
from collections.abc import Callable, Iterator
from statistics import mean, quantiles
from typing import Final

from bench.bays_cost import full_house
from bench.large_house import large_house
from bench.report import Report, turn_about
from ennead.demo.skerry import skerry
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.switches import Switch
from ennead.survey import faults
from ennead.survey.faults import Fault
from ennead.survey.outcome import outcome
from ennead.survey.survey import Survey
from ennead.survey.view import View

_TIMES: Final = 12


def _ends(survey: Survey, dice: random.Random) -> list[PortEnd]:
    cable = survey.in_use[dice.choice(list(survey.in_use))]
    return [p for p in cable.plugs if isinstance(p, PortEnd)]


def _normal(survey: Survey, dice: random.Random) -> tuple[str, str, str]:
    bay = dice.choice([bay for bay in survey.bays.values() if bay.normals])
    normal = dice.choice(bay.normals)
    return bay.id, normal.start, normal.end


def _switch(survey: Survey, dice: random.Random) -> Switch:
    unit = dice.choice([u for u, p in survey.profiles.items() if p.modes or p.clock_sources or p.banks])
    profile = survey.profiles[unit]
    found = [Switch(unit, "mode", m.key, dice.choice(m.choices).key) for m in profile.modes]
    found += [Switch(unit, "clock", "", c.key) for c in profile.clock_sources]
    found += [Switch(unit, "phantom", b.key, b.key not in survey.settings[unit].phantom) for b in profile.banks]
    return dice.choice(found)


def _plug(survey: Survey, dice: random.Random) -> tuple[str, int]:
    cable = survey.in_use[dice.choice(list(survey.in_use))]
    return cable.id, dice.choice([n for n, p in enumerate(cable.plugs) if isinstance(p, PortEnd)])


def _one_off(survey: Survey, dice: random.Random) -> Fault:
    cable, at = _plug(survey, dice)
    plug = survey.in_use[cable].plugs[at]  # type: ignore[index]
    ports = [p.key for p in survey.profiles[plug.unit].ports if p.direction == survey.port(plug).direction]  # type: ignore[union-attr, arg-type]
    return faults.OneSocketOff(cable, at, PortEnd(plug.unit, dice.choice(ports)))  # type: ignore[arg-type, union-attr]


#: A fault of each kind somewhere in a house; IndexError where there is nothing of the sort.
KINDS: Final[dict[str, Callable[[Survey, random.Random], Fault]]] = {
    "dead cable": lambda s, dice: faults.DeadCable(dice.choice(list(s.in_use))),
    "dead cord": lambda s, dice: faults.DeadCord(dice.choice(s.cords).id),
    "dead lane": lambda s, dice: faults.DeadLane(dice.choice(list(s.in_use)), 1),
    "dead contact": lambda s, dice: faults.DeadContact(dice.choice(_ends(s, dice))),
    "dead port": lambda s, dice: faults.DeadPort(dice.choice(_ends(s, dice))),
    "mute": lambda s, dice: faults.Muted(dice.choice(_ends(s, dice))),
    "plugs exchanged": lambda s, dice: faults.PlugsExchanged(_plug(s, dice), _plug(s, dice)),  # type: ignore[arg-type]
    "one socket off": _one_off,
    "normal open": lambda s, dice: faults.NormalOpen(*_normal(s, dice)),  # type: ignore[arg-type]
    "normal stuck": lambda s, dice: faults.NormalStuck(*_normal(s, dice)),  # type: ignore[arg-type]
    "unit off": lambda s, dice: faults.UnitOff(dice.choice(list(s.profiles))),
    "wrong switch": lambda s, dice: faults.WrongSwitch(_switch(s, dice)),
    "wrong number": lambda s, dice: faults.WrongNumber(dice.choice(s.sources).id, 1, dice.randint(1, 9)),
    "driver missing": lambda s, dice: faults.DriverMissing(
        dice.choice([u for c in s.computers.values() for u in c.interfaces])
    ),
}


def any_fault(survey: Survey, dice: random.Random) -> Fault:
    """Return a fault of any kind somewhere in a house."""
    while True:
        kind = dice.choice(list(KINDS))
        for fault in _some(survey, kind, dice, 1):
            return fault


def _some(survey: Survey, kind: str, dice: random.Random, many: int) -> Iterator[Fault]:
    """Yield faults of a kind that can be laid over the house; none where it has nothing of the sort."""
    made = 0
    for _ in range(20 * many):
        try:
            fault = KINDS[kind](survey, dice)
            outcome(Survey(survey.studio, survey, View(faults=(fault,))), survey)
        except (IndexError, EnneadError):
            continue
        yield fault
        made += 1
        if made == many:
            return


def _costs(plan: Survey, fault: Fault, rounds: int) -> float:
    """Return what an outcome over the plan takes, of what it takes anew."""
    view = View(faults=(fault,))
    anew, over = turn_about(
        (
            lambda: outcome(Survey(plan.studio, view=view), plan),
            lambda: outcome(Survey(plan.studio, plan, view), plan),
        ),
        rounds,
    )
    return over / anew


def _house(report: Report, name: str, studio: Studio, rounds: int) -> None:
    report.head(f"Outcome of one fault, {_TIMES} of each kind, against the same made anew ({name})")
    plan = Survey(studio)
    outcome(plan)
    middles: list[float] = []
    every: list[float] = []
    for kind in KINDS:
        ratios = [_costs(plan, f, rounds) for f in _some(plan, kind, random.Random(f"{name} {kind}"), _TIMES)]
        if ratios:
            middles.append(mean(ratios))
            every += ratios
            report.say(f"  {kind}: mean {mean(ratios):.2f}, {min(ratios):.2f} to {max(ratios):.2f}")
    key = name.replace(" ", "_")
    report.figure(f"outcome_{key}", round(mean(middles), 3), f"mean of the kinds: {mean(middles):.2f}", 0.15)
    most = quantiles(every, n=20)[-1]
    report.figure(f"outcome_{key}_95", round(most, 3), f"95th percentile: {most:.2f}", 0.45)


def run(report: Report, rounds: int = 5) -> None:
    """Measure all kinds on three houses."""
    for name, studio in (
        ("demo", skerry(finished=True)),
        ("large house", large_house(1.0)),
        ("house with bays", full_house()),
    ):
        _house(report, name, studio, rounds)
