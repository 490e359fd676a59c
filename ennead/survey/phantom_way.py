"""Where the 48 V of a socket comes from: through panels and bays, which are passive, from the preamp behind them."""

from typing import Final

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.wires import Ground

#: Roles of boxes that only join conductors.
PASSIVE: Final = ("panel", "bay")


def powered_socket(ground: Ground, end: PortEnd) -> PortEnd:
    """Return the socket whose 48 V reaches a socket: itself, or the one its passive unit is wired to.

    A splitter's direct leg passes 48 V; what stands behind a transformer passes none.

    References
    ----------
    IEC 61938: P48 travels on the two conductors of the microphone line, through anything that only joins them.
    """
    seen: set[PortEnd] = set()
    while True:
        view = ground.views[end.unit]
        if view.profile.role not in PASSIVE or end in seen:
            return end
        seen.add(end)
        ports = view.profile.port_by_key
        copper = [out for out, _ in view.onward.get((end.port, 1), ()) if ports[out].stage != "transformer"]
        onward = (ground.leaving.get((end.unit, out), ()) for out in copper)
        further = next((link.end for links in onward for link in links), None)
        if further is None:
            return end
        end = further


def passive_sockets(ground: Ground) -> dict[tuple[UnitId, str], PortEnd]:
    """Return the powered socket of every input of a panel or a bay."""
    return {
        (unit, port.key): powered_socket(ground, PortEnd(unit, port.key))
        for unit, view in ground.views.items()
        if view.profile.role in PASSIVE
        for port in view.sockets
    }
