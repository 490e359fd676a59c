"""Whether a document read from a file hangs together: every id known once, every reference pointing somewhere."""

from collections.abc import Iterable, Iterator
from typing import Any, Final

from ennead.files.bay_references import bay_problems
from ennead.files.rows import FormError
from ennead.rules.profile_holds_together import profile_faults
from ennead.standards.clock import MOST_PULL_PPM
from ennead.standards.computer_ports import COMPUTER_ADAPTERS
from ennead.standards.rates import RATES_HZ
from ennead.studio.computer_names import MOST_NUMBERS
from ennead.studio.document import MAPS, Studio
from ennead.studio.errors import EnneadError
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import MOST_SAMPLES, AudioTimes, Cable, Computer
from ennead.studio.ids import LETTERS, UnitId, number_of
from ennead.studio.inner_channels import is_inner
from ennead.studio.loop_use import MOST_CHANNELS
from ennead.studio.mixes import are_levels
from ennead.studio.plugs import cable_faults, own_faults
from ennead.studio.print_job import MOST_JOBS, job_fault, printing_fault, wait_in_ring
from ennead.studio.profile import Profile
from ennead.studio.recall import MOST_CARDS, card_fault, is_day
from ennead.studio.record import names_of
from ennead.studio.session import AIM_LABELS, SOURCE_RANGES, SPARES, Destination, SourceFacts, Wish
from ennead.studio.switches import gain_text, offers

#: Counters beyond this were not reached by counting, and ids made from there on could not be read again.
MOST_COUNTED: Final = 10**15


def in_id_order(objects: Iterable[Any]) -> FrozenMap[Any, Any]:
    """Return objects as a map in the order their ids were given out: the one order every file keeps.

    Raises
    ------
    FormError
        If an id is malformed.
    """
    rows = list(objects)
    for row in rows:
        _check_id(row.id)
    return FrozenMap({row.id: row for row in sorted(rows, key=lambda r: number_of(r.id))})


def in_key_order(rows: Iterable[tuple[str, Any]]) -> FrozenMap[Any, Any]:
    """Return rows as a map in the order their keys, which are ids, were given out.

    Raises
    ------
    FormError
        If an id is malformed.
    """
    pairs = list(rows)
    for key, _ in pairs:
        _check_id(key)
    return FrozenMap(sorted(pairs, key=lambda pair: number_of(pair[0])))


def _check_id(key: str) -> None:
    if not (key[1:].isascii() and key[1:].isdecimal() and len(key) < 18):
        raise FormError(f"“{key[:40]}” is no id; ids are a letter and a number, such as U1")


def check_references(studio: Studio) -> None:
    """Raise where an id, a counter or a reference does not hold.

    Raises
    ------
    FormError
    """
    for problem in _problems(studio):
        raise FormError(problem)


def _problems(studio: Studio) -> Iterator[str]:
    for name in MAPS:
        letter, last = LETTERS[name], studio.counters.get(LETTERS[name], 0)
        if not 0 <= last <= MOST_COUNTED:
            yield f"counters: {letter} stands at {last}, beyond all counting"
        for key in getattr(studio, name):
            if key[:1] != letter:
                yield f"{name}: “{key[:40]}” is no id of this kind; ids look like {letter}1"
            elif number_of(key) > last:
                yield f"counters: {letter} stands at {last}, but {key} exists"
    for name, price in studio.prices.items():
        if not 0 <= price < 1e9:
            yield f"prices: {price} for “{name[:40]}” is no price"
    if studio.session not in studio.sessions:
        yield f"session: there is no session “{studio.session}”"
    for profile in studio.profiles.values():
        yield from profile_problems(profile)
    yield from _house_problems(studio)
    for session in studio.sessions.values():
        if not -MOST_PULL_PPM <= session.pull_ppm <= MOST_PULL_PPM:
            yield f"sessions.{session.id}: its clocks cannot run {session.pull_ppm:g} ppm off the rate"
        if session.rate_hz not in RATES_HZ:
            yield f"sessions.{session.id}: {session.rate_hz} Hz is no studio rate"
        if len(set(session.sources)) != len(session.sources):
            yield f"sessions.{session.id}: a source stands in the list twice"
        for wish in session.wishes:
            yield from _wish_problems(studio, f"sessions.{session.id}", wish)
        if len(set(session.destinations)) != len(session.destinations):
            yield f"sessions.{session.id}: a destination stands in the list twice"
        for destination in session.destinations:
            if destination not in studio.destinations:
                yield f"sessions.{session.id}: there is no destination “{destination}”"
        if not set(session.aims) <= set(AIM_LABELS) or len(set(session.aims)) != len(session.aims):
            yield f"sessions.{session.id}: its aims are not those there are, each once"
        if not set(session.spare) <= set(SPARES) or any(not 0 <= n <= 9_999 for n in session.spare.values()):
            yield f"sessions.{session.id}: its spare inputs are no numbers of inputs"
    for key, facts in studio.destinations.items():
        yield from _destination_problems(studio, f"destinations.{key}", facts)
    for made in studio.sources.values():
        yield from _source_problems(studio, f"sources.{made.id}", made)
    for cable in studio.cables.values():
        yield from _cable_problems(studio, f"cables.{cable.id}", cable)
    yield from bay_problems(studio)
    yield from _record_problems(studio)
    # What stood may be plugged into what is no longer in the plan; it has to hang together in itself alone.
    for key, stood in studio.as_built.cables.items():
        if stood.id != key:
            yield f"as_built.cables: {key} holds another cable, {stood.id}"
        if len(stood.words) != len(stood.cable.plugs):
            yield f"as_built.cables.{key}: {len(stood.words)} words for {len(stood.cable.plugs)} plugs"
        for fault in own_faults(stood.cable):
            yield f"as_built.cables.{key}: {fault}"


def _wish_problems(studio: Studio, where: str, wish: Wish) -> Iterator[str]:
    if wish.source not in studio.sources:
        yield f"{where}: there is no source “{wish.source[:40]}”"
    if wish.outboard is not None and wish.outboard not in studio.units:
        yield f"{where}: there is no unit “{wish.outboard[:40]}”"
    if wish.preamp and wish.preamp not in studio.units and wish.preamp not in studio.profiles:
        yield f"{where}: there is no unit or profile “{wish.preamp[:40]}”"


def _line_problems(
    studio: Studio, where: str, line: SourceFacts | Destination, what: str, direction: str
) -> Iterator[str]:
    """Yield what is wrong with what sources and destinations have in common: channels, place, where they stand wired."""
    back, most = 0, 2
    if isinstance(line, Destination):
        back, most = line.back, MOST_CHANNELS if line.kind == "loop" else 2
    if not 1 <= line.channels <= most:
        yield f"{where}: a {what} has 1 {'or' if most == 2 else 'to'} {most} channels, not {line.channels}"
    if not 0 <= back <= (most if most > 2 else 0):
        says = "a loop comes back with 1 to 32" if most > 2 else "only a loop comes back with"
        yield f"{where}: {says} channels, not {back}"
    if line.place is not None and line.place not in studio.places:
        yield f"{where}: there is no place “{line.place}”"
    if len(line.at) > line.channels:
        yield f"{where}: {len(line.at)} sockets for {line.channels} channels"
    for end in line.at:
        try:
            # What is said to stand at a point is mended once the rest is known to hang together.
            if studio.port(end).direction not in ((direction, "either") if direction == "in" else (direction,)):
                yield f"{where}: {end.port} lies the wrong way"
        except EnneadError as error:
            yield f"{where}: {str(error).split('. ')[0].rstrip('.')}"


def _source_problems(studio: Studio, where: str, found: SourceFacts) -> Iterator[str]:
    yield from _line_problems(studio, where, found, "source", "out")
    yield from _inside_problems(studio, where, found)
    for name, (least, most) in SOURCE_RANGES.items():
        value = getattr(found, name)
        if value is not None and not least <= value <= most:
            yield f"{where}: {name} is {value}; {least:g} to {most:g} is possible"


def _inside_problems(studio: Studio, where: str, found: SourceFacts) -> Iterator[str]:
    if len(found.inside) > found.channels or len(set(found.inside)) < len(found.inside):
        yield f"{where}: {len(found.inside)} numbers without a socket for {found.channels} channels"
    for one in found.inside:
        if one.unit not in studio.units:
            yield f"{where}: there is no unit “{one.unit[:40]}”"
        elif not is_inner(studio.profile_of(one.unit), one):
            yield f"{where}: {one.unit} has no number “{one.block[:40]} {one.channel}” without a socket"


def _house_problems(studio: Studio) -> Iterator[str]:
    for unit in studio.units.values():
        where = f"units.{unit.id}"
        if unit.profile not in studio.profiles:
            yield f"{where}: there is no profile “{unit.profile}”"
            return
        profile = studio.profiles[unit.profile]
        if unit.place is not None and unit.place not in studio.places:
            yield f"{where}: there is no place “{unit.place}”"
        for port in unit.faults:
            if port not in profile.port_by_key:
                yield f"{where}: there is no port “{port}”"
        for key, choice in unit.settings.modes.items():
            mode = profile.mode(key)
            if mode is None or choice not in {c.key for c in mode.choices}:
                yield f"{where}: mode “{key}” cannot stand at “{choice}”"
        if profile.is_digital != bool(profile.clock_source(unit.settings.clock_source)):
            yield f"{where}: “{unit.settings.clock_source}” is not in its clock menu"
        if unit.settings.driver_map not in {"", *(m.key for m in profile.driver_maps)}:
            yield f"{where}: there is no driver map “{unit.settings.driver_map}”"
        if any(
            profile.port_by_key[p].pad_db is None for p in unit.settings.pads if p in profile.port_by_key
        ) or not set(unit.settings.pads) <= set(profile.port_by_key):
            yield f"{where}: there is no such pad"
        if not all(offers(profile, "gain", key, gain_text(gain)) for key, gain in unit.settings.gains.items()):
            yield f"{where}: there is no such gain"
        if not all(offers(profile, "output", key, state) for key, state in unit.settings.outputs.items()):
            yield f"{where}: there is no such output"
        if not all(levels and are_levels(profile, mix, levels) for mix, levels in unit.settings.mixes.items()):
            yield f"{where}: there is no such mix, or no such level in one"
        if not all(
            feed not in ("", lane) and offers(profile, "feed", lane, feed) for lane, feed in unit.settings.feeds.items()
        ):
            yield f"{where}: an output is fed by what it cannot be fed by"
        if not set(unit.settings.phantom) <= {b.key for b in profile.banks}:
            yield f"{where}: there is no such phantom bank"
    yield from _computer_problems(studio)


def _computer_problems(studio: Studio) -> Iterator[str]:
    seen = set()
    for computer in studio.hosts.values():
        if not set(computer.times) <= {str(rate) for rate in RATES_HZ}:
            yield f"hosts.{computer.id}: it has times at no studio rate"
        times = [getattr(held, name) for held in computer.times.values() for name in names_of(AudioTimes)]
        if any(samples is not None and not 0 <= samples <= MOST_SAMPLES for samples in times):
            yield f"hosts.{computer.id}: a time of it is no number of samples"
        if not set(computer.names) <= {str(rate) for rate in RATES_HZ}:
            yield f"hosts.{computer.id}: it has names at no studio rate"
        if any(len(names) > MOST_NUMBERS for read in computer.names.values() for names in (read.inputs, read.outputs)):
            yield f"hosts.{computer.id}: it has more than {MOST_NUMBERS} numbers"
        for unit_id in computer.interfaces:
            if unit_id not in studio.units or not studio.profile_of(unit_id).driver_maps:
                yield f"hosts.{computer.id}: “{unit_id}” is no interface of this studio"
            if unit_id in seen:
                yield f"hosts.{computer.id}: {unit_id} stands on a computer twice"
            seen.add(unit_id)
        for unit_id in computer.beside:
            if unit_id not in studio.units or not (
                studio.profile_of(unit_id).bus or studio.profile_of(unit_id).driver_maps
            ):
                yield f"hosts.{computer.id}: “{unit_id}” is nothing that hangs on a computer"
            if unit_id in seen:
                yield f"hosts.{computer.id}: {unit_id} stands on a computer twice"
            seen.add(unit_id)
        for unit_id in (*computer.corrected, *computer.attachments):
            if unit_id not in computer.interfaces and (unit_id in computer.corrected or unit_id not in computer.beside):
                yield f"hosts.{computer.id}: {unit_id} is not one of its interfaces"
        for unit_id in computer.attachments:
            if _hangs_on_itself(computer, unit_id):
                yield f"hosts.{computer.id}: {unit_id} is chained to nothing, or to itself"
        for attachment in computer.attachments.values():
            for adapter in attachment.adapters:
                if adapter not in COMPUTER_ADAPTERS:
                    yield f"hosts.{computer.id}: there is no adapter “{adapter}”"
        if any(not 0 <= count <= 99 for count in computer.sockets.values()):
            yield f"hosts.{computer.id}: a computer has 0 to 99 sockets of a kind"


def _hangs_on_itself(computer: Computer, unit: UnitId) -> bool:
    """Say whether the chain a box hangs on does not end at a socket of the computer."""
    seen: set[UnitId] = set()
    here: UnitId | None = unit
    while here is not None:
        if here in seen or here not in computer.attachments:
            return True
        seen.add(here)
        here = computer.attachments[here].behind
    return False


def _destination_problems(studio: Studio, where: str, destination: Destination) -> Iterator[str]:
    yield from _line_problems(studio, where, destination, "destination", "in")
    for unit in destination.boxes:
        if unit not in studio.units:
            yield f"{where}: there is no unit “{unit}”"
    if destination.boxes and destination.kind != "loop":
        yield f"{where}: boxes stand in loops alone"


def _record_problems(studio: Studio) -> Iterator[str]:
    """Yield what is wrong with recall cards and print jobs."""
    if len(studio.recalls) > MOST_CARDS or len(studio.prints) > MOST_JOBS:
        yield f"recalls: at most {MOST_CARDS:,} cards and {MOST_JOBS:,} print jobs are possible"
        return
    for card in studio.recalls.values():
        if card.unit and card.unit not in studio.units:
            yield f"recalls.{card.id}: there is no unit “{card.unit[:40]}”"
        if card.loop and card.loop not in studio.destinations:
            yield f"recalls.{card.id}: there is no loop “{card.loop[:40]}”"
        if fault := card_fault(card):
            yield f"recalls.{card.id}: {fault}"
    for job in studio.prints.values():
        for unit in job.boxes:
            if unit not in studio.units:
                yield f"prints.{job.id}: there is no unit “{unit[:40]}”"
        for card_id in job.cards.values():
            if card_id not in studio.recalls:
                yield f"prints.{job.id}: there is no card “{card_id[:40]}”"
        for other in job.after:
            if other not in studio.prints:
                yield f"prints.{job.id}: there is no job “{other[:40]}”"
        if job.printed and not is_day(job.printed):
            yield f"prints.{job.id}: “{job.printed[:40]}” is no day"
        if fault := job_fault(job):
            yield f"prints.{job.id}: {fault}"
    if wait_in_ring(studio.prints):
        yield "prints: jobs wait for each other in a ring"
    if fault := printing_fault(studio.printing):
        yield f"printing: {fault}"


def _cable_problems(studio: Studio, where: str, cable: Cable) -> Iterator[str]:
    for session in cable.sessions:
        if session not in studio.sessions:
            yield f"{where}: there is no session “{session}”"
    try:
        for fault in cable_faults(studio, cable):
            yield f"{where}: {fault}"
    except EnneadError as error:
        yield f"{where}: {str(error).split('. ')[0].rstrip('.')}"


def profile_problems(profile: Profile) -> Iterator[str]:
    """Yield what in a profile makes working with it impossible, with its place."""
    for fault in profile_faults(profile):
        if fault.breaks:
            yield f"profiles.{profile.id} “{profile.name[:60]}”: {fault}"
