"""The positions of the 48 V switches for the sources behind them, and the sources that cannot stay plugged with these."""

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

from ennead.rules.may_sit_beside import torn
from ennead.rules.phantom_reaches_source import phantom_wish_at
from ennead.studio.house import PortEnd
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.session import Source
from ennead.survey.survey import Survey

BankKey = tuple[UnitId, str]


class BankSwitch(NamedTuple):
    """A 48 V switch and how it is to stand."""

    unit: UnitId
    bank: str
    on: bool


class Switching(NamedTuple):
    """What becomes of the 48 V.

    Parameters
    ----------
    switches : tuple of BankSwitch
        Only those that stand otherwise now.
    contrary : tuple of SourceId
        Sources without a place that cannot stay plugged where they are.
    """

    switches: tuple[BankSwitch, ...]
    contrary: tuple[SourceId, ...]


def banks_behind(survey: Survey, end: PortEnd) -> list[BankKey]:
    """Return the 48 V switches behind a socket: behind a panel the preamp's, behind a split line several."""
    banks = [(p.unit, survey.profiles[p.unit].bank_of_port.get(p.port)) for p in survey.powered_sockets(end)]
    return [(unit, bank.key) for unit, bank in banks if bank is not None]


def wishes(survey: Survey, source: Source, ends: Sequence[PortEnd]) -> Iterator[tuple[BankKey, int]]:
    """Yield how a source in some sockets needs the switches behind them: 1 on, -1 off."""
    for end in ends:
        wish = phantom_wish_at(source, survey.studio.port(end))
        # One switch is enough to feed a line; all of them must be off where it must not be fed.
        banks = banks_behind(survey, end) if wish else []
        yield from [(bank, wish) for bank in (banks[:1] if wish > 0 else banks)]


def fed_by_phantom(survey: Survey) -> Iterator[BankKey]:
    """Yield the switches that boxes of the house run on, such as an active DI box wired to a preamp."""
    for link in survey.links.values():
        start = link.out_view.profile
        if start.supply == "phantom" and "mic" in start.port_by_key[link.start.port].carries:
            yield from banks_behind(survey, link.end)[:1]


def switch_over(
    survey: Survey, sits: Mapping[SourceId, Sequence[PortEnd]], stays: Mapping[SourceId, Sequence[PortEnd]]
) -> Switching:
    """Return how the switches must stand.

    The seated sources decide; where they ask for nothing, those that merely stay plugged do if they agree. A switch that
    cannot suit all sources behind it stays as it is.

    Parameters
    ----------
    sits : map of SourceId to PortEnd
        The sources that have a place, with their sockets.
    stays : map of SourceId to PortEnd
        Those that have none and are plugged in all the same.
    """
    source_of = survey.studio.source
    asked: dict[BankKey, set[int]] = {bank: {1} for bank in fed_by_phantom(survey)}
    weak: dict[BankKey, set[int]] = {}
    for who, found in ((sits, asked), (stays, weak)):
        for key, ends in who.items():
            for bank, wish in wishes(survey, source_of(key), ends):
                found.setdefault(bank, set()).add(wish)
    states: dict[BankKey, bool] = {}
    for bank in asked.keys() | weak.keys():
        now = bank[1] in survey.phantom_on[bank[0]]
        wanted = asked.get(bank) or weak[bank]
        states[bank] = now if torn(wanted) else 1 in wanted
    order = {unit: number for number, unit in enumerate(survey.studio.units)}
    switches = tuple(
        BankSwitch(unit, bank, on)
        for (unit, bank), on in sorted(states.items(), key=lambda s: (order[s[0][0]], s[0][1]))
        if on != (bank in survey.phantom_on[unit])
    )
    contrary = tuple(
        key
        for key, ends in stays.items()
        if any(states[bank] != (wish > 0) for bank, wish in wishes(survey, source_of(key), ends))
    )
    return Switching(switches, contrary)
