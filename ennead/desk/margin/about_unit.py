"""What the margin says about a unit: its settings, its clock, its numbers."""

from ennead.desk.margin.about_computer import computer_facts
from ennead.desk.margin.about_overrides import of_every_session, override_facts
from ennead.desk.margin.about_recall import unit_recall
from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.change import Change, change
from ennead.edits.house import add_place as new_place
from ennead.edits.house import (
    place_named,
    put_unit,
    remove_unit,
    rename_unit,
)
from ennead.edits.inner_channels import free_channels, take_in_channels
from ennead.edits.scene_switches import set_apart
from ennead.edits.session import set_missing
from ennead.edits.settings import (
    may_be_closed,
    set_clock_source,
    set_driver_map,
    set_mode,
    set_own_rate,
    set_phantom,
    set_stored,
    set_termination,
    switch_off,
)
from ennead.standards.rates import rate_text
from ennead.studio.bays import Scene
from ennead.studio.document import Studio
from ennead.studio.house import Settings, Unit
from ennead.studio.ids import UnitId
from ennead.studio.profile import Bank, Mode, Port, Profile
from ennead.studio.switches import stated_of
from ennead.survey.survey import Survey
from ennead.survey.unit_view import chosen_map, mode_of


def about_unit(survey: Survey, unit_id: UnitId) -> Notes:
    """Return the notes about a unit."""
    studio = survey.studio
    unit, profile, settings = studio.units[unit_id], studio.profile_of(unit_id), survey.settings[unit_id]
    facts = [
        Fact("Name", unit.name, edit=lambda t: change(f"Rename {unit.name}", rename_unit, unit_id, t)),
        Fact(
            "Place",
            studio.places[unit.place].name if unit.place else "",
            edit=lambda t: change(f"Move {unit.name}", _put_at, unit_id, t),
        ),
    ]
    if profile.clock_sources:
        facts.append(
            Fact(
                "Clock",
                settings.clock_source,
                tuple((c.key, c.label) for c in profile.clock_sources),
                lambda k: change(f"Set {unit.name}'s clock", set_clock_source, unit_id, k),
            )
        )
    if profile.is_digital and profile.role != "clock":
        facts.append(_rate_fact(unit, profile, settings))
    facts += [_ending_fact(unit, port, settings) for port in profile.ports if may_be_closed(port)]
    if profile.setup:
        facts.append(
            Fact(
                "Stored in it once",
                "",
                ticked=settings.stored,
                edit=lambda on: change(f"Note what is stored in {unit.name}", set_stored, unit_id, on == "1"),
            )
        )
    facts += [mode_fact(unit, mode, mode_of(profile, settings, mode.key)) for mode in profile.modes]
    chosen = chosen_map(profile, settings)
    if chosen is not None and len(profile.driver_maps) > 1:
        facts.append(
            Fact(
                "Driver map",
                chosen.key,
                tuple((m.key, m.label) for m in profile.driver_maps),
                lambda k: change(f"Choose {unit.name}'s driver map", set_driver_map, unit_id, k),
            )
        )
    facts += computer_facts(survey, unit)
    facts += [_bank_fact(unit, bank, settings) for bank in profile.banks]
    facts.append(_missing_fact(unit, missing=unit_id in studio.current.missing))
    if profile.supply != "none":
        facts.append(_power_fact(unit, settings))
    if studio.scene in studio.scenes and stated_of(profile, settings):
        facts.append(_scene_fact(unit, studio.scenes[studio.scene]))
    facts += override_facts(studio, unit)
    stood, again = unit_recall(studio, unit_id)
    return Notes(
        unit.name,
        profile.name,
        (*facts, *stood),
        (*of_every_session(studio, unit), *again, *_deeds(unit), *_inner_deeds(survey, unit)),
        unit_working(survey, unit),
    )


def _inner_deeds(survey: Survey, unit: Unit) -> list[Deed]:
    """Return the taking in of driver numbers without a socket as sources, of those that the computer has now."""
    now = {
        (d.channel.block.key, d.channel.index - d.channel.block_first + 1): d
        for d in survey.numbering.inputs
        if d.unit == unit.id and not d.channel.port and d.channel.live
    }
    deeds = []
    for block, channels in free_channels(survey.studio, unit.id):
        numbers = [now[block, n].number for n in channels if (block, n) in now]
        if len(numbers) == len(channels):
            text = f"Take in {'–'.join(map(str, numbers))}, {now[block, channels[0]].channel.block.label}"
            deeds.append(Deed(text, change(text, take_in_channels, unit.id, block, channels)))
    return deeds


def mode_fact(unit: Unit, mode: Mode, stands_at: str) -> Fact:
    """Return where a switch of a unit stands, to be changed."""

    def turn(choice: str) -> Change:
        return change(f"Set {unit.name}'s {mode.label} to {mode.label_of(choice)}", set_mode, unit.id, mode.key, choice)

    choices = tuple((c.key, c.label) for c in mode.choices)
    return Fact(mode.label[:1].upper() + mode.label[1:], stands_at, choices, turn)


def _rate_fact(unit: Unit, profile: Profile, settings: Settings) -> Fact:
    """Return where a rate switch of its own stands; most boxes that follow need none."""
    choices = (("", "as the session"), *((str(r), rate_text(r)) for r in profile.rates_hz))

    def turn(key: str) -> Change:
        return change(f"Set {unit.name}'s own rate", set_own_rate, unit.id, int(key) if key else None)

    return Fact("Own rate", "" if settings.rate_hz is None else str(settings.rate_hz), choices, turn)


def _ending_fact(unit: Unit, port: Port, settings: Settings) -> Fact:
    def switch(on: str) -> Change:
        word = "on" if on == "1" else "off"
        return change(f"Switch the termination of {unit.name} {word}", set_termination, unit.id, port.key, on == "1")

    # Without a switch it takes a T-piece on the socket, and a terminator on that.
    label = f"{port.label} closed, 75 Ω" if port.termination == "switchable" else f"T-piece and 75 Ω on {port.label}"
    return Fact(label, "", ticked=port.key in settings.terminated, edit=switch)


def _bank_fact(unit: Unit, bank: Bank, settings: Settings) -> Fact:
    def switch(on: str) -> Change:
        word = "on" if on == "1" else "off"
        return change(f"Switch {bank.label} of {unit.name} {word}", set_phantom, unit.id, bank.key, on == "1")

    return Fact(bank.label, "", ticked=bank.key in settings.phantom, edit=switch)


def _power_fact(unit: Unit, settings: Settings) -> Fact:
    def switch(on: str) -> Change:
        return change(f"Switch {unit.name} {'off' if on == '1' else 'on'}", switch_off, unit.id, off=on == "1")

    return Fact("Switched off", "", ticked=settings.off, edit=switch)


def _missing_fact(unit: Unit, *, missing: bool) -> Fact:
    def turn(on: str) -> Change:
        text = f"{unit.name} is missing on this session" if on == "1" else f"{unit.name} is there after all"
        return change(text, set_missing, unit.id, on == "1")

    return Fact("Missing tonight", "", ticked=missing, edit=turn)


def _scene_fact(unit: Unit, scene: Scene) -> Fact:
    def apart(on: str) -> Change:
        text = (
            f"Keep {unit.name}'s switches for {scene.name} alone"
            if on == "1"
            else f"Let {unit.name} stand as in every scene"
        )
        return change(text, set_apart, unit.id, on == "1")

    return Fact(f"Stands otherwise in {scene.name}", "", ticked=unit.id in scene.settings, edit=apart)


def _put_at(studio: Studio, unit: UnitId, name: str) -> Studio:
    if not name.strip():
        return put_unit(studio, unit, None)
    studio = new_place(studio, name)
    return put_unit(studio, unit, place_named(studio, " ".join(name.split())))


def _deeds(unit: Unit) -> tuple[Deed, ...]:
    return (Deed("Remove from the rig", change(f"Remove {unit.name}", remove_unit, unit.id)),)


def unit_working(survey: Survey, unit: Unit) -> tuple[str, ...]:
    """Return how a unit's clock and its driver numbers come about."""
    lines: list[str] = []
    studio = survey.studio
    clock = survey.clocks.by_unit.get(unit.id)
    if clock is not None:
        way = f" over {clock.via} from {studio.units[clock.from_unit].name}" if clock.from_unit else ""
        words = {
            "leads": "runs on its own crystal and leads",
            "locked": f"follows{way}, {clock.hops} hop{'s' if clock.hops != 1 else ''} from the leader",
            "silent": "waits for a clock that does not arrive",
            "adrift": f"follows{way}, which is not locked itself",
            "ring": f"follows{way}, in a ring",
        }[clock.state]
        lines.append(f"clock: {words}")
    for direction, channels in (("in", survey.numbering.inputs), ("out", survey.numbering.outputs)):
        mine = [d for d in channels if d.unit == unit.id]
        for first in [d for d in mine if d.channel.index == d.channel.block_first]:
            last = first.before + first.channel.block_last
            span = f"{first.number}–{last}" if last > first.number else f"{first.number}"
            dead = sum(1 for d in mine if d.channel.block_first == first.channel.block_first and not d.channel.live)
            note = f"  ({dead} dead at {rate_text(survey.rate_hz)})" if dead else ""
            lines.append(f"driver {direction} {span:<7} {first.channel.block.label}{note}")
    return (*lines, *profile_working(studio.profile_of(unit.id)))


def profile_working(profile: Profile) -> tuple[str, ...]:
    """Return what the profile states about power, space, setting up and care."""
    lines = []
    supply = {
        "mains": "mains, an outlet of its own",
        "adapter": "mains adapter, an outlet of its own",
        "bus": "fed by its bus",
        "phantom": "runs on 48 V",
        "battery": "battery",
        "none": "passive",
    }[profile.supply]
    watts = f", {profile.power_w:g} W" if profile.power_w is not None else ""
    space = f", {profile.rack_units:g} RU" if profile.rack_units else ""
    lines.append(f"supply: {supply}{watts}{space}")
    if profile.bus:
        lines.append(f"bus: {profile.bus}")
    if profile.is_digital:
        lines.append(
            f"own clock: ±{profile.ppm:g} ppm stated" if profile.ppm is not None else "own clock: tolerance not stated"
        )
        lines.append(f"lock light: {profile.lock_light}")
    lines += [f"once: {text}" for text in profile.setup]
    lines += [f"mind: {text}" for text in profile.cautions]
    return tuple(lines)
