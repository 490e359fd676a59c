"""Random clock rigs: every plan offered is carried out, and what `check` says of the clock afterwards is held against what was promised."""

import random
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from typing import Any

from bench.report import Report
from ennead.checks.all_checks import CHECKS
from ennead.edits.cables import connect, disconnect
from ennead.edits.computer import add_computer, join_computer
from ennead.edits.house import add_unit
from ennead.edits.session import set_rate
from ennead.edits.settings import set_clock_source, set_termination, switch_off
from ennead.planning.clock.clock_plan import POLICIES, clock_change, plan_clock
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import ComputerId, ProfileId
from ennead.studio.profile import Block, ClockSource, DriverMap, InnerPath, Port, Profile
from ennead.survey.survey import Survey

#: What a plan ends wherever it stood. What else is said of a clock (a rate by hand, a long way) it may leave as it was, and adds nothing to.
_PROMISED = {
    "one_fibre_expander_leads",
    "two_leaders",
    "clock_does_not_arrive",
    "clock_runs_in_ring",
    "two_cannot_follow",
    "group_on_two_clocks",
}
#: A rate that a box lacks no plan can give it.
_NOT_OURS = {"rate_not_offered", "input_resampled", "computer_resamples"}
_FAST = (44100, 48000, 88200, 96000, 176400, 192000)


def _box(dice: random.Random, key: int, given: str = "") -> Profile:
    """Return a box of two to four fibres, perhaps with word clock at either end, its input closed in one of four ways."""
    role = given or dice.choice(("interface", "converter", "converter", "clock"))
    ports: list[Port] = []
    for n in range(dice.randint(1, 2) if role != "clock" else 0):
        kind, connector = dice.choice((("adat", "toslink"), ("madi", "bnc"), ("aes3", "xlr")))
        channels = {"adat": 8, "madi": 64, "aes3": 2}[kind]
        ports += [
            Port(f"{kind}_{way}{n}", f"{kind} {way} {n}", way, connector, (kind,), channels=channels)  # type: ignore[arg-type]
            for way in dice.choice((("in", "out"), ("in", "out"), ("out",)))
        ]
    closes: Any = dice.choice(("fixed", "switchable", "none", ""))
    if role == "clock":
        ports += [Port(f"word_out{n}", f"Word out {n}", "out", "bnc", ("word",)) for n in range(dice.randint(1, 4))]
    elif dice.random() < 0.6:
        ports.append(Port("word_out0", "Word out", "out", "bnc", ("word",)))
    if dice.random() < (0.7 if not given else 0.95):
        ports.append(Port("word_in", "Word in", "in", "bnc", ("word",), termination=closes))
    sources = [ClockSource("internal", "Internal")] if dice.random() < 0.95 else []
    sources += [ClockSource(p.key, p.label, p.key) for p in ports if p.direction == "in"]
    digital_in = [p.key for p in ports if p.direction == "in" and p.carries[0] != "word"]
    digital_out = [p.key for p in ports if p.direction == "out" and p.carries[0] != "word"]
    maps: tuple[DriverMap, ...] = ()
    if role == "interface" and digital_in:
        maps = (DriverMap("d", "d", "collapsing", (Block("b", "In", tuple(digital_in)),), ()),)
    paths = (
        (InnerPath((digital_in[0],), (digital_out[0],)),) if role == "converter" and digital_in and digital_out else ()
    )
    return Profile(
        ProfileId(f"F{key}"),
        f"box {key}",
        role,  # type: ignore[arg-type]
        "",
        tuple(ports),
        driver_maps=maps,
        inner_paths=paths if not maps else (),
        clock_sources=tuple(sources),
        rates_hz=_FAST if given else dice.choice((_FAST, _FAST, _FAST, _FAST[:2])),
        jitter_ps=dice.choice((None, 30.0, 80.0)),
    )


def clock_rig(seed: int) -> Studio:
    """Return three to six such boxes at some rate, cabled and set at random; word-clock lines with T-pieces among the cables.

    In every fourth all clock comes from one output to interfaces on one computer, so that nearly every plan needs T-pieces.
    """
    dice = random.Random(seed)
    studio = add_computer(empty_studio("Clock rig"))
    for n in range(dice.randint(3, 6)):
        box = _box(dice, n + 1, ("interface" if n else "clock") if seed % 4 == 3 else "")
        if seed % 4 == 3:
            ports = tuple(p for p in box.ports if p.direction == "in" or (n == 0 and p.key == "word_out0"))
            box = replace(box, ports=ports, inner_paths=())
        studio = add_unit(studio, box, f"Box {n}")
    ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
    word = [e for e in ends if e.port.startswith("word")]
    for among, times in ((ends, 12), (word, 8)):
        for _ in range(times if len(among) > 1 else 0):
            with suppress(EnneadError):
                studio = connect(studio, *dice.sample(among, 2))
    for cable in list(studio.cables):
        if dice.random() < 0.15:
            studio = disconnect(studio, cable)
    for unit in studio.units:
        profile = studio.profile_of(unit)
        if profile.driver_maps and dice.random() < (0.7 if seed % 4 != 3 else 1):
            with suppress(EnneadError):
                studio = join_computer(studio, unit, ComputerId("H1"))
        if profile.clock_sources and dice.random() < 0.7:
            studio = set_clock_source(studio, unit, dice.choice(profile.clock_sources).key)
        if dice.random() < 0.4:
            with suppress(EnneadError):
                studio = set_termination(studio, unit, "word_in", on=True)
        if dice.random() < 0.08 and seed % 4 != 3:
            studio = switch_off(studio, unit, True)
    return set_rate(studio, dice.choice((44100, 48000, 96000, 96000, 192000)))


def _said(survey: Survey) -> dict[tuple[str, str], str]:
    """Return the trouble and cautions of the clock."""
    found = [f for check in CHECKS["clock"] for f in check(survey)]
    return {(f.rule, f.subject.key): f.message for f in found if f.rule not in _NOT_OURS and f.severity != "note"}


def broken_promises(studio: Studio) -> Iterator[str]:
    """Yield what is wrong after a plan was carried out, of every plan that is offered."""
    survey = Survey(studio)
    before = _said(survey)
    for domain in survey.clocks.domains:
        if len(domain.units) < 2:
            continue
        for policy in POLICIES:
            for place, plan in enumerate(plan_clock(survey, domain, policy).alternatives):
                change = clock_change(survey, plan)
                name = f"{domain.units[0]} {policy} {place + 1}. {plan.leader}"
                if not survey.views[plan.leader].runs:
                    yield f"{name}: the leader does not run"
                try:
                    after = change.apply(studio)
                except EnneadError as error:
                    yield f"{name}: cannot be carried out: {error}"
                    continue
                now = Survey(after, survey)
                mine = set(now.clocks.domain_of(plan.leader).units) | {u for u in domain.units if survey.views[u].runs}
                for (rule, key), text in _said(now).items():
                    if (rule, key) not in before or (rule in _PROMISED and key in mine):
                        yield f"{name}: {rule} {key}: {text}"


def run(report: Report, times: int) -> None:
    """Try so many rigs."""
    report.head(f"{times} clock rigs, every plan carried out: clock trouble that was promised to end, or is new")
    bad, plans = 0, 0
    for seed in range(times):
        studio = clock_rig(seed)
        plans += sum(
            len(plan_clock(Survey(studio), d).alternatives) for d in Survey(studio).clocks.domains if len(d.units) > 1
        )
        for line in broken_promises(studio):
            bad += 1
            if bad <= 10:
                report.say(f"  rig {seed}: {line}")
    report.figure("clock_rigs", bad, f"{times} rigs, {plans} leaders offered: {bad} times something was left", 0)
