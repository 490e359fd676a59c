"""Rule: loudspeakers, cues, sends and loops each leave by outputs of their kind."""

from ennead.studio.profile import Port
from ennead.studio.session import Destination
from ennead.survey.output_points import Feeds


def why_no_output(destination: Destination, port: Port, feeds: Feeds) -> str:
    """Return why an output does not suit a destination, or an empty string where it does.

    An output that is wired to something serves what it is wired to: main outputs stay with the monitors, and what
    drives outboard serves no cue.
    """
    if "headphone" in port.carries:
        if destination.kind != "cue":
            return f"{port.label} is for headphones"
        return "" if destination.channels == 2 else f"{port.label} is a stereo socket and would reach one ear only"
    if "speaker" in port.carries:
        return f"{port.label} is at loudspeaker level"
    if "line" not in port.carries:
        return f"{port.label} is no line output"
    serves = {"loudspeakers": ("mains", "speakers"), "cue": ("cue",), "outboard": ("send", "loop"), "other": ()}.get(feeds)
    if serves is None or destination.kind in serves:
        return ""
    wired = {"loudspeakers": "loudspeakers", "cue": "a cue system", "outboard": "outboard", "other": "something else"}[feeds]
    return f"{port.label} is wired to {wired}"
