"""Rule: direction, kind of signal and level of a source must suit the socket."""

from typing import Literal

from ennead.standards.links import DIGITAL
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.profile import Port
from ennead.studio.session import Source

Fits = Literal["mic", "line", "hiz", "digital"]


def signal_wanted(source: Source) -> Fits:
    """Return the kind of input a source needs: mic, line, hiz or digital."""
    if source.kind == "digital":
        return "digital"
    if source.is_microphone:
        return "mic"
    return "hiz" if source.kind == "instrument" else "line"


def unfit(signal: Fits, direction: str, carries: tuple[str, ...], connector: str) -> str:
    """Return what kind of misfit a signal and a socket are, in one word; empty where they suit each other."""
    if direction != "in":
        return "output"
    if (signal == "digital") != (carries[0] in DIGITAL):
        return "digital" if signal == "digital" else "analogue"
    if signal == "digital":
        return "clock" if connector == "bnc" else ""
    return "" if signal in carries else signal


def why_unfit(source: Source, port: Port) -> str:
    """Return why a socket does not suit a source, or an empty string where it does."""
    reason = unfit(signal_wanted(source), port.direction, port.carries, port.connector)
    return unfit_sentence(source, port, reason) if reason else ""


def unfit_sentence(source: Source, port: Port, reason: str) -> str:
    """Return a misfit in words."""
    return {
        "output": f"{port.label} is an output",
        "digital": f"{source.name} is digital and {port.label} is analogue",
        "analogue": f"{source.name} is analogue and {port.label} is digital",
        "clock": f"{port.label} takes only clock or MADI",
        "mic": (
            f"{source.name} needs a microphone preamp and {port.label} ({CONNECTOR_LABELS[port.connector]}) has none"
        ),
        "line": f"{source.name} is at line level and {port.label} takes microphones only",
        "hiz": (
            f"{source.name} has a high-impedance pickup and {port.label} would load it; a Hi-Z input or a DI box is"
            " needed"
        ),
    }[reason]


def adapters_needed(source: Source, port: Port) -> int:
    """Return how many adapters a source's own plug needs at a socket that suits it.

    A microphone and a DI box end in an XLR, a line source and an instrument in a jack.
    """
    if signal_wanted(source) == "digital":
        return 0
    fits = ("xlr", "combo") if source.is_microphone else ("trs", "ts", "combo")
    return 0 if port.connector in fits else 1
