"""A plug of two contacts in a balanced point grounds the ring."""

from collections.abc import Iterator

from ennead.checks.at_points import points_of
from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts

#: What each kind of output makes of a grounded leg: level lost, dB, and whether it is stressed. House defaults, after the circuits.
_LOSS: dict[str, float] = {"symmetrical": 6.0, "impedance-balanced": 0.0, "transformer": 0.0, "cross-coupled": 0.0}


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution where an unbalanced cord grounds a leg of an output that drives both, a note where the output stage is not stated."""
    short = [c for c in survey.cords if c.unbalanced]
    if not short:
        return
    for net in survey.each_net:
        points = points_of(survey, net)
        for cord in (c for c in short if any((p.unit, p.port) in points for p in c.plugs)):
            for key, port, _ in net.drivers:
                if key[:1] != LETTERS["units"]:
                    continue
                out = survey.port(PortEnd(UnitId(key), port))
                loss = _LOSS.get(out.stage, 0.0 if out.stage == "unbalanced" else None)
                if loss == 0.0:
                    continue
                name = survey.end_text(PortEnd(UnitId(key), port))
                yield Finding(
                    "unbalanced_plug",
                    "note" if loss is None else "caution",
                    subject_of(cord.id),
                    (cord.id, key, cord.plugs[0].unit),
                    f"Cord {cord.id} is unbalanced and grounds one leg of {name}."
                    if loss is None
                    else f"Cord {cord.id} is unbalanced: {name} loses {loss:g} dB and drives a short.",
                    "Level and headroom go, hum may come. Take a balanced cord.",
                    (),
                    (f"output stage: {out.stage or 'not stated'}",),
                    cause=at((key, port)),
                )
