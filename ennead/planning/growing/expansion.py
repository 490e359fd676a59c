"""Connect this expander to that interface: the cables, modes, clock and numbers it takes, as a proposal."""

from collections.abc import Callable, Iterator
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

from ennead.edits.cables import added, connect, misfit
from ennead.edits.change import Change, Edit, step
from ennead.edits.computer import leave_computer
from ennead.edits.settings import set_mode
from ennead.planning.clock.clock_plan import Policy, clock_change, consequences, plan_clock
from ennead.standards.links import WORD, formats_join
from ennead.standards.rates import rate_text
from ennead.standards.signals import CABLE_LABELS
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey


class CannotExpand(EnneadError):
    """Two boxes that no cable joins into one.

    Parameters
    ----------
    reason : str
        A whole sentence.
    """

    def __init__(self, expander: str, interface: str, reason: str) -> None:
        super().__init__(expander, interface, reason)
        self.expander, self.interface, self.reason = expander, interface, reason

    def __str__(self) -> str:
        return f"{self.expander} cannot be connected to {self.interface}. {self.reason}"


@dataclass(frozen=True, slots=True)
class Expansion:
    """A proposal and what follows from it.

    Parameters
    ----------
    cables : int
        Cables to run.
    clocked : bool
        Whether one unit can lead the clock of all of them.
    said : tuple of str
        What it brings, a sentence each: numbers, clock, what must be set, stored or fetched.
    """

    change: Change
    after: Studio
    cables: int
    clocked: bool
    said: tuple[str, ...]


def connect_expander(
    survey: Survey, interface: UnitId, expander: UnitId, *, both_ways: bool = False, policy: Policy = "fewest"
) -> Expansion:
    """Return how an expander is joined to an interface at the session's rate.

    Parameters
    ----------
    both_ways : bool
        Whether its outputs are wanted too, which takes cables back.

    Raises
    ------
    CannotExpand
        Also where one of the two has no digital socket for it at all.
    """
    studio = survey.studio
    names = studio.units[expander].name, studio.units[interface].name
    steps: list[Edit] = []

    def take(edit: Edit) -> None:
        nonlocal studio
        studio = edit(studio)
        steps.append(edit)

    for edit in _modes(survey, expander):
        take(edit)
    if expander in survey.numbering.computer_of and not Survey(studio).views[expander].inputs:
        take(step(leave_computer, expander))
    cables = _run_cables(studio, expander, interface, take)
    if not cables:
        rates = survey.profiles[expander].rates_hz
        if survey.rate_hz not in rates:
            slower = rate_text(max(r for r in rates if r < survey.rate_hz or r == min(rates)))
            raise CannotExpand(*names, f"{names[0]} does not run at {rate_text(survey.rate_hz)}. Go to {slower} first.")
        raise CannotExpand(*names, _why_no_cable(survey, expander, interface))
    back = _run_cables(studio, interface, expander, take) if both_ways else 0
    after = Survey(studio, survey)
    domain = after.clocks.domain_of(expander)
    alternatives = plan_clock(after, domain, policy).alternatives
    if alternatives:
        for edit in clock_change(after, alternatives[0]).steps:
            take(edit)
    final = Survey(studio, survey)
    said = [
        *_numbers(final, expander),
        *_lacks(final, expander, cables, back, both_ways=both_ways),
        *_deeds(survey, final),
    ]
    if alternatives:
        leader = studio.units[alternatives[0].leader].name
        said.append(f"Clock: {leader} leads.")
        said += consequences(after, alternatives[0])
    else:
        said.append("Clock: over these cables nobody can lead them all; see the Clock sheet.")
    moved = rehearse(survey, final)
    said += [f"Track {m.track} moves from {m.before} to {m.after}." for m in moved.renumbered]
    said += [f"Track {r.track} would be lost." for r in moved.lost]
    label = f"Connect {names[0]} to {names[1]}"
    return Expansion(Change(label, tuple(steps)), studio, cables + back, bool(alternatives), tuple(said))


def likely_pair(survey: Survey) -> tuple[UnitId, UnitId] | None:
    """Return the interface and the box behind it that most likely are to be joined now; None where no cable fits any two.

    First come boxes that no digital cable has yet, expanders and converters before others, then interfaces that none
    has yet, then those in the same place.
    """
    studio, numbering = survey.studio, survey.numbering
    linked = {u for n in survey.links.values() if n.digital and n.sends not in WORD for u in (n.start.unit, n.end.unit)}
    found: list[tuple[tuple[bool, ...], UnitId, UnitId]] = []
    for box, view in survey.views.items():
        if view.profile.role == "clock":
            continue
        outs = [
            p
            for p in view.profile.ports
            if p.direction == "out" and p.key in view.digital and not survey.passages[box].leaving.get(p.key)
        ]
        for interface in numbering.computer_of:
            there = survey.views[interface]
            held = survey.held_inputs.get(interface, ())
            ins = [
                p for p in there.profile.ports if p.direction == "in" and p.key in there.digital and p.key not in held
            ]
            fits = any(not misfit(a, b) and a.carries[0] not in WORD for a in outs for b in ins)
            if interface != box and fits:
                far = studio.units[box].place != studio.units[interface].place
                rank = (
                    box in numbering.computer_of,
                    box in linked,
                    view.profile.role not in ("expander", "converter"),
                    interface in linked,
                    far,
                )
                found.append((rank, interface, box))
    return min(found, key=lambda f: f[0])[1:] if found else None


def _why_no_cable(survey: Survey, expander: UnitId, interface: UnitId) -> str:
    """Return why no cable runs from an expander to an interface, in whole sentences with a way out that there is."""
    for unit, direction, way in ((expander, "out", "output"), (interface, "in", "input")):
        view = survey.views[unit]
        if not any(
            p.direction == direction and p.key in view.digital and view.formats[p.key] not in WORD
            for p in view.profile.ports
        ):
            lines = any(p.direction == direction and "line" in p.carries for p in view.profile.ports)
            remedy = (
                f"Its line {way}s are the only way."
                if lines
                else "It has nothing to send."
                if way == "output"
                else "Nothing can be added to it."
            )
            return f"{survey.studio.units[unit].name} has no digital {way}. {remedy}"
    return (
        "No free digital output of the one fits a free digital input of the other. Free a socket, or use another kind"
        " of link."
    )


def _modes(survey: Survey, expander: UnitId) -> Iterator[Edit]:
    """Yield the settings under which a box sends its analogue inputs out digitally."""

    def sends(studio: Studio) -> int:
        view = Survey(studio).views[expander]
        return sum(
            1
            for (port, _), ends in view.inside.items()
            if port not in view.digital and any(e[0] in view.digital for e in ends)
        )

    best, now = survey.studio, sends(survey.studio)
    chosen: list[Edit] = []
    for mode in survey.studio.profile_of(expander).modes:
        for choice in mode.choices:
            edit = step(set_mode, expander, mode.key, choice.key)
            if (more := sends(edit(best))) > now:
                best, now = edit(best), more
                chosen.append(edit)
    yield from chosen


def _run_cables(studio: Studio, start: UnitId, end: UnitId, take: Callable[[Edit], None]) -> int:
    """Run as many cables as the channels need at this rate; set what must be set for both ends to agree."""
    count = 0
    for _ in range(8):
        survey = Survey(studio)
        view, there = survey.views[start], survey.views[end]
        wanted = _wanted(survey, start, end)
        held: AbstractSet[str] = survey.held_inputs.get(end, frozenset())
        found: tuple[str, str, Edit | None] | None = None
        for out in view.profile.ports:
            if (
                out.direction != "out"
                or out.key not in view.digital
                or survey.passages[start].leaving.get(out.key)
                or out.key not in wanted
            ):
                continue
            for into in there.profile.ports:
                if into.direction != "in" or into.key not in there.digital or into.key in held or misfit(out, into):
                    continue
                sends, takes = view.formats[out.key], there.formats[into.key]
                if formats_join(sends, takes) and there.lanes[into.key]:
                    found = out.key, into.key, None
                    break
                mode = there.profile.mode(into.format_mode or "")
                if found is None and mode is not None and any(c.key == sends for c in mode.choices):
                    found = out.key, into.key, step(set_mode, end, mode.key, sends)
            if found is not None and found[2] is None:
                break
        if found is None:
            return count
        if found[2] is not None:
            take(found[2])
            studio = found[2](studio)
        edit = step(connect, PortEnd(start, found[0]), PortEnd(end, found[1]))
        take(edit)
        studio = edit(studio)
        count += 1
    return count


def _wanted(survey: Survey, start: UnitId, end: UnitId) -> set[str]:
    """Return the digital outputs of a box over which something would run: its analogue inputs, or its driver outputs."""
    view, there = survey.views[start], survey.views[end]
    inner = {
        e[0]
        for (port, _), ends in view.inside.items()
        if port not in view.digital
        for e in ends
        if e[0] in view.digital
    }
    numbered = {c.port for c in view.outputs if c.port in view.digital and c.live}
    feeds = {
        port
        for (port, _), ends in there.inside.items()
        if port in there.digital and any(e[0] not in there.digital for e in ends)
    }
    room = len(feeds - survey.held_inputs.get(end, frozenset()))
    if inner:
        return {key for key in inner if view.lanes[key]}
    return {key for key in numbered if view.lanes[key]} if room else set()


def _numbers(survey: Survey, expander: UnitId) -> list[str]:
    name = survey.studio.units[expander].name
    numbers = sorted({d.number for s in survey.input_points if s.unit == expander for d in s.drivers})
    if not numbers:
        return [f"None of {name}'s inputs reaches the computer yet."]
    return [f"{name}'s inputs are driver inputs {spans(numbers)} at {rate_text(survey.rate_hz)}."]


def spans(numbers: list[int]) -> str:
    """Return numbers as closed ranges: ``9–16, 20``."""
    found: list[list[int]] = []
    for number in numbers:
        if found and number == found[-1][1] + 1:
            found[-1][1] = number
        else:
            found.append([number, number])
    return ", ".join(f"{a}–{b}" if b > a else str(a) for a, b in found)


def _deeds(before: Survey, after: Survey) -> Iterator[str]:
    """Yield what is to be run and set, a sentence each: cables with their sockets, menus, switches."""
    studio = after.studio
    for cable in added(before.studio, studio):
        if isinstance(cable.start, PortEnd):
            adapters = (
                "".join(f", with a {a.label}" for a in after.links[cable.id].adapters)
                if cable.id in after.links
                else ""
            )
            yield (
                f"Cable: {CABLE_LABELS[studio.port(cable.start).connector]}, {studio.end_text(cable.start)} →"
                f" {studio.end_text(cable.end)}{adapters}."
            )
    for unit in studio.units.values():
        old, new, profile = before.settings[unit.id], studio.settings_of(unit.id), studio.profile_of(unit.id)
        for mode in profile.modes:
            position = new.modes.get(mode.key, mode.default)
            if position != old.modes.get(mode.key, mode.default):
                yield f"Set {unit.name}'s {mode.label} to {mode.label_of(position)}."
        entry = profile.clock_source(new.clock_source)
        if new.clock_source != old.clock_source and entry is not None:
            yield f"Set {unit.name}'s clock to {entry.label}."


def _lacks(survey: Survey, expander: UnitId, cables: int, back: int, *, both_ways: bool) -> Iterator[str]:
    profile, name = survey.profiles[expander], survey.studio.units[expander].name
    yield f"{cables + back} cable{'s' if cables + back > 1 else ''} to run: {cables} towards the computer" + (
        f", {back} back." if back else "."
    )
    silent = [
        p.label
        for p in profile.ports
        if p.direction == "in"
        and not p.is_digital
        and "mic" in p.carries
        and (expander, p.key) not in survey.input_point_at
        and p.key not in survey.taken.get(expander, ())
    ]
    if silent:
        yield f"{', '.join(silent)} have no way at {rate_text(survey.rate_hz)}: another socket is needed for them."
    if both_ways and not back:
        yield f"No free socket is left for a cable back: {name}'s outputs stay silent."
    for sentence in profile.setup:
        yield f"To store once: {sentence}"
    if profile.supply in ("mains", "adapter"):
        yield f"{name} needs an outlet of its own; a fibre powers nothing."
