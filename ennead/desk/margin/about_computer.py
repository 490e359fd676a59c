"""What the margin says about a computer, and about an interface's place on one."""

from typing import Final, cast

from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.change import Change, change
from ennead.edits.computer import (
    add_computer,
    attach,
    chain,
    change_computer,
    correct_drift,
    count_sockets,
    describe_computer,
    detach,
    join_computer,
    leave_computer,
    number_at,
    remove_computer,
    rename_computer,
    set_times,
    use_beside,
)
from ennead.reports.computers import computer_spans
from ennead.standards.computer_ports import CHAINS, COMPUTER_ADAPTERS, COMPUTER_SOCKETS, SocketKind, adapter_chain
from ennead.standards.rates import rate_text
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import Beside, Computer, Unit
from ennead.studio.ids import ComputerId, UnitId
from ennead.survey.survey import Survey

_NEW, _NONE = "new", ""
_SERVES: Final = {"": "one of its interfaces", "sound": "system sound, apart", "setup": "there only to be set up"}


def about_computer(survey: Survey, computer_id: ComputerId) -> Notes:
    """Return the notes about a computer: its system, its sockets, its interfaces."""
    computer = survey.studio.hosts[computer_id]
    facts = [
        Fact("Name", computer.name, edit=lambda t: change(f"Rename {computer.name}", rename_computer, computer_id, t)),
        Fact(
            "System",
            computer.system,
            edit=lambda t: change(f"Note {computer.name}'s system", describe_computer, computer_id, system=t),
        ),
        Fact(
            "Driver notes",
            computer.driver_notes,
            edit=lambda t: change(f"Note {computer.name}'s drivers", describe_computer, computer_id, notes=t),
        ),
    ]
    facts += [_count_fact(computer, socket) for socket in COMPUTER_SOCKETS]
    facts += [_time_fact(computer, survey.rate_hz, name, label) for name, label in _TIMES.items()]
    deeds = [Deed("Add another computer", change("Add a computer", add_computer))]
    deeds.insert(0, Deed("Read this computer…", wish="read_computer"))
    if not computer.interfaces and len(survey.studio.hosts) > 1:
        deeds.append(Deed("Remove this computer", change(f"Remove {computer.name}", remove_computer, computer_id)))
    return Notes(computer.name, "computer", tuple(facts), tuple(deeds), computer_spans(survey, computer))


#: What is said of a computer at the session's rate, samples.
_TIMES: Final = {
    "buffer": "Buffer",
    "safety_in": "Safety offset, in",
    "safety_out": "Safety offset, out",
    "reported_in": "Reported latency, in",
    "reported_out": "Reported latency, out",
}


def _time_fact(computer: Computer, rate_hz: int, name: str, label: str) -> Fact:
    now = getattr(computer.times_at(rate_hz), name)

    def note(text: str) -> Change:
        bare = text.replace(",", "").removesuffix("samples").strip()
        try:
            samples = int(bare) if bare else None
        except ValueError:
            raise BadValue(f"the {label.lower()}", text, "Give whole samples, or nothing.") from None
        return change(
            f"Note {computer.name}'s {label.lower()} at {rate_text(rate_hz)}",
            set_times,
            computer.id,
            rate_hz,
            **{name: samples},
        )

    return Fact(f"{label} at {rate_text(rate_hz)}", "" if now is None else str(now), edit=note)


def _count_fact(computer: Computer, socket: SocketKind) -> Fact:
    label = COMPUTER_SOCKETS[socket].label

    def count(text: str) -> Change:
        try:
            number = int(text or "0")
        except ValueError:
            raise BadValue("a number of sockets", text, "Give a whole number, such as 2.") from None
        return change(f"Count {computer.name}'s {label}", count_sockets, computer.id, socket, number)

    return Fact(label, str(computer.sockets.get(socket, 0)), edit=count)


def computer_facts(survey: Survey, unit: Unit) -> list[Fact]:
    """Return where an interface hangs: its computer, its place in the numbering, its socket, drift correction."""
    studio = survey.studio
    if not studio.profile_of(unit.id).driver_maps:
        return []
    computer = next((h for h in studio.hosts.values() if unit.id in h.interfaces or unit.id in h.beside), None)
    choices = [(_NONE, "none"), *((h.id, h.name) for h in studio.hosts.values()), (_NEW, "another computer")]
    facts = [
        Fact(
            "Computer",
            computer.id if computer else _NONE,
            tuple(choices),
            lambda key: change(f"Move {unit.name} to another computer", _move, unit.id, key),
        )
    ]
    if computer is None:
        return facts
    facts.append(
        Fact(
            "Serves as",
            computer.beside.get(unit.id, _NONE),
            tuple(_SERVES.items()),
            lambda how: change(f"Use {unit.name} as {_SERVES[how]}", _serve, unit.id, how),
        )
    )
    many = len(computer.interfaces)
    if unit.id in computer.beside:
        return [*facts, *_socket_facts(survey, computer, unit)]
    if many > 1:
        places = tuple((str(n), f"{n} of {many}") for n in range(1, many + 1))
        here = str(computer.interfaces.index(unit.id) + 1)
        facts.append(
            Fact("Numbered", here, places, lambda n: change(f"Number {unit.name} {n}.", number_at, unit.id, int(n)))
        )
    facts += _socket_facts(survey, computer, unit)
    if many > 1 and (unit.id in computer.corrected or len(computer.corrected) < many - 1):

        def correct(on: str) -> Change:
            word = "on" if on == "1" else "off"
            return change(f"Switch {unit.name}'s drift correction {word}", correct_drift, unit.id, on == "1")

        facts.append(Fact("Drift correction", "", ticked=unit.id in computer.corrected, edit=correct))
    return facts


def _socket_facts(survey: Survey, computer: Computer, unit: Unit) -> list[Fact]:
    bus = survey.studio.profile_of(unit.id).bus
    if not bus:
        return []
    counted = [s for s, n in computer.sockets.items() if n] or list(COMPUTER_SOCKETS)
    ways = {s: over for s in counted if (over := adapter_chain(bus, s)) is not None}
    now = computer.attachments.get(unit.id)
    if now is not None:
        ways[now.socket] = now.adapters
    choices = [(_NONE, "not chosen"), *((s, COMPUTER_SOCKETS[s].label) for s in COMPUTER_SOCKETS if s in ways)]
    names = {
        u: survey.studio.units[u].name
        for u in computer.attachments
        if u != unit.id and bus in CHAINS and survey.studio.profile_of(u).bus == bus
    }
    choices += [(u, f"behind {name}, in a chain") for u, name in names.items()]

    def plug(key: str) -> Change:
        if not key:
            return change(f"Leave {unit.name}'s socket open", detach, unit.id)
        if key in names:
            return change(f"Chain {unit.name} behind {names[UnitId(key)]}", chain, unit.id, UnitId(key))
        socket = next(s for s in COMPUTER_SOCKETS if s == key)
        return change(f"Plug {unit.name} into {COMPUTER_SOCKETS[socket].label}", attach, unit.id, socket, ways[socket])

    facts = [Fact("Socket", (now.behind or now.socket) if now else _NONE, tuple(choices), plug)]
    if now is not None and now.adapters:
        facts.append(Fact("Over", ", ".join(COMPUTER_ADAPTERS[a].label for a in now.adapters)))
    return facts


def _serve(studio: Studio, unit: UnitId, how: str) -> Studio:
    """Make a box on a computer one of its interfaces, or something beside them."""
    computer = next(h.id for h in studio.hosts.values() if unit in h.interfaces or unit in h.beside)
    if how == _NONE:
        return join_computer(leave_computer(studio, unit), unit, computer)
    return use_beside(studio, unit, cast("Beside", how), computer)


def _move(studio: Studio, unit: UnitId, key: str) -> Studio:
    if key == _NONE:
        return leave_computer(studio, unit)
    if key == _NEW:
        studio = add_computer(studio)
        key = next(reversed(studio.hosts))
    if any(unit in h.interfaces or unit in h.beside for h in studio.hosts.values()):
        return change_computer(studio, unit, ComputerId(key))
    return join_computer(studio, unit, ComputerId(key))
