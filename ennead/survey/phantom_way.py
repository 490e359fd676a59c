"""Where the 48 V of a socket comes from: through panels and bays, which are passive, from the preamp behind them."""

from ennead.studio.house import PortEnd
from ennead.survey.runs import Ground


def powered_socket(ground: Ground, end: PortEnd) -> PortEnd:
    """Return the socket whose 48 V reaches a socket: itself, or the one its passive unit is wired to.

    References
    ----------
    IEC 61938: P48 travels on the two conductors of the microphone line, through anything that only joins them.
    """
    seen = set()
    while end not in seen:
        seen.add(end)
        view = ground.views[end.unit]
        if view.profile.role not in ("panel", "bay"):
            return end
        for out_port, _ in view.onward.get((end.port, 1), ()):
            for link in ground.leaving.get(PortEnd(end.unit, out_port), ()):
                end = link.end
                break
    return end
