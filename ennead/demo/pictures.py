"""The photographs of Skerry Sound House's recall cards: made up here, point by point, of boxes that do not exist."""

import struct
import zlib
from collections.abc import Sequence
from typing import Final

from ennead.files.photographs import HeldPhotos

Colour = tuple[int, int, int]
_WALL: Final[Colour] = (58, 54, 50)
_WIDE, _HIGH = 640, 240


class _Canvas:
    """A picture of so many points."""

    def __init__(self, ground: Colour) -> None:
        self._rows = [bytearray(bytes(ground) * _WIDE) for _ in range(_HIGH)]

    def box(self, left: int, top: int, right: int, bottom: int, colour: Colour) -> None:
        for y in range(max(0, top), min(_HIGH, bottom)):
            self._rows[y][3 * max(0, left) : 3 * min(_WIDE, right)] = bytes(colour) * (min(_WIDE, right) - max(0, left))

    def disc(self, x: int, y: int, radius: int, colour: Colour) -> None:
        for row in range(y - radius, y + radius + 1):
            half = int((radius**2 - (row - y) ** 2) ** 0.5)
            self.box(x - half, row, x + half + 1, row + 1, colour)

    def png(self) -> bytes:
        """Return it as a PNG.

        References
        ----------
        ISO/IEC 15948, clauses 5 and 11.
        """

        def chunk(kind: bytes, body: bytes) -> bytes:
            return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

        head = struct.pack(">IIBBBBB", _WIDE, _HIGH, 8, 2, 0, 0, 0)
        pixels = zlib.compress(b"".join(b"\0" + bytes(row) for row in self._rows), 9)
        return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", pixels) + chunk(b"IEND", b"")


def _front(colour: Colour, marks: Sequence[int], close: bool) -> bytes:
    """Return a front panel with a dial for each mark, turned so far, in degrees from the top; close up the first three alone."""
    from math import cos, radians, sin

    canvas = _Canvas(_WALL)
    canvas.box(0, 40, _WIDE, _HIGH - 40, colour)
    canvas.box(0, 40, _WIDE, 44, (24, 24, 24))
    shown = marks[:3] if close else marks
    step = _WIDE // (len(shown) + 1)
    radius = 62 if close else 30
    for n, turned in enumerate(shown, start=1):
        x, y = n * step, _HIGH // 2
        canvas.disc(x, y, radius, (30, 30, 32))
        canvas.disc(x, y, radius - 6, (84, 84, 88))
        for along in range(radius // 3, radius - 2):
            at = radians(turned)
            canvas.disc(round(x + along * sin(at)), round(y - along * cos(at)), 2, (240, 236, 224))
    canvas.disc(_WIDE - 24, 64, 7, (214, 120, 40))
    return canvas.png()


#: The pictures, whole and close-up, by box.
_FRONTS: Final = {
    "Capstan": ((120, 132, 140), (-60, 45, -20, 110, 30)),
    "Tiller": ((140, 118, 96), (15, -75, 80, -10)),
}


def panel_photos(photos: HeldPhotos, box: str) -> tuple[str, str]:
    """Return the hashes of a box's two pictures, the whole and the close-up, which are then held."""
    colour, marks = _FRONTS[box]
    return photos.put(_front(colour, marks, close=False)), photos.put(_front(colour, marks, close=True))


def demo_photos() -> HeldPhotos:
    """Return all photographs of the demo."""
    photos = HeldPhotos()
    for box in _FRONTS:
        panel_photos(photos, box)
    return photos
