"""A pedal is fed at instrument level, and comes back as an instrument does."""

from collections.abc import Iterator
from itertools import pairwise
from typing import Final

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import Passed, circuits
from ennead.survey.survey_interface import Parts

#: Working levels up to this are a pedal's, dBu: instruments lie at -20, the quietest line equipment at -10 dBV.
_PEDAL_DBU: Final = -12.0


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop in which a converter's line output feeds a pedal, with no re-amp box between."""
    for loop, channels in survey.once(circuits):
        for channel in channels:
            pedal = next((b for a, b in _pairs(channel.passed) if _is_line(survey, a) and _is_pedal(survey, b)), None)
            if pedal is None:
                continue
            box = survey.units[pedal.unit].name
            yield Finding(
                "pedal_without_reamp",
                "caution",
                subject_of(loop.id),
                (loop.id, pedal.unit),
                f"On {loop.name} a line output feeds {box}, which wants an instrument.",
                "Some 24 dB too hot, from a source of a few ohms: a pedal distorts early and sounds thinner than behind"
                " a guitar, and both grounds meet, which hums. Put a re-amp box before it and a DI box behind it, or"
                " pull the send down until it does.",
                cause=at(pedal),
            )
            break


def _pairs(passed: tuple[Passed, ...]) -> list[tuple[Passed, Passed]]:
    """Return each output on the way with the input behind it, past copper that only joins."""
    sounding = [p for p in passed if p.what in ("D/A", "box")]
    return list(pairwise(sounding))


def _is_line(survey: Parts, there: Passed) -> bool:
    port = survey.profiles[there.unit].port_by_key[there.port]
    level = port.levels_as_set(survey.settings[there.unit].modes).get("line")
    # A pedal after a pedal stands at its own level.
    nominal = level.nominal_dbu if level is not None else None
    return port.direction == "out" and "line" in port.carries and (nominal is None or nominal > _PEDAL_DBU)


def _is_pedal(survey: Parts, there: Passed) -> bool:
    port = survey.profiles[there.unit].port_by_key[there.port]
    return port.direction == "in" and port.carries == ("hiz",)
