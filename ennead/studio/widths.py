"""How wide a destination is, in words: mono, stereo, mono out and stereo back, sixteen out and two back."""

import re

from ennead.studio.errors import BadValue
from ennead.studio.loop_use import MOST_CHANNELS
from ennead.studio.session import Destination

_NAMES = {1: "mono", 2: "stereo"}


def width_text(destination: Destination) -> str:
    """Return the width of a destination in words.

    Examples
    --------
    >>> from ennead.studio.ids import DestinationId
    >>> width_text(Destination(DestinationId("D1"), "Echo", "loop", channels=1, back=2))
    'mono out, stereo back'
    """
    out, back = destination.channels, destination.backs
    if destination.kind != "loop" or out == back:
        return _NAMES.get(out, f"{out} channels")
    return f"{_NAMES.get(out, out)} out, {_NAMES.get(back, back)} back"


def width_typed(destination: Destination) -> str:
    """Return the width of a destination as short as it can be typed: ``stereo``, ``mono → stereo``, ``16 → 2``."""
    out, back = (_NAMES.get(many, str(many)) for many in (destination.channels, destination.backs))
    return out if destination.kind != "loop" or out == back else f"{out} → {back}"


def side_text(many: int, channel: int) -> str:
    """Return which of several channels one is: nothing of one, L or R of two, else its number."""
    return "" if many < 2 else {1: "L", 2: "R"}[channel] if many == 2 else str(channel)


def width_of(typed: str) -> tuple[int, int]:
    """Return with how many channels a loop goes out and comes back, from what was typed: ``stereo``, ``16 out, 2 back``, ``1-2``.

    Raises
    ------
    BadValue
        If it is no width, or wider than a loop can be.

    Examples
    --------
    >>> width_of("mono → stereo"), width_of("16 to 2"), width_of("8")
    ((1, 2), (16, 2), (8, 8))
    """
    words = re.findall(r"\d+|mono|stereo", typed.casefold())
    numbers = [{"mono": 1, "stereo": 2}.get(word) or int(word[:9]) for word in words]
    if not 1 <= len(numbers) <= 2 or any(not 1 <= n <= MOST_CHANNELS for n in numbers):
        raise BadValue(
            "the width of a loop",
            typed,
            f"Type mono, stereo, or two numbers up to {MOST_CHANNELS}, such as 16 out, 2 back.",
        )
    return numbers[0], numbers[-1]
