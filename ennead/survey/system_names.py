"""What a computer calls its numbers, as read from it, against the plan: how many there are, what is missing, what moved by a block."""

from collections.abc import Mapping, Sequence
from difflib import SequenceMatcher
from typing import Final, Literal, NamedTuple

from ennead.studio.ids import ComputerId
from ennead.survey.numbering import DriverChannel
from ennead.survey.survey_interface import Parts

Way = Literal["inputs", "outputs"]
#: Names tell what has moved where so many of the planned ones are found; generic ones (“capture 1”) tell the count alone.
_NAMED: Final = 0.5


class NumberSpan(NamedTuple):
    """Numbers in a row.

    Parameters
    ----------
    first, last : int
        Of the plan; of the computer where it is what the plan lacks.
    names : str
        The blocks they belong to; of what the plan lacks, what the computer calls them.
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


class NameDifference(NamedTuple):
    """One direction, compared.

    Parameters
    ----------
    planned, found : int
        How many numbers.
    missing, extra, moved : tuple of NumberSpan
    is_named : bool
        Whether the computer's names tell which is which; else they follow from the counts.
    """

    way: Way
    planned: int
    found: int
    missing: tuple[NumberSpan, ...]
    extra: tuple[NumberSpan, ...]
    moved: tuple[NumberSpan, ...]
    is_named: bool

    @property
    def agrees(self) -> bool:
        """Whether the computer shows what the plan says, as far as can be told."""
        return self.planned == self.found and not (self.missing or self.extra or self.moved)


def first_computer(survey: Parts) -> ComputerId | None:
    """Return the first computer that has interfaces."""
    return next(iter(survey.numbering.computer_of.values()), None)


def channels_of(survey: Parts, computer: ComputerId) -> Mapping[Way, tuple[DriverChannel, ...]]:
    """Return the numbers of one computer."""
    numbers = survey.numbering

    def own(drivers: Sequence[DriverChannel]) -> tuple[DriverChannel, ...]:
        return tuple([d for d in drivers if numbers.computer_of[d.unit] == computer])

    return {"inputs": own(numbers.inputs), "outputs": own(numbers.outputs)}


def name_differences(
    survey: Parts, computer: ComputerId, inputs: Sequence[str], outputs: Sequence[str]
) -> tuple[NameDifference, NameDifference]:
    """Return how what a computer shows differs from its plan, inputs first.

    Parameters
    ----------
    inputs, outputs : sequence of str
        What the computer calls each of its numbers, from 1 on.
    """
    planned = channels_of(survey, computer)
    return (
        _compared(survey, "inputs", planned["inputs"], inputs),
        _compared(survey, "outputs", planned["outputs"], outputs),
    )


def _compared(survey: Parts, way: Way, planned: Sequence[DriverChannel], found: Sequence[str]) -> NameDifference:
    ours, theirs = [_bare(d.label) for d in planned], [_bare(name) for name in found]
    known = set(theirs)
    if ours and sum(label in known for label in ours) >= _NAMED * len(ours):
        return _by_name(survey, way, planned, ours, theirs, found)
    missing, moved = _by_count(survey, planned, len(planned) - len(found))
    extra = (NumberSpan(len(planned) + 1, len(found), ""),) if len(found) > len(planned) else ()
    return NameDifference(way, len(planned), len(found), missing, extra, moved, False)


def _by_name(
    survey: Parts,
    way: Way,
    planned: Sequence[DriverChannel],
    ours: Sequence[str],
    theirs: Sequence[str],
    found: Sequence[str],
) -> NameDifference:
    missing, extra, moved = [], [], []
    for what, a, b, c, d in SequenceMatcher(None, ours, theirs, autojunk=False).get_opcodes():
        if what == "equal":
            if a != c:
                moved.append(NumberSpan(a + 1, b, _blocks(survey, planned[a:b]), c - a))
            continue
        if b > a:
            missing.append(NumberSpan(a + 1, b, _blocks(survey, planned[a:b])))
        if d > c:
            named = found[c] if d == c + 1 else f"{found[c]} to {found[d - 1]}"
            extra.append(NumberSpan(c + 1, d, named))
    return NameDifference(way, len(planned), len(found), tuple(missing), tuple(extra), tuple(moved), True)


def _by_count(
    survey: Parts, planned: Sequence[DriverChannel], fewer: int
) -> tuple[tuple[NumberSpan, ...], tuple[NumberSpan, ...]]:
    """Return the one block that is as long as what is missing, and what lies behind it; nothing where none is, or several are."""
    if fewer <= 0:
        return (), ()
    blocks: dict[tuple[str, int], list[DriverChannel]] = {}
    for driver in planned:
        blocks.setdefault((driver.unit, driver.channel.block_first), []).append(driver)
    fitting = [drivers for drivers in blocks.values() if len(drivers) == fewer]
    if len(fitting) != 1:
        return (), ()
    (gone,) = fitting
    first, last = gone[0].number, gone[-1].number
    behind = planned[last:]
    moved = (NumberSpan(last + 1, len(planned), _blocks(survey, behind), -fewer),) if behind else ()
    return (NumberSpan(first, last, _blocks(survey, gone)),), moved


def _blocks(survey: Parts, drivers: Sequence[DriverChannel]) -> str:
    names = dict.fromkeys((survey.units[d.unit].name, d.channel.block.label) for d in drivers)
    return ", ".join(f"{unit} {block}" for unit, block in names)


def _bare(label: str) -> str:
    return "".join(sign for sign in label.casefold() if sign.isalnum())


def difference_lines(found: NameDifference) -> tuple[str, ...]:
    """Return a direction in words."""
    one = found.way.removesuffix("s")
    if found.agrees:
        sure = "by name and number" if found.is_named else "by their number; their names tell no more"
        return (f"{found.found} {found.way}, as planned {sure}.",)
    lines = [f"{found.found} {found.way} on the computer, {found.planned} in the plan."]
    if found.found < found.planned and not found.missing:
        lines.append(f"Which {found.planned - found.found} are missing, the names do not tell: see which box is off.")
    for span in found.missing:
        why = "" if found.is_named else ", alone as long as what is missing"
        lines.append(f"Missing: {one} {span.numbers} of the plan ({span.names}{why}).")
    for span in found.extra:
        named = f" ({span.names})" if span.names else ""
        lines.append(f"Not in the plan: {one} {span.numbers} of the computer{named}.")
    for span in found.moved:
        way = "higher" if span.by > 0 else "lower"
        lines.append(f"Moved: {one} {span.numbers} of the plan ({span.names}), {abs(span.by)} {way} on the computer.")
    return tuple(lines)
