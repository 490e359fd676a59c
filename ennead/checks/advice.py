"""What could be done about too few sockets, in words, of which only what is possible in this house is said."""

from collections.abc import Iterable

from ennead.edits.cables import misfit
from ennead.standards.links import WORD
from ennead.standards.rates import is_faster, speed_of
from ennead.studio.ids import UnitId
from ennead.survey.survey_interface import Parts


def more_inputs(survey: Parts, needs: Iterable[str]) -> dict[str, str]:
    """Return for each kind of need what brings more inputs of it, as one sentence."""
    held, preamp = survey.held_inputs, False
    expander = any(free_digital(survey, unit, "in") for unit in survey.numbering.before_in)
    for point in survey.input_points:
        carries = point.port.carries
        if "line" in carries and "mic" not in carries and point.port.key not in held.get(point.unit, ()):
            preamp = True
            break
    said = {}
    for need in needs:
        ways = ["connect an expander"] if expander else []
        if preamp and need in ("phantom", "mic", "all"):
            ways.append("put a preamp in front of a free line input")
        said[need] = _sentence(survey, ways)
    return said


def more_outputs(survey: Parts) -> str:
    """Return what brings more outputs, as one sentence."""
    units = survey.numbering.before_out
    ways = (
        ["connect an expander both ways"]
        if any(free_digital(survey, u, "in") and free_digital(survey, u, "out") for u in units)
        else []
    )
    return _sentence(survey, ways)


def _sentence(survey: Parts, ways: list[str]) -> str:
    if is_faster(speed_of(survey.rate_hz), "single"):
        ways.append("lower the rate")
    ways.append("leave something out" if ways else "leave something out, or add an interface")
    words = f"{', '.join(ways[:-1])} or {ways[-1]}" if len(ways) > 1 else ways[0]
    return f"{words[:1].upper()}{words[1:]}."


def free_digital(survey: Parts, unit: UnitId, direction: str) -> bool:
    """Say whether a unit has a digital audio socket of a direction into which nothing is plugged yet."""
    view = survey.views[unit]
    held = survey.held_inputs.get(unit, ()) if direction == "in" else survey.leaving_by_unit.get(unit, ())
    ports = view.profile.port_by_key
    return any(
        key not in held and ports[key].direction == direction and view.formats[key] not in WORD for key in view.digital
    )


def has_way_back(survey: Parts, start: UnitId, end: UnitId, into: str) -> bool:
    """Say whether a unit has an output at all, in use or not, that a cable could run from into a socket of another."""
    socket = survey.profiles[end].port_by_key[into]
    return any(p.direction == "out" and p.is_digital and not misfit(p, socket) for p in survey.profiles[start].ports)
