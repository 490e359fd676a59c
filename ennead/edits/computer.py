"""Edits of the computers: their interfaces, the order, the socket of each, and which of them are resampled."""

from collections.abc import Sequence
from typing import get_args

from ennead.edits.names import clean_name
from ennead.standards.computer_ports import CHAINS, COMPUTER_ADAPTERS, COMPUTER_SOCKETS, SocketKind, why_no_way
from ennead.standards.rates import RATES_HZ
from ennead.studio.computer_names import MOST_NUMBERS, SystemNames
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import MOST_SAMPLES, Attachment, AudioTimes, Beside, Computer
from ennead.studio.ids import ComputerId, UnitId
from ennead.studio.record import names_of, replace

MOST_SOCKETS = 99


def _put(studio: Studio, computer: Computer) -> Studio:
    return replace(studio, hosts=studio.hosts.put(computer.id, computer))


def _computer(studio: Studio, computer: ComputerId) -> Computer:
    try:
        return studio.hosts[computer]
    except KeyError:
        raise UnknownObject("computer", computer) from None


def _computer_of(studio: Studio, unit: UnitId, wish: str) -> Computer:
    studio.unit(unit)
    for computer in studio.hosts.values():
        if unit in computer.interfaces or unit in computer.beside:
            return computer
    raise BadValue(wish, studio.unit(unit).name, "It is not on a computer.")


def _numbering(studio: Studio, unit: UnitId, wish: str) -> Computer:
    computer = _computer_of(studio, unit, wish)
    if unit not in computer.interfaces:
        raise BadValue(wish, studio.unit(unit).name, "It is none of the computer's interfaces.")
    return computer


def _chained(computer: Computer, unit: UnitId) -> set[UnitId]:
    """Return a box and all that hang on it, one behind the other."""
    found = {unit}
    while more := {k for k, a in computer.attachments.items() if a.behind in found} - found:
        found |= more
    return found


def _without(computer: Computer, unit: UnitId) -> dict[UnitId, Attachment]:
    """Return what is plugged in without a box and those that hang on it."""
    gone = _chained(computer, unit)
    return {k: a for k, a in computer.attachments.items() if k not in gone}


def set_times(studio: Studio, computer: ComputerId, rate_hz: int, **times: int | None) -> Studio:
    """Note how late a computer is at a rate: `buffer`, `safety_in`, `safety_out`, `reported_in`, `reported_out`, samples.

    Raises
    ------
    UnknownObject
    BadValue
        If that is no studio rate, no such time, or no number of samples.
    """
    there = _computer(studio, computer)
    if rate_hz not in RATES_HZ:
        raise BadValue(f"a rate of {there.name}", rate_hz, "Choose one of the studio rates.")
    for name, samples in times.items():
        if name not in names_of(AudioTimes):
            raise BadValue("a time of a computer", name, f"Known are: {', '.join(names_of(AudioTimes))}.")
        if samples is not None and not 0 <= samples <= MOST_SAMPLES:
            raise BadValue(
                f"the {name.replace('_', ' ')} of {there.name}", samples, f"Give 0 to {MOST_SAMPLES:,} samples."
            )
    now = replace(there.times_at(rate_hz), **times)
    others = {rate: held for rate, held in there.times.items() if rate != str(rate_hz)}
    kept = others if now == AudioTimes() else {**others, str(rate_hz): now}
    return _put(studio, replace(there, times=dict(sorted(kept.items(), key=lambda item: int(item[0])))))


def note_names(
    studio: Studio, computer: ComputerId, rate_hz: int, inputs: Sequence[str], outputs: Sequence[str]
) -> Studio:
    """Note what a computer calls its numbers at a rate, as read from it; without any, nothing is known of it.

    Raises
    ------
    UnknownObject
    BadValue
        If that is no studio rate, or there are more numbers, or longer names, than a computer has.
    """
    there = _computer(studio, computer)
    if rate_hz not in RATES_HZ:
        raise BadValue(f"a rate of {there.name}", rate_hz, "Choose one of the studio rates.")
    if max(len(inputs), len(outputs)) > MOST_NUMBERS:
        raise BadValue(
            f"the numbers of {there.name}", max(len(inputs), len(outputs)), f"Give {MOST_NUMBERS:,} at most."
        )
    ins, outs = (tuple([clean_name(n, "a name", may_be_empty=True) for n in names]) for names in (inputs, outputs))
    others = {rate: held for rate, held in there.names.items() if rate != str(rate_hz)}
    kept = {**others, str(rate_hz): SystemNames(ins, outs)} if ins or outs else others
    return _put(studio, replace(there, names=dict(sorted(kept.items(), key=lambda item: int(item[0])))))


def add_computer(studio: Studio, name: str = "") -> Studio:
    """Add a computer with nothing on it.

    Raises
    ------
    BadValue
    """
    studio, key = studio.with_counter("hosts")
    name = clean_name(
        name or (f"Computer {len(studio.hosts) + 1}" if studio.hosts else "Computer"), "the name of a computer"
    )
    return _put(studio, Computer(ComputerId(key), name))


def remove_computer(studio: Studio, computer: ComputerId) -> Studio:
    """Take a computer out of the studio.

    Raises
    ------
    BadValue
        If an interface is still on it.
    """
    found = _computer(studio, computer)
    if found.interfaces or found.beside:
        raise BadValue("removed", found.name, "Take its interfaces off first.")
    return replace(studio, hosts=studio.hosts.without(computer))


def rename_computer(studio: Studio, computer: ComputerId, name: str) -> Studio:
    """Give a computer another name.

    Raises
    ------
    UnknownObject, BadValue
    """
    return _put(studio, replace(_computer(studio, computer), name=clean_name(name, "the name of a computer")))


def describe_computer(
    studio: Studio, computer: ComputerId, *, system: str | None = None, notes: str | None = None
) -> Studio:
    """Note the version of a computer's system, and what to remember about its drivers.

    Raises
    ------
    UnknownObject, BadValue
    """
    found = _computer(studio, computer)
    if system is not None:
        found = replace(found, system=clean_name(system, "a system version", may_be_empty=True))
    if notes is not None:
        found = replace(found, driver_notes=clean_name(notes, "a note", may_be_empty=True))
    return _put(studio, found)


def count_sockets(studio: Studio, computer: ComputerId, socket: SocketKind, count: int) -> Studio:
    """Note how many of a socket a computer has.

    Raises
    ------
    BadValue
    """
    if socket not in get_args(SocketKind):
        raise BadValue("a socket of a computer", socket, "Choose one of the kinds in the list.")
    if not 0 <= count <= MOST_SOCKETS:
        raise BadValue("a number of sockets", count, f"Give 0 to {MOST_SOCKETS}.")
    found = _computer(studio, computer)
    return _put(studio, replace(found, sockets={**found.sockets, socket: count}))


def join_computer(studio: Studio, unit: UnitId, computer: ComputerId | None = None) -> Studio:
    """Put an interface on a computer, numbered after the interfaces already there.

    Raises
    ------
    BadValue
        If the unit has no driver map, or is on a computer already.
    """
    if not studio.profile_of(unit).driver_maps:
        raise BadValue("an interface of the computer", studio.unit(unit).name, "It has no driver map.")
    if any(unit in h.interfaces for h in studio.hosts.values()):
        raise BadValue("added to a computer twice", studio.unit(unit).name, "Take it off the first one.")
    if any(unit in h.beside for h in studio.hosts.values()):
        studio = leave_computer(studio, unit)
    computer = computer or next(iter(studio.hosts), None)
    if computer is None:
        studio = add_computer(studio)
        computer = next(iter(studio.hosts))
    found = _computer(studio, computer)
    return _put(studio, replace(found, interfaces=(*found.interfaces, unit)))


def leave_computer(studio: Studio, unit: UnitId) -> Studio:
    """Take a box off its computer; the interfaces after it move up in the numbering, and one chained behind it is unplugged.

    The first interface left becomes the clock the others are resampled to, where no other keeps its own.

    Raises
    ------
    UnknownObject, BadValue
    """
    computer = _computer_of(studio, unit, "taken off the computer")
    left = tuple(i for i in computer.interfaces if i != unit)
    attachments = _without(computer, unit)
    beside = {k: b for k, b in computer.beside.items() if k != unit}
    corrected = tuple(i for i in computer.corrected if i != unit)
    if left and set(corrected) == set(left):
        corrected = tuple(i for i in corrected if i != left[0])
    return _put(studio, replace(computer, interfaces=left, attachments=attachments, corrected=corrected, beside=beside))


def use_beside(studio: Studio, unit: UnitId, how: Beside, computer: ComputerId | None = None) -> Studio:
    """Plug a box into a computer as none of its interfaces: for the system's sound, or only while it is being set up.

    Raises
    ------
    BadValue
        If the box never hangs on a computer.
    """
    profile = studio.profile_of(unit)
    if not profile.bus and not profile.driver_maps:
        raise BadValue("plugged into a computer", studio.unit(unit).name, "It has no socket for one.")
    if how not in get_args(Beside):
        raise BadValue("what a box beside the interfaces is for", how, f"Choose {' or '.join(get_args(Beside))}.")
    now = next((h.id for h in studio.hosts.values() if unit in (*h.interfaces, *h.beside)), None)
    if now is not None:
        studio = leave_computer(studio, unit)
    computer = computer or now or next(iter(studio.hosts), None)
    if computer is None:
        studio = add_computer(studio)
        computer = next(iter(studio.hosts))
    found = _computer(studio, computer)
    return _put(studio, replace(found, beside={**found.beside, unit: how}))


def chain(studio: Studio, unit: UnitId, behind: UnitId) -> Studio:
    """Plug a box into the second socket of another one on the same computer, instead of into the computer.

    Raises
    ------
    BadValue
        If their bus does not chain, the other is not plugged in yet, or they would hang on each other.

    References
    ----------
    IEEE 1394 and Thunderbolt chain; USB and Ethernet want a socket of the computer, or a hub or switch, each.
    """
    computer = _computer_of(studio, unit, "chained")
    name, there = studio.unit(unit).name, studio.unit(behind).name
    first = computer.attachments.get(behind)
    if first is None:
        raise BadValue(
            f"the box in front of {name}", there, "Choose the socket of that one first, on the same computer."
        )
    bus, other = studio.profile_of(unit).bus, studio.profile_of(behind).bus
    if bus != other or bus not in CHAINS:
        raise BadValue(
            f"the box in front of {name}",
            there,
            f"Only boxes on {' or on '.join(CHAINS)} can be chained, both on the same.",
        )
    seen = {unit}
    here: UnitId | None = behind
    while here is not None:
        if here in seen:
            raise BadValue(f"the box in front of {name}", there, "They would hang on each other.")
        seen.add(here)
        attached = computer.attachments.get(here)
        here = attached.behind if attached is not None else None
    if len(seen) > CHAINS[bus]:
        raise BadValue(f"the box in front of {name}", there, f"A chain on {bus} has {CHAINS[bus]} boxes at most.")
    return _put(
        studio, replace(computer, attachments={**computer.attachments, unit: Attachment(first.socket, (), behind)})
    )


def change_computer(studio: Studio, unit: UnitId, computer: ComputerId) -> Studio:
    """Move an interface to another computer.

    Raises
    ------
    UnknownObject, BadValue
    """
    _computer(studio, computer)
    return join_computer(leave_computer(studio, unit), unit, computer)


def number_at(studio: Studio, unit: UnitId, place: int) -> Studio:
    """Make an interface the first, second … in its computer's numbering, counted from 1.

    Raises
    ------
    BadValue
    """
    computer = _numbering(studio, unit, "numbered")
    if not 1 <= place <= len(computer.interfaces):
        raise BadValue("a place in the numbering", place, f"Give 1 to {len(computer.interfaces)}.")
    rest = [i for i in computer.interfaces if i != unit]
    rest.insert(place - 1, unit)
    return _put(studio, replace(computer, interfaces=tuple(rest)))


def attach(studio: Studio, unit: UnitId, socket: SocketKind, adapters: tuple[str, ...] = ()) -> Studio:
    """Choose the socket of the computer an interface is plugged into, over a chain of adapters.

    Raises
    ------
    BadValue
        If the interface's bus does not come through.
    """
    computer = _computer_of(studio, unit, "plugged into a computer")
    bus = studio.profile_of(unit).bus
    if socket not in COMPUTER_SOCKETS or any(a not in COMPUTER_ADAPTERS for a in adapters):
        raise BadValue("a way into a computer", f"{socket} {adapters}", "Choose a socket and adapters from the lists.")
    reason = why_no_way(bus, adapters, socket) if bus else ""
    if reason:
        raise BadValue(f"the socket of {studio.unit(unit).name}", COMPUTER_SOCKETS[socket].label, f"There, {reason}.")
    moved = {k: replace(computer.attachments[k], socket=socket) for k in _chained(computer, unit) if k != unit}
    return _put(
        studio, replace(computer, attachments={**computer.attachments, **moved, unit: Attachment(socket, adapters)})
    )


def detach(studio: Studio, unit: UnitId) -> Studio:
    """Leave it open which socket of the computer an interface is plugged into.

    Raises
    ------
    UnknownObject, BadValue
    """
    computer = _computer_of(studio, unit, "unplugged")
    return _put(studio, replace(computer, attachments=_without(computer, unit)))


def correct_drift(studio: Studio, unit: UnitId, on: bool) -> Studio:
    """Let the computer resample an interface (drift correction), or no longer.

    Raises
    ------
    BadValue
        If no other interface is left as the clock of the computer.
    """
    computer = _numbering(studio, unit, "resampled")
    corrected = tuple(i for i in computer.interfaces if (i in computer.corrected or i == unit) and (on or i != unit))
    if len(corrected) == len(computer.interfaces):
        remedy = "One interface of a computer must keep its own clock; switch another's correction off."
        raise BadValue("resampled", studio.unit(unit).name, remedy)
    return _put(studio, replace(computer, corrected=corrected))
