"""Random studios out of the whole shelf, each as somebody might leave it in the middle of the work: nothing is tidy, all is readable."""

import random
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from ennead.edits import as_built, cables, computer, destinations, house, session, settings
from ennead.files.profiles import shelf
from ennead.planning.routing.placing import place_anew
from ennead.standards.rates import RATES_HZ
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.session import AIM_LABELS, DESTINATION_KINDS, KINDS, LOOP_NUMBERS, PHANTOMS, PRIORITIES, SPARES
from ennead.survey.survey import Survey


def mixed(seed: int) -> Studio:
    """Return a studio of a few boxes with switches, cables, sources and destinations as the dice fall."""
    dice = random.Random(seed)
    studio = empty_studio("Mixed")

    def tried(edit: Callable[..., Studio], *args: Any, **facts: Any) -> None:
        nonlocal studio
        with suppress(EnneadError):
            studio = edit(studio, *args, **facts)

    on_computer = [p for p in shelf() if p.driver_maps]
    for profile in (dice.choice(on_computer), *dice.choices(shelf(), k=dice.randint(2, 5))):
        tried(house.add_unit, profile)
    for name in ("Hall", "Booth")[: dice.randint(0, 2)]:
        tried(house.add_place, name)
    ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
    outs, ins = ([e for e in ends if studio.port(e).direction == way] for way in ("out", "in"))
    for _ in range(40):
        # Digital sockets are few among many; they are met as often.
        kind = dice.random() < 0.5
        some = (
            [e for e in outs if studio.port(e).is_digital == kind],
            [e for e in ins if studio.port(e).is_digital == kind],
        )
        if all(some):
            tried(cables.connect, dice.choice(some[0]), dice.choice(some[1]), dice.choice((None, 2.0, 12.0, 80.0)))
    for unit in list(studio.units):
        _switch(dice, tried, studio, unit)
    for socket in dice.sample(("usb-a", "usb-c", "thunderbolt-c", "firewire-800"), 2):
        tried(computer.count_sockets, "H1", socket, dice.randint(0, 2))
    for number in range(dice.randint(2, 8)):
        _add_source(dice, tried, number)
        source = f"S{number + 1}"
        if dice.random() < 0.4:
            for channel in (1, 2):
                tried(cables.connect, SourceEnd(source, channel), dice.choice(ins))  # type: ignore[arg-type]
        elif dice.random() < 0.6:
            with suppress(EnneadError):
                studio = place_anew(Survey(studio), source).apply(studio)  # type: ignore[arg-type]
    for number in range(dice.randint(0, 4)):
        tried(
            destinations.add_destination,
            f"Out {number + 1}",
            dice.choice(list(DESTINATION_KINDS)),
            channels=dice.choice((1, 2)),
        )
        loop = dice.choices(ins, k=dice.choice((1, 2))) if dice.random() < 0.5 else ()
        tried(destinations.send_out, f"D{number + 1}", tuple(dice.choices(outs, k=dice.choice((1, 2)))), tuple(loop))
    for end in dice.sample(ends, min(len(ends), dice.choice((0, 1, 3)))):
        tried(house.mark_fault, end, "dead")
    tried(session.set_rate, dice.choice(RATES_HZ))
    tried(session.set_pull, dice.choice((0.0, 0.0, -999.0, 40_000.0)))
    tried(session.set_spare, dice.choice(list(SPARES)), dice.randint(0, 2))
    tried(session.set_aims, tuple(dice.sample(list(AIM_LABELS), len(AIM_LABELS))))
    tried(session.set_loop_numbers, dice.choice(list(LOOP_NUMBERS)))
    for cable in dice.sample(list(studio.cables), len(studio.cables) // 3):
        tried(as_built.tick_cable, cable)
    return studio


def _switch(dice: random.Random, tried: Callable[..., None], studio: Studio, unit: Any) -> None:
    """Set the switches of a box anyhow, and put it somewhere."""
    profile = studio.profile_of(unit)
    tried(house.put_unit, unit, dice.choice([None, *studio.places]))
    for mode in profile.modes:
        tried(settings.set_mode, unit, mode.key, dice.choice(mode.choices).key)
    for bank in profile.banks:
        tried(settings.set_phantom, unit, bank.key, on=dice.random() < 0.5)
    if profile.clock_sources and dice.random() < 0.7:
        tried(settings.set_clock_source, unit, dice.choice(profile.clock_sources).key)
    if dice.random() < 0.2:
        tried(settings.set_own_rate, unit, dice.choice(RATES_HZ))
    for port in profile.ports:
        if dice.random() < 0.3:
            tried(settings.set_termination, unit, port.key, on=True)
            tried(settings.set_pad, unit, port.key, on=True)
    match dice.randrange(6):
        case 0:
            tried(computer.leave_computer, unit)
        case 1:
            tried(computer.use_beside, unit, dice.choice(("sound", "setup")))
        case 2:
            tried(computer.attach, unit, dice.choice(("usb-a", "thunderbolt-c")))
        case 3:
            tried(computer.chain, unit, dice.choice(list(studio.units)))
        case _:
            tried(computer.correct_drift, unit, True)


def _add_source(dice: random.Random, tried: Callable[..., None], number: int) -> None:
    kind = dice.choice(list(KINDS))
    facts: dict[str, Any] = {
        "kind": kind,
        "channels": dice.choice((1, 1, 2)),
        "phantom": dice.choice(list(PHANTOMS)),
        "priority": dice.choice(list(PRIORITIES)),
    }
    if dice.random() < 0.5:
        facts |= {"group": dice.choice(("Kit", "Choir")), "coherent": dice.random() < 0.6}
    if dice.random() < 0.3:
        facts |= (
            {"sensitivity_mv_pa": 20.0, "loudest_db_spl": dice.choice((100.0, 150.0))}
            if dice.random() < 0.6
            else {"level_dbu": dice.choice((-20.0, 22.0))}
        )
    if dice.random() < 0.2:
        facts["impedance_ohm"] = dice.choice((150.0, 1e5))
    tried(
        session.add_source,
        f"{dice.choice(('Voice', 'Kick', 'OH L', 'OH R'))} {number}"[: dice.choice((4, 12))],
        **facts,
    )
    if dice.random() < 0.2:
        tried(session.change_source, f"S{number + 1}", pinned=True)
