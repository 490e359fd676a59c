"""Characters that are no signs: control characters and orders to turn the way of writing round, made visible.

A name from a file may hold any of them; on a terminal they move the cursor or take over the title, in XML they are not allowed.
"""

from typing import Final

_PICTURES: Final = 0x2400

#: Each such character with what is shown instead: of C0 and DEL its Unicode control picture, of the others their number.
SIGNS: Final[dict[int, str]] = {
    **{n: chr(_PICTURES + n) for n in range(0x20)},
    0x7F: "\u2421",
    **{n: f"‹{n:02X}›" for n in (*range(0x80, 0xA0), *range(0x202A, 0x202F), *range(0x2066, 0x206A), 0x2028, 0x2029)},
    **dict.fromkeys((*range(55296, 57344), 65534, 65535), "�"),
}


def visible(text: str) -> str:
    """Return a text on one line of signs that can be seen.

    References
    ----------
    ISO/IEC 6429 (C0, C1); Unicode, Control Pictures; XML 1.0, 2.2.
    """
    return text if text.isprintable() else text.translate(SIGNS)


def escaped(text: str) -> str:
    """Return a JSON text with every such character in its strings written as an escape."""
    return text if text.isascii() else text.translate(_ESCAPES)


_ESCAPES: Final = {n: f"\\u{n:04x}" for n in SIGNS if n >= 0x7F}
