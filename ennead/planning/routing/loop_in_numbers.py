"""A loop through a box by its digital sockets: cables both ways, its menus, its clock."""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from ennead.edits.cables import connect, misfit
from ennead.edits.change import Edit, step
from ennead.edits.destinations import send_out
from ennead.edits.settings import set_clock_source, set_mode
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.profile import Port
from ennead.studio.record import replace
from ennead.studio.session import Destination
from ennead.studio.widths import width_text
from ennead.survey.survey import Survey
from ennead.survey.unit_view import view_unit


class Digital(NamedTuple):
    """Free digital sockets by which a box can be in a loop, and how its menus have to stand."""

    out: PortEnd
    into: PortEnd
    leaves: PortEnd
    back: PortEnd
    modes: Mapping[str, str]


def in_numbers(survey: Survey, unit: UnitId, channels: int) -> Digital | None:
    """Return the digital sockets by which a box can be in a loop of some channels, or None."""
    for modes in _positions(survey, unit):
        settings = replace(survey.settings[unit], modes={**survey.settings[unit].modes, **modes})
        inside = view_unit(survey.profiles[unit], settings, survey.rate_hz).inside
        joined = {(at, out) for (at, lane), outs in inside.items() for out, _ in outs if lane >= channels}
        ports = survey.profiles[unit].port_by_key
        for into, leaves in [(ports[a], ports[b]) for a, b in sorted(joined)]:
            if all(p.is_digital and PortEnd(unit, p.key) not in survey.plugs for p in (into, leaves)):
                ends = _at_an_interface(survey, unit, into, leaves, channels)
                if ends is not None:
                    return Digital(ends[0], PortEnd(unit, into.key), PortEnd(unit, leaves.key), ends[1], modes)
    return None


def _positions(survey: Survey, unit: UnitId) -> Iterator[dict[str, str]]:
    """Yield how the menus of a box could stand: as they do, then each of their positions."""
    yield {}
    for mode in survey.profiles[unit].modes:
        yield from [{mode.key: choice.key} for choice in mode.choices]


def _at_an_interface(
    survey: Survey, unit: UnitId, into: Port, leaves: Port, channels: int
) -> tuple[PortEnd, PortEnd] | None:
    """Return a free digital output and input of one interface that fit those of a box and carry enough channels."""
    for interface in [u for u, p in survey.profiles.items() if p.driver_maps and u != unit]:
        view, there = survey.views[interface], survey.profiles[interface].ports
        sends = {port for port, lane in [p.at for p in view.played] if lane >= channels}
        takes = {port for port, lane in view.input_at if lane >= channels}
        out = _fitting(survey, interface, [p for p in there if p.key in sends], into, out=True)
        back = _fitting(survey, interface, [p for p in there if p.key in takes], leaves, out=False)
        if out is not None and back is not None:
            return out, back
    return None


def _fitting(survey: Survey, interface: UnitId, ports: list[Port], far: Port, *, out: bool) -> PortEnd | None:
    for port in ports:
        end = PortEnd(interface, port.key)
        fits = not (misfit(port, far) if out else misfit(far, port))
        if port.is_digital and end not in survey.plugs and fits:
            return end
    return None


def digital_steps(survey: Survey, key: DestinationId, loop: Destination, unit: UnitId) -> list[Edit]:
    """Return the edits that wire a loop through a box by its digital sockets.

    Raises
    ------
    BadValue
        If no free digital sockets of both fit each other.
    """
    many = max(loop.channels, loop.backs)
    found = in_numbers(survey, unit, many) if loop.goes_straight else None
    if found is None:
        name = survey.units[unit].name
        raise BadValue(
            f"{name} in a loop by numbers",
            width_text(loop),
            "No free digital output and input of an interface fit its digital sockets: use its lines, or a converter.",
        )
    profile = survey.profiles[unit]
    steps: list[Edit] = [step(set_mode, unit, mode, choice) for mode, choice in found.modes.items()]
    steps += [step(connect, found.out, found.into), step(connect, found.leaves, found.back)]
    clock = next((c.key for c in profile.clock_sources if c.port == found.into.port), None)
    if clock is not None:
        steps.append(step(set_clock_source, unit, clock))
    return [*steps, step(send_out, key, [found.out] * loop.channels, [found.back] * loop.backs)]
