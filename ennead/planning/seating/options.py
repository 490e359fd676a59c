"""Where one source may sit by the hard rules, and what that asks of the 48 V switches."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from ennead.planning.seating.switching import BankKey
from ennead.rules.may_sit import obstacles, wanted_of, way_wanted, where_of
from ennead.rules.may_sit_beside import is_pair
from ennead.rules.phantom_reaches_source import phantom_wish_at, wants_phantom
from ennead.rules.source_fits_port import signal_wanted
from ennead.standards.rates import rate_text
from ennead.studio.house import PortEnd
from ennead.studio.session import Source
from ennead.survey.input_points import InputPoint
from ennead.survey.survey import Survey

Option = tuple[InputPoint, ...]


def options_for(survey: Survey, source: Source) -> tuple[Option, ...]:
    """Return the sockets, or pairs of sockets, a source may sit in by the hard rules, by driver number."""
    reserved, wanted = reserved_inputs(survey), wanted_of(source)
    good = [s for s in survey.input_points if not obstacles(wanted, where_of(survey, s, reserved.get(s.end, "")))]
    if source.kind == "digital":
        return tuple((s,) for s in good if len(s.drivers) >= source.channels)
    if source.channels == 1:
        return tuple((s,) for s in good)
    return tuple((left, right) for left, right in pairwise(good) if is_pair(left, right))


def reserved_inputs(survey: Survey) -> dict[PortEnd, str]:
    """Return the inputs by which loops come back, each with its loop's name: no source may sit there."""
    return {end: destination.name for destination in survey.destinations[::-1] for end in destination.returns}


def phantom_wish(source: Source, option: Option) -> int:
    """Return 1 where 48 V must be on for a source in these sockets, -1 where it must be off, else 0."""
    return next((wish for s in option if (wish := phantom_wish_at(source, s.port))), 0)


def banks_of(option: Option) -> Iterator[BankKey]:
    """Yield the 48 V switches of some sockets."""
    for point in option:
        bank = point.powered_by.bank_of_port.get(point.powered_port)
        if bank is not None:
            yield (point.powered_unit, bank.key)


def input_wanted(source: Source) -> str:
    """Return the kind of input a source needs, in words: ``pair of microphone inputs with 48 V``."""
    kind = {
        "mic": "microphone input",
        "line": "line input",
        "hiz": "Hi-Z input",
        "digital": "digital input",
    }[signal_wanted(source)]
    volts = " with 48 V" if wants_phantom(source) else " without 48 V" if source.phantom == "forbidden" else ""
    pair = source.channels == 2 and source.kind != "digital"
    return f"pair of {kind}s{volts}" if pair else f"{kind}{volts}"


def why_not(survey: Survey, source: Source) -> str:
    """Return why no place was found for a source."""
    rate, kind = rate_text(survey.rate_hz), input_wanted(source)
    there = len(options_for(survey, source))
    where = way_wanted(survey, source)
    if not there and where and options_for(survey, replace(source, preamp="", outboard=None)):
        return f"there is no {kind} {where}, as it is wanted"
    if not there:
        return f"there is no {kind} at {rate}"
    return f"no {kind} is left {f'{where} ' if where else ''}at {rate}; {there} could serve and all are taken"
