"""What the running computer shows against what the plan says: how many numbers there are, what is missing, what has moved by a block."""

from collections.abc import Sequence
from difflib import SequenceMatcher
from typing import Any, Final, Literal, NamedTuple

from ennead.live.server_ports import ServerPort, ServerPorts
from ennead.survey.numbering import DriverChannel
from ennead.survey.survey import Survey

Way = Literal["inputs", "outputs"]
#: Names tell what has moved where so many of the planned ones are found; generic ones (“capture 1”) tell the count alone.
_NAMED: Final = 0.5


class Span(NamedTuple):
    """Numbers in a row, with the blocks they belong to.

    Parameters
    ----------
    first, last : int
        Of the plan; of the computer where it is what the plan lacks.
    by : int
        How much higher the computer numbers them.
    """

    first: int
    last: int
    names: str
    by: int = 0

    @property
    def numbers(self) -> str:
        """The numbers as one reads them."""
        return f"{self.first}–{self.last}" if self.last > self.first else str(self.first)


class PortDifference(NamedTuple):
    """One direction, compared.

    Parameters
    ----------
    planned, found : int
        How many numbers.
    missing, extra, moved : tuple of Span
    is_named : bool
        Whether the computer's names tell which is which; else they follow from the counts.
    """

    way: Way
    planned: int
    found: int
    missing: tuple[Span, ...]
    extra: tuple[Span, ...]
    moved: tuple[Span, ...]
    is_named: bool

    @property
    def agrees(self) -> bool:
        """Whether the computer shows what the plan says, as far as can be told."""
        return self.planned == self.found and not (self.missing or self.extra or self.moved)


def compare_ports(survey: Survey, ports: ServerPorts) -> tuple[PortDifference, PortDifference]:
    """Return what differs, inputs first."""
    numbers = survey.numbering
    return (
        _compared("inputs", survey, numbers.inputs, ports.inputs),
        _compared("outputs", survey, numbers.outputs, ports.outputs),
    )


def _compared(
    way: Way, survey: Survey, planned: Sequence[DriverChannel], found: Sequence[ServerPort]
) -> PortDifference:
    ours, theirs = [_bare(d.label) for d in planned], [_bare(p.label) for p in found]
    known = set(theirs)
    named = bool(ours) and sum(label in known for label in ours) >= _NAMED * len(ours)
    if named:
        return _by_name(way, survey, planned, ours, theirs, found)
    missing, moved = _by_count(survey, planned, len(planned) - len(found))
    extra = (Span(len(planned) + 1, len(found), ""),) if len(found) > len(planned) else ()
    return PortDifference(way, len(planned), len(found), missing, extra, moved, False)


def _by_name(
    way: Way,
    survey: Survey,
    planned: Sequence[DriverChannel],
    ours: Sequence[str],
    theirs: Sequence[str],
    found: Sequence[ServerPort],
) -> PortDifference:
    missing, extra, moved = [], [], []
    for what, a, b, c, d in SequenceMatcher(None, ours, theirs, autojunk=False).get_opcodes():
        if what == "equal" and a != c:
            moved.append(Span(a + 1, b, _blocks(survey, planned[a:b]), c - a))
        elif what != "equal":
            if b > a:
                missing.append(Span(a + 1, b, _blocks(survey, planned[a:b])))
            if d > c:
                labels = [p.label for p in found[c:d]]
                extra.append(Span(c + 1, d, labels[0] if len(labels) == 1 else f"{labels[0]} to {labels[-1]}"))
    return PortDifference(way, len(planned), len(found), tuple(missing), tuple(extra), tuple(moved), True)


def _by_count(
    survey: Survey, planned: Sequence[DriverChannel], fewer: int
) -> tuple[tuple[Span, ...], tuple[Span, ...]]:
    """Return the one block that explains how many are missing, and what lies behind it; nothing where none or several do."""
    if fewer <= 0:
        return (), ()
    blocks: dict[tuple[str, int], list[DriverChannel]] = {}
    for driver in planned:
        blocks.setdefault((driver.unit, driver.before + driver.channel.block_first), []).append(driver)
    fitting = [drivers for drivers in blocks.values() if len(drivers) == fewer]
    if len(fitting) != 1:
        return (), ()
    gone = fitting[0]
    first, last = gone[0].number, gone[-1].number
    behind = planned[last:]
    moved = (Span(last + 1, len(planned), _blocks(survey, behind), -fewer),) if behind else ()
    return (Span(first, last, _blocks(survey, gone)),), moved


def _blocks(survey: Survey, drivers: Sequence[DriverChannel]) -> str:
    names = dict.fromkeys((survey.units[d.unit].name, d.channel.block.label) for d in drivers)
    return ", ".join(f"{unit} {block}" for unit, block in names)


def _bare(label: str) -> str:
    return "".join(sign for sign in label.casefold() if sign.isalnum())


def difference_lines(survey: Survey, ports: ServerPorts) -> tuple[str, ...]:
    """Return the comparison in words: the rate, then each direction."""
    lines = []
    if ports.rate_hz != survey.rate_hz:
        lines.append(
            f"The server runs at {ports.rate_hz} Hz and the session at {survey.rate_hz} Hz: its numbers may differ for that."
        )
    for found in compare_ports(survey, ports):
        lines += _lines(found)
    return tuple(lines)


def _lines(found: PortDifference) -> list[str]:
    one = found.way.removesuffix("s")
    if found.agrees:
        sure = "by name and number" if found.is_named else "by their number; the names tell nothing more"
        return [f"{found.found} {found.way}, as planned {sure}."]
    lines = [f"{found.found} {found.way} here, {found.planned} in the plan."]
    for span in found.missing:
        why = "" if found.is_named else " – it alone is as long as what is missing"
        lines.append(
            f"Missing: {one} {span.numbers} of the plan ({span.names}){why}. Is it switched off, or set to fewer channels?"
        )
    for span in found.extra:
        named = f" ({span.names})" if span.names else ""
        lines.append(f"Not in the plan: {one} {span.numbers} of the computer{named}.")
    for span in found.moved:
        way = "higher" if span.by > 0 else "lower"
        lines.append(f"Moved: {one} {span.numbers} of the plan ({span.names}) is {abs(span.by)} {way} on the computer.")
    return lines


def difference_row(found: PortDifference) -> dict[str, Any]:
    """Return a direction as the command line prints it."""

    def spans(rows: Sequence[Span]) -> list[dict[str, Any]]:
        return [{"first": s.first, "last": s.last, "names": s.names} | ({"by": s.by} if s.by else {}) for s in rows]

    return {
        "way": found.way,
        "planned": found.planned,
        "found": found.found,
        "by_name": found.is_named,
        "missing": spans(found.missing),
        "extra": spans(found.extra),
        "moved": spans(found.moved),
    }


def port_row(port: ServerPort) -> dict[str, Any]:
    """Return a port as the command line prints it."""
    return {
        "number": port.number,
        "port": port.port,
        "alias": port.alias or None,
        "latency_samples": port.latency_samples,
    }
