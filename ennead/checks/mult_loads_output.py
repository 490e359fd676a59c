"""One output into several inputs: each takes its share of the level."""

import math
from collections.abc import Iterator

from ennead.checks.at_points import MULT_LOSS_DB, points_of
from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, DestinationId, SourceId, UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.levels import line_level
from ennead.survey.nets import Contact
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution where the inputs that hang on one output over a bay take half a decibel or more off it.

    References
    ----------
    A source of impedance Zout into Zp, all inputs in parallel: 20 log10(Zp / (Zp + Zout)) below open circuit.
    """
    for net in survey.each_net if survey.bays else ():
        if len(net.drivers) != 1 or len(net.receivers) < 2:
            continue
        points = points_of(survey, net)
        if not points:
            continue
        out = _impedance(survey, net.drivers[0])
        loads = [_impedance(survey, c) for c in net.receivers]
        stated = [z for z in loads if z]
        if not out or len(stated) != len(loads):
            continue
        together = 1 / sum(1 / z for z in stated)
        loss = mult_db(out, stated)
        if loss > -MULT_LOSS_DB:
            continue
        name = _text(survey, net.drivers[0])
        listed = ", ".join(_text(survey, c) for c in net.receivers)
        yield Finding(
            "mult_loads_output",
            "caution",
            subject_of(points[0][0]),
            tuple(dict.fromkeys((points[0][0], *(c[0] for c in (*net.drivers, *net.receivers))))),
            f"{name} feeds {len(loads)} inputs at once and loses {-loss:.1f} dB.",
            "Each input takes its share, the treble of a long line first. Split behind an amplifier, or pull one of"
            " them.",
            (),
            (
                f"on it: {listed}",
                f"{' ∥ '.join(f'{z:g}' for z in stated)} Ω = {together:.0f} Ω",
                f"20·log10({together:.0f} / ({together:.0f} + {out:g})) = {loss:.2f} dB",
            ),
            cause=at(*[c[:2] for c in (*net.drivers, *net.receivers)]),
        )


def mult_db(out_ohm: float, loads_ohm: list[float]) -> float:
    """Return what inputs in parallel take off an output's open-circuit level, dB; 150 ohm into two of 10,000 lose a quarter.

    >>> round(mult_db(150, [10_000, 10_000]), 2)
    -0.26
    """
    together = 1 / sum(1 / z for z in loads_ohm)
    return 20 * math.log10(together / (together + out_ohm))


def _impedance(survey: Parts, contact: Contact) -> float | None:
    key, port, _ = contact
    if key[:1] == LETTERS["units"]:
        level = line_level(survey.port(PortEnd(UnitId(key), port)), survey.settings[UnitId(key)])
        return None if level is None else level.impedance_ohm
    source = survey.source_by_id.get(SourceId(key))
    return None if source is None else source.impedance_ohm


def _text(survey: Parts, contact: Contact) -> str:
    key, port, _ = contact
    if key[:1] == LETTERS["units"]:
        return survey.end_text(PortEnd(UnitId(key), port))
    line = survey.source_by_id.get(SourceId(key)) or survey.destination_by_id.get(DestinationId(key))
    return line.name if line is not None else key
