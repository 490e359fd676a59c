"""An interface needs a socket of the computer that its bus, or a chain of adapters, fits."""

from collections import Counter
from collections.abc import Iterator, Sequence

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.computer import attach, chain
from ennead.standards.computer_ports import (
    CHAINS,
    COMPUTER_ADAPTERS,
    COMPUTER_SOCKETS,
    SocketKind,
    adapter_chain,
    why_no_way,
)
from ennead.studio.house import Computer
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble where a bus does not come through or sockets run out, a note where the socket is left open."""
    for computer in survey.computers.values():
        if not any(computer.sockets.values()):
            continue
        # A chained box takes a socket of the one before it; one that is there only to be set up takes its turn.
        used = Counter(
            a.socket for u, a in computer.attachments.items() if a.behind is None and computer.beside.get(u) != "setup"
        )
        free = {s: n - used[s] for s, n in computer.sockets.items()}
        for unit in (*computer.interfaces, *(u for u, how in computer.beside.items() if how == "sound")):
            bus = survey.views[unit].profile.bus
            chosen = computer.attachments.get(unit)
            if chosen is None and bus:
                yield _open(survey, computer, unit, free)
            elif (
                chosen is not None and chosen.behind is None and bus and why_no_way(bus, chosen.adapters, chosen.socket)
            ):
                reason = why_no_way(bus, chosen.adapters, chosen.socket)
                yield _trouble(
                    survey,
                    computer,
                    unit,
                    f"{_name(survey, unit)} cannot be plugged into {computer.name}: {reason}.",
                    free,
                )
        for socket, left in free.items():
            if left < 0:
                crowd = [
                    u
                    for u, a in computer.attachments.items()
                    if a.socket == socket and a.behind is None and computer.beside.get(u) != "setup"
                ]
                label = COMPUTER_SOCKETS[socket].label
                message = (
                    f"{computer.name} has {computer.sockets[socket]} × {label}, and {used[socket]} interfaces want it."
                )
                yield _trouble(survey, computer, crowd[-1], message, free, crowd)


def _name(survey: Parts, unit: UnitId) -> str:
    return survey.units[unit].name


def _ways(survey: Parts, unit: UnitId, free: dict[SocketKind, int]) -> tuple[Fix, ...]:
    """Return one fix for every free socket the interface comes into, fewest adapters first."""
    bus = survey.views[unit].profile.bus
    ways = [(chain, s) for s, n in free.items() if n > 0 and (chain := adapter_chain(bus, s)) is not None]
    fixes = []
    for chain, socket in sorted(ways, key=lambda way: len(way[0])):
        over = f" over {' and '.join(COMPUTER_ADAPTERS[a].label for a in chain)}" if chain else ""
        text = f"Plug {_name(survey, unit)} into {COMPUTER_SOCKETS[socket].label}{over}"
        fixes.append(Fix(text, change(text, attach, unit, socket, chain)))
    return tuple(fixes)


def _chains(survey: Parts, computer: Computer, unit: UnitId) -> tuple[Fix, ...]:
    """Return one fix for every box of the same chaining bus, plugged in already, behind which the interface could hang."""
    bus, fixes = survey.views[unit].profile.bus, []
    for other, attached in computer.attachments.items():
        if other != unit and bus in CHAINS and survey.views[other].profile.bus == bus and attached.behind != unit:
            text = f"Chain {_name(survey, unit)} behind {_name(survey, other)}, if that has a second {bus} socket"
            fixes.append(Fix(text, change(text, chain, unit, other)))
    return tuple(fixes)


def _trouble(
    survey: Parts,
    computer: Computer,
    unit: UnitId,
    message: str,
    free: dict[SocketKind, int],
    crowd: Sequence[UnitId] = (),
) -> Finding:
    why = "Without a socket that its bus fits the computer never sees it, and none of its channels."
    return Finding(
        "interface_does_not_plug_in",
        "trouble",
        subject_of(unit),
        (unit, computer.id),
        message,
        why,
        tuple(f for u in crowd or (unit,) for f in (*_chains(survey, computer, u), *_ways(survey, u, free))),
        _working(survey, computer, unit, free),
    )


def _open(survey: Parts, computer: Computer, unit: UnitId, free: dict[SocketKind, int]) -> Finding:
    name, bus = _name(survey, unit), survey.views[unit].profile.bus
    ways = (*_ways(survey, unit, free), *_chains(survey, computer, unit))
    if not ways:
        message = f"{computer.name} has no free socket for {name}, which needs {bus}."
        return _trouble(survey, computer, unit, message, free)
    return Finding(
        "interface_does_not_plug_in",
        "note",
        subject_of(unit),
        (unit, computer.id),
        f"Nobody has said which socket of {computer.name} takes {name} ({bus}).",
        "On the evening the right adapter is in another room.",
        ways,
        _working(survey, computer, unit, free),
    )


def _working(survey: Parts, computer: Computer, unit: UnitId, free: dict[SocketKind, int]) -> tuple[str, ...]:
    lines = [f"{_name(survey, unit)} hangs on {survey.views[unit].profile.bus}"]
    lines += [f"{COMPUTER_SOCKETS[s].label}: {n} there, {n - free[s]} taken" for s, n in computer.sockets.items() if n]
    return tuple(lines)
