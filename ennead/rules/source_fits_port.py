"""Rule: direction, kind of signal and level of a source must suit the socket."""

from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.profile import Port
from ennead.studio.session import Source


def signal_wanted(source: Source) -> str:
    """Return the kind of input a source needs: mic, line, hiz or digital."""
    if source.kind == "digital":
        return "digital"
    if source.is_microphone:
        return "mic"
    return "hiz" if source.kind == "instrument" else "line"


def why_unfit(source: Source, port: Port) -> str:
    """Return why a socket does not suit a source, or an empty string where it does."""
    if port.direction != "in":
        return f"{port.label} is an output"
    wanted = signal_wanted(source)
    if (wanted == "digital") != port.is_digital:
        wants, has = ("digital", "analogue") if wanted == "digital" else ("analogue", "digital")
        return f"{source.name} is {wants} and {port.label} is {has}"
    if wanted == "digital":
        return "" if port.connector != "bnc" else f"{port.label} takes only clock or MADI"
    if wanted in port.carries:
        return ""
    return {
        "mic": f"{source.name} needs a microphone preamp and {port.label} ({CONNECTOR_LABELS[port.connector]}) has none",
        "line": f"{source.name} is at line level and {port.label} takes microphones only",
        "hiz": f"{source.name} has a high-impedance pickup and {port.label} would load it; a Hi-Z input or a DI box is needed",
    }[wanted]


def adapters_needed(source: Source, port: Port) -> int:
    """Return how many adapters a source's own plug needs at a socket that suits it.

    A microphone and a DI box end in an XLR, a line source and an instrument in a jack.
    """
    if signal_wanted(source) == "digital":
        return 0
    fits = ("xlr", "combo") if source.is_microphone else ("trs", "ts", "combo")
    return 0 if port.connector in fits else 1
