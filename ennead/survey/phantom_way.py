"""Where the 48 V of a socket comes from: through panels and bays, which are passive, from the preamp behind them."""

from collections.abc import Mapping
from typing import Final

from ennead.studio.house import PortEnd, Settings
from ennead.studio.ids import UnitId
from ennead.survey.parts import each, part
from ennead.survey.passages import Ask

#: Roles of boxes that only join conductors.
PASSIVE: Final = ("panel", "bay")


@each("powered_of", of={"unit": "unit_ids"}, at={"ask": "passages"})
def powered_of(unit: UnitId, ask: Ask) -> dict[str, PortEnd]:
    """Return the sockets whose 48 V reaches the inputs of a panel or a bay; nothing for any other unit."""
    view = ask(unit).view
    if view.profile.role not in PASSIVE:
        return {}
    return {port.key: _powered_socket(ask, PortEnd(unit, port.key)) for port in view.sockets}


@part
def powered(powered_of: dict[UnitId, dict[str, PortEnd]]) -> dict[tuple[UnitId, str], PortEnd]:
    """Return the sockets of panels and bays, each with the socket whose 48 V reaches it."""
    return {(unit, port): end for unit, ports in powered_of.items() for port, end in ports.items()}


def _powered_socket(ask: Ask, end: PortEnd) -> PortEnd:
    """Return the socket whose 48 V reaches a socket: itself, or the one its passive unit is wired to.

    A splitter's direct leg passes 48 V; what stands behind a transformer passes none.

    References
    ----------
    IEC 61938: P48 travels on the two conductors of the microphone line, through anything that only joins them.
    """
    seen: set[PortEnd] = set()
    while True:
        here = ask(end.unit)
        view = here.view
        if view.profile.role not in PASSIVE or end in seen:
            return end
        seen.add(end)
        ports = view.profile.port_by_key
        copper = [out for out, _ in view.onward.get((end.port, 1), ()) if ports[out].stage != "transformer"]
        further = next((link.end for out in copper for link in here.leaving.get(out, ())), None)
        if further is None:
            return end
        end = further


@part
def phantom_on(settings: Mapping[UnitId, Settings]) -> dict[UnitId, tuple[str, ...]]:
    """Return the phantom banks that are on in each unit."""
    return {u: s.phantom for u, s in settings.items()}
