"""Arrival numbers: the driver input at which each channel of each source arrives, and which of them arrive at each."""

from collections.abc import Mapping
from itertools import compress, count
from operator import is_not

from ennead.studio.ids import SourceId
from ennead.survey.parts import Held, changed_keys, part, renews
from ennead.survey.signal_paths import SignalPath

#: A source and its channel.
Line = tuple[SourceId, int]


@part
def arrival_numbers(signal_paths: tuple[SignalPath, ...]) -> dict[Line, int | None]:
    """Return the driver input at which each line arrives; None where it does not."""
    return {
        (run.of.id, run.channel): None if run.driver is None else run.driver.number
        for run in signal_paths
        if run.of is not None
    }


@renews(arrival_numbers)
def _numbers_again(was: Held, signal_paths: tuple[SignalPath, ...]) -> dict[Line, int | None] | None:
    """Return them, those of the signal_paths that are others found again."""
    then: tuple[SignalPath, ...] = was.reads[0]
    turned = [*compress(count(), map(is_not, then, signal_paths))]
    again = arrival_numbers(tuple([signal_paths[n] for n in turned]))
    if len(then) != len(signal_paths) or list(again) != list(arrival_numbers(tuple([then[n] for n in turned]))):
        return None
    old: dict[Line, int | None] = was.value
    return {**old, **again} if any(old[line] != number for line, number in again.items()) else old


@part
def lines_at_numbers(arrival_numbers: Mapping[Line, int | None]) -> dict[int, tuple[Line, ...]]:
    """Return the lines that arrive at each driver input, in the order of the list."""
    at: dict[int, tuple[Line, ...]] = {}
    for line, number in arrival_numbers.items():
        if number is not None:
            at[number] = (*at[number], line) if number in at else (line,)
    return at


@renews(lines_at_numbers)
def _lines_again(was: Held, arrival_numbers: Mapping[Line, int | None]) -> dict[int, tuple[Line, ...]] | None:
    """Return them with the lines put elsewhere that arrive otherwise; None where several are at one number, which have their order."""
    then: Mapping[Line, int | None] = was.reads[0]
    found: dict[int, tuple[Line, ...]] = {**was.value}
    turned = changed_keys(arrival_numbers, then)
    for line in turned:
        number = then.get(line)
        if number is not None and (left := tuple([other for other in found[number] if other != line])):
            found[number] = left
        elif number is not None:
            del found[number]
    for line in turned:
        number = arrival_numbers.get(line)
        if number is not None and number in found:
            return None
        if number is not None:
            found[number] = (line,)
    return found
