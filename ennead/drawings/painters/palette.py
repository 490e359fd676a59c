"""The two palettes. Every text colour is at least 4.5:1 on ground, panel and selection; a test computes it."""

from typing import Final

from ennead.studio.record import record


@record(frozen=True)
class Palette:
    """Colours by what they mean, as ``#RRGGBB``."""

    name: str
    ground: str
    panel: str
    selection: str
    ink: str
    soft: str
    accent: str
    trouble: str
    caution: str
    clock: str
    rule: str
    hairline: str


PAPER: Final = Palette(
    "paper",
    "#F6F3EC",
    "#EDE8DC",
    "#D9E9E7",
    "#22262B",
    "#57564F",
    "#0A666C",
    "#A33A12",
    "#7A5300",
    "#6C4490",
    "#8F8877",
    "#D6CFBF",
)
NIGHT: Final = Palette(
    "night",
    "#15191D",
    "#1C2227",
    "#21393D",
    "#E4DFD3",
    "#AAA79D",
    "#62C8C4",
    "#FF9670",
    "#E6B955",
    "#C0A1E4",
    "#6E7A84",
    "#39434B",
)

TEXT_COLOURS: Final = ("ink", "soft", "accent", "trouble", "caution", "clock")
GROUNDS: Final = ("ground", "panel", "selection")


def contrast(one: str, other: str) -> float:
    """Return the contrast of two colours, 1 to 21.

    References
    ----------
    WCAG 2.1, relative luminance and contrast ratio.
    """
    high, low = sorted((_luminance(one), _luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def _luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
