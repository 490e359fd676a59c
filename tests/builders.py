"""Studios that tests begin with, and a source of random real changes."""

import os
import random
from collections.abc import Callable
from functools import partial

from ennead.checks.all_checks import find_all
from ennead.checks.finding import Finding
from ennead.edits import (
    as_built,
    bays,
    cables,
    computer,
    delays,
    destinations,
    house,
    inner_channels,
    looms,
    revisions,
    scene_switches,
    scenes,
    session,
    sessions,
    set_aside,
    settings,
    tracks,
)
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf, shelf_profile
from ennead.standards.rates import RATES_HZ
from ennead.studio.bays import Cord, CordStock
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import LineEnd, PortEnd, SourceEnd, Wire
from ennead.studio.ids import ComputerId, CordId, DestinationId, RevisionId, SceneId, SessionId, SourceId, UnitId
from ennead.studio.inner_channels import InnerChannel
from ennead.studio.looms import Loom, SpareLoom
from ennead.studio.mixes import feeds_offered, mixable
from ennead.studio.session import AIM_LABELS, DESTINATION_KINDS, KINDS, PHANTOMS, PRIORITIES, SPARES
from ennead.studio.set_aside import SetAside
from ennead.survey.survey import Survey
from tests import golden_findings

#: In memory where there is such a folder: a busy disk makes every commit wait, and only a few tests are about disks.
SCRATCH = "/dev/shm" if os.access("/dev/shm", os.W_OK) else None

INTERFACE = "eight-preamp interface, one optical pair"
EXPANDER = "eight-preamp optical expander"
ELEVEN = (
    "Kick in",
    "Kick out",
    "Snare",
    "Hi-hat",
    "Rack tom",
    "Floor tom",
    "OH L",
    "OH R",
    "Bass DI",
    "Guitar amp",
    "Lead vox",
)


def rig(*profiles: str) -> Studio:
    """Return a studio with units U1, U2 … made from profiles of the shelf."""
    studio = empty_studio("Test")
    for name in profiles:
        studio = house.add_unit(studio, shelf_profile(name))
    return studio


def one_fibre() -> Studio:
    """Return the interface U1 and the expander U2, one fibre from U2 to U1."""
    studio = rig(INTERFACE, EXPANDER)
    return cables.connect(studio, PortEnd(UnitId("U2"), "optical_out"), PortEnd(UnitId("U1"), "optical_in"))


def end(unit: str, port: str) -> PortEnd:
    return PortEnd(UnitId(unit), port)


def plug(studio: Studio, name: str, unit: str, *ports: str, **facts: object) -> Studio:
    """Add a source and plug its channels."""
    studio = session.add_source(studio, name, channels=len(ports), **facts)
    source = SourceId(f"S{studio.counters['S']}")
    for channel, port in enumerate(ports, start=1):
        studio = cables.connect(studio, SourceEnd(source, channel), end(unit, port))
    return studio


def findings(studio: Studio, rule: str | None = None) -> list[Finding]:
    """Return what is found of a studio; of one rule it must be said as it was written down, where it was."""
    found = [f for f in find_all(Survey(studio)) if rule in (None, f.rule)]
    if rule is not None and found:
        golden_findings.look(rule, studio, found)
    return found


def random_edit(studio: Studio, dice: random.Random) -> tuple[str, Callable[[Studio], Studio]]:
    """Return a random real edit with random arguments; it may raise when carried out, and what it makes is read back."""
    name, edit = _random_edit(studio, dice)
    return name, lambda before: read_back(edit(before))


def _random_edit(studio: Studio, dice: random.Random) -> tuple[str, Callable[[Studio], Studio]]:
    units, sources = list(studio.units), list(studio.sources)
    ends = [PortEnd(u, p.key) for u in units for p in studio.profile_of(u).ports]
    unit = dice.choice(units) if units else UnitId("U0")
    source = dice.choice(sources) if sources else SourceId("S0")
    one = dice.choice(ends) if ends else end("U0", "x")
    start = SourceEnd(source, dice.choice((1, 1, 2))) if dice.random() < 0.5 else (dice.choice(ends) if ends else one)
    destination = dice.choice([*studio.destinations, DestinationId("D0")])
    profile = studio.profiles[studio.units[unit].profile] if units else dice.choice(shelf())
    name = "".join(dice.choices("aé ж字\u202e<&'\"\n\t=", k=dice.randint(0, 12)))
    points = [PortEnd(u, key) for u, bay in studio.bays.items() for row in bay.rows for key in row if key] or [one]
    point, further = dice.choice(points), dice.choice(points)
    cord = dice.choice([*[c.id for c in studio.cords], CordId("W0")])
    scene = dice.choice([*studio.scenes, SceneId(""), SceneId("K0")])
    laid = Cord(cord, (point, further)[: dice.choice((1, 2))])
    picks: list[Callable[..., Studio]] = [
        partial(
            bays.add_bay,
            name=name or "A",
            across=dice.choice((0, 2, 4, 24)),
            mode=dice.choice(("", "half", "full", "parallel")),
        ),
        partial(
            bays.set_normal,
            point=point,
            mode=dice.choice(("", "half", "full", "parallel", "x")),
            end=dice.choice(("", further.port)),
        ),
        partial(bays.label_point, point=point, first=name),
        partial(bays.describe_bay, unit=unit, pitch_mm=dice.choice((None, 9.0, -1.0)), note=name),
        partial(cables.connect, start=point, end=one),
        partial(cables.connect, start=start, end=point),
        partial(scenes.add_scene, name=name, copy_of=scene or None),
        partial(scenes.choose_scene, scene=scene),
        partial(scenes.remove_scene, scene=scene),
        partial(scenes.rename_scene, scene=scene, name=name),
        partial(scenes.keep_for, scene=scene, session=dice.choice([*studio.sessions, "N0"])),
        partial(scenes.set_steps, scene=scene, steps=[name, "Aux to unity"]),
        partial(
            scenes.lay_cord,
            one=point,
            other=dice.choice((None, further, further, one)),
            length_m=dice.choice((None, 0.9, -1.0)),
        ),
        partial(scenes.lay_cord, one=point, other=further, colour=name),
        partial(scenes.move_plug, cord=cord, end=dice.choice((1, 2, 3)), to=point),
        partial(scenes.pull_cord, cord=cord),
        partial(scenes.set_stock, stock=[CordStock(dice.choice((0.9, -1.0)), dice.randint(-1, 9), name)]),
        partial(scenes.stand_cord, cord=laid),
        partial(scenes.stand_plug, point=point, cord=laid),
        partial(scenes.lift_plug, point=point),
        partial(scene_switches.set_apart, unit=unit, apart=dice.random() < 0.8),
        partial(
            looms.set_loom, cable=dice.choice([*studio.cables, "C0"]), loom=Loom(name, "aes59", "inch", (name, "", "2"))
        ),
        partial(
            looms.add_spare,
            spare=SpareLoom(dice.choice((0, 8)), (name, "8 trs"), Loom(name), dice.choice((None, 3.0, -1.0))),
        ),
        partial(looms.take_spare, at=dice.choice((0, 0, 1)), cable=dice.choice([*studio.cables, "C0"])),
        partial(looms.put_away, cable=dice.choice([*studio.cables, "C0"])),
        partial(revisions.keep_revision, name=name, made="2026-11-27 05:12", body=name),
        partial(revisions.remove_revision, revision=dice.choice([*studio.revisions, RevisionId("R0")])),
        partial(house.add_unit, profile=dice.choice(shelf()), name=name, place=None),
        partial(house.add_place, name=name),
        partial(house.rename_unit, unit=unit, name=name),
        partial(house.put_unit, unit=unit, place=dice.choice([None, *studio.places])),
        partial(house.remove_unit, unit=unit),
        partial(house.mark_fault, end=one, note=name),
        partial(house.clear_fault, end=one),
        partial(computer.leave_computer, unit=unit),
        partial(computer.join_computer, unit=unit),
        partial(computer.number_at, unit=unit, place=dice.randint(0, 3)),
        partial(computer.add_computer, name=name),
        partial(computer.remove_computer, computer=dice.choice([*studio.hosts, "H0"])),
        partial(computer.change_computer, unit=unit, computer=dice.choice([*studio.hosts, "H0"])),
        partial(
            computer.count_sockets,
            computer=dice.choice([*studio.hosts, "H0"]),
            socket="usb-a",
            count=dice.randint(-1, 4),
        ),
        partial(computer.describe_computer, computer=dice.choice([*studio.hosts, "H0"]), system=name, notes=name),
        partial(computer.attach, unit=unit, socket=dice.choice(("usb-a", "thunderbolt-c", "x"))),
        partial(computer.detach, unit=unit),
        partial(computer.use_beside, unit=unit, how=dice.choice(("sound", "setup"))),
        partial(computer.chain, unit=unit, behind=dice.choice([*units, UnitId("U0")])),
        partial(computer.correct_drift, unit=unit, on=dice.random() < 0.7),
        partial(cables.connect, start=start, end=one, length_m=dice.choice([None, 1.5, -1])),
        partial(cables.connect, start=start, end=one),
        partial(cables.make_up, **random_lead(studio, dice, ends, sources)),
        partial(
            cables.move_plugs,
            moves=[(c.id, p, further) for c in studio.cables.values() for p in c.plugs if p == point][:1]
            or [("C0", one, point)],
        ),
        partial(cables.disconnect, cable=dice.choice([*studio.cables, "C0"])),
        partial(cables.set_length, cable=dice.choice([*studio.cables, "C0"]), length_m=dice.uniform(0.1, 90)),
        partial(session.add_source, name=name, channels=dice.choice((1, 2)), kind=dice.choice(KINDS), place=name),
        partial(session.add_source, name="Fiddle", at=0, phantom=dice.choice(PHANTOMS)),
        partial(session.change_source, source=source, channels=dice.choice((1, 2, 3)), group=name),
        partial(session.remove_source, source=source),
        partial(session.move_source, source=source, to=dice.randint(-2, 9)),
        partial(session.set_rate, rate_hz=dice.choice([*RATES_HZ, 1])),
        partial(session.set_pull, pull_ppm=dice.choice((0.0, -999.0, 125_000.0, -125_001.0))),
        partial(session.set_mains_silent, silent=dice.random() < 0.5),
        partial(session.join_pair, left=source, right=dice.choice([*sources, SourceId("S0")]), name=name),
        partial(session.rename_session, name=name),
        partial(
            session.change_source, source=source, coherent=dice.random() < 0.5, priority=dice.choice((*PRIORITIES, "x"))
        ),
        partial(
            session.change_source,
            source=source,
            outboard=dice.choice([None, unit]),
            preamp=dice.choice(["", unit, profile.id]),
        ),
        partial(
            session.change_source,
            source=source,
            level_dbu=dice.choice((None, 12.0, 30.0, 99.0)),
            sensitivity_mv_pa=20.0,
            loudest_db_spl=dice.uniform(60, 150),
            impedance_ohm=dice.choice((None, 150.0, 1e6)),
        ),
        partial(session.set_spare, need=dice.choice(SPARES), count=dice.randint(-1, 5)),
        partial(session.set_aims, aims=dice.sample(list(AIM_LABELS), len(AIM_LABELS))),
        partial(
            set_aside.set_aside,
            entry=SetAside(
                "many_hops",
                dice.choice([*units, *studio.cables, source]),
                f"{dice.getrandbits(48):012x}",
                dice.choice(["", *studio.sessions, "N0"]),
                name,
            ),
        ),
        partial(
            delays.set_stop_delay,
            end=one,
            samples=dice.choice((None, 0.0, 12.5, -1.0)),
            measured=dice.random() < 0.5,
            at=name,
        ),
        partial(delays.set_loop_delay, destination=destination, samples=dice.choice((None, 41.25, -3.0, 1e9))),
        partial(session.set_price, name=name, price=dice.choice((None, 10, -1))),
        partial(
            destinations.add_destination, name=name, kind=dice.choice(DESTINATION_KINDS), channels=dice.choice((1, 2))
        ),
        partial(
            destinations.change_destination,
            destination=destination,
            kind=dice.choice(DESTINATION_KINDS),
            tap=dice.random() < 0.3,
        ),
        partial(
            destinations.change_destination,
            destination=destination,
            channels=dice.choice((1, 2, 3)),
            pinned=dice.random() < 0.3,
        ),
        partial(destinations.remove_destination, destination=destination),
        partial(destinations.move_destination, destination=destination, to=dice.randint(-1, 4)),
        partial(
            destinations.send_out,
            destination=destination,
            outputs=dice.sample(ends, min(len(ends), dice.randint(0, 2))),
            returns=dice.sample(ends, min(len(ends), dice.choice((0, 0, 1, 2)))),
        ),
        partial(settings.set_pad, unit=unit, port=one.port, on=dice.random() < 0.6),
        partial(as_built.tick_cable, cable=dice.choice([*studio.cables, "C0"])),
        partial(as_built.untick_cable, cable=dice.choice([*studio.as_built.cables, "C0"])),
        partial(as_built.tick_settings, unit=unit),
        partial(settings.switch_off, unit=unit, off=dice.random() < 0.5),
        partial(settings.set_phantom, unit=unit, bank=dice.choice(("a", "b", "all")), on=dice.random() < 0.5),
        partial(settings.set_termination, unit=unit, port=one.port, on=dice.random() < 0.5),
        partial(settings.set_mode, unit=unit, mode="optical", choice=dice.choice(("adat", "spdif-optical"))),
        partial(
            settings.set_clock_source, unit=unit, source=dice.choice([c.key for c in profile.clock_sources] or ["none"])
        ),
        partial(settings.set_driver_map, unit=unit, key=dice.choice(("standard", "class"))),
    ]
    pick = dice.choice(picks)
    return str(pick.func.__name__), pick  # type: ignore[attr-defined]


def evening_edit(studio: Studio, dice: random.Random) -> Callable[[Studio], Studio]:
    """Return a random edit of sessions, scenes, switches, gains, outputs, computers, and of who is missing; it may raise when carried out."""
    units = list(studio.units) or [UnitId("U0")]
    unit, scene = dice.choice(units), dice.choice([SceneId(""), *studio.scenes])
    profile = studio.profile_of(unit) if studio.units else shelf()[0]
    sockets = profile.ports
    ins, outs = ([p.key for p in sockets if p.direction == way and not p.is_digital] + ["x"] for way in ("in", "out"))
    host = dice.choice([*studio.hosts, ComputerId("H0")])
    name = f"Evening {dice.randint(1, 6)}"
    session_id, source = (
        dice.choice([*studio.sessions, SessionId("N0")]),
        dice.choice([*studio.current.sources, SourceId("S0")]),
    )
    picks: list[Callable[..., Studio]] = [
        partial(sessions.add_session, name=name),
        partial(sessions.copy_session, name=name),
        *[partial(sessions.choose_session, session=session_id)] * 3,
        partial(sessions.remove_session, session=session_id),
        *[partial(scenes.choose_scene, scene=scene)] * 2,
        partial(scenes.add_scene, name=name, copy_of=scene or None),
        partial(scene_switches.set_apart, unit=unit, apart=dice.random() < 0.7),
        *[partial(settings.set_gain, unit=unit, port=dice.choice(ins), gain_db=dice.choice((None, -10.0, 33.3, 99.0)))]
        * 2,
        *[
            partial(
                settings.set_output, unit=unit, port=dice.choice(outs), state=dice.choice(("on", "off", "fixed", "x"))
            )
        ]
        * 2,
        *[
            partial(
                settings.set_level,
                unit=unit,
                mix=mix,
                lane=dice.choice([*held, "x/1"]),
                level=dice.choice((None, "off", -6.5, 99.0)),
            )
            for mix, held in dice.sample(sorted(mixable(profile).items()), min(3, len(mixable(profile))))
        ],
        *[
            partial(settings.set_feed, unit=unit, lane=lane, feed=dice.choice(["", *held, "x"]))
            for lane, held in dice.sample(sorted(feeds_offered(profile).items()), min(3, len(feeds_offered(profile))))
        ],
        *[
            partial(inner_channels.take_in_channels, unit=unit, block=block, channels=channels)
            for block, channels in (inner_channels.free_channels(studio, unit) if studio.units else ())
        ],
        partial(
            inner_channels.hold_channels,
            source=source,
            channels=dice.choice(((), (InnerChannel(unit, "loopback", 1),))),
        ),
        partial(settings.settle, unit=unit),
        partial(session.set_missing, unit=unit, missing=dice.random() < 0.5),
        partial(
            tracks.set_track, line=source, in_scene=dice.random() < 0.3, picked=dice.choice(((), (1,), (3, 4), (0,)))
        ),
        partial(
            tracks.set_track,
            line=source,
            armed=dice.random() < 0.7,
            insert=dice.choice((None, None, *studio.destinations)),
        ),
        partial(
            computer.set_times,
            computer=host,
            rate_hz=dice.choice((48_000, 1)),
            buffer=dice.choice((None, 64, -1)),
            reported_in=77,
        ),
    ]
    return dice.choice(picks)


def read_back(studio: Studio) -> Studio:
    """Return a studio that was written and read: accepted, equal, and written with the same bytes again."""
    text = to_json(studio)
    again = from_json(text.encode())
    if again != studio or to_json(again) != text:
        raise AssertionError(f"it is read otherwise than it was written:\n{text}")
    return studio


def random_lead(studio: Studio, dice: random.Random, ends: list[PortEnd], sources: list[SourceId]) -> dict[str, object]:
    """Return plugs and wires of a lead that may or may not do: inputs and outputs of the house, and a source or two."""
    here = [
        *dice.sample(ends, min(len(ends), dice.randint(1, 4))),
        *(LineEnd(s) for s in dice.sample(sources, min(len(sources), dice.choice((0, 1, 1))))),
    ]
    analogue = (
        [p for p in here if isinstance(p, LineEnd) or not studio.port(p).is_digital] if dice.random() < 0.9 else here
    )
    wires = [Wire(0, dice.choice((1, 1, 2)), n, dice.choice((1, 1, 1, 2))) for n in range(1, len(analogue))]
    return {"plugs": analogue, "wires": wires}


def random_studio(seed: int, steps: int = 60) -> Studio:
    """Return a studio after random edits; refused ones change nothing."""
    dice = random.Random(seed)
    studio = rig(INTERFACE, EXPANDER) if seed % 2 else empty_studio()
    for _ in range(steps):
        try:
            studio = _random_edit(studio, dice)[1](studio)
        except EnneadError:
            continue
    return read_back(studio)
