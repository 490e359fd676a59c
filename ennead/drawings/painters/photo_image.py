"""Photographs as images: read no larger than they are shown, and never one that would fill the memory."""

from typing import Final

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
from PyQt6.QtGui import QImage, QImageReader

#: The longest side and the most pixels of a picture that is looked at. House defaults: beyond any camera of the trade.
MOST_SIDE_PX: Final = 16_000
MOST_PIXELS: Final = 120_000_000
#: The longest side of a photograph in a studio, px, and how well it is kept. House defaults: the lettering of a panel is still read.
SIDE_PX: Final = 1_600
_QUALITY: Final = 86


def image_of(body: bytes, side_px: int) -> QImage | None:
    """Return a picture with its longest side no longer than asked, upright; None where it is no picture, or one that is too large."""
    buffer = QBuffer()
    buffer.setData(QByteArray(body))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    size = reader.size()
    if not reader.canRead() or not _is_bearable(size):
        return None
    reader.setAutoTransform(True)
    longest = max(size.width(), size.height())
    if longest > side_px:
        scale = side_px / longest
        reader.setScaledSize(QSize(max(1, round(size.width() * scale)), max(1, round(size.height() * scale))))
    image = reader.read()
    return None if image.isNull() else image


def _is_bearable(size: QSize) -> bool:
    width, height = size.width(), size.height()
    return 0 < width <= MOST_SIDE_PX and 0 < height <= MOST_SIDE_PX and width * height <= MOST_PIXELS


def picture_fault(body: bytes) -> str:
    """Return why bytes are no picture that a studio takes, in words; empty where they are."""
    buffer = QBuffer()
    buffer.setData(QByteArray(body))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    if not reader.canRead():
        return "it is no picture that can be read; take a JPEG or a PNG"
    size = reader.size()
    if size.isValid() and not _is_bearable(size):
        return f"it is {size.width():,} × {size.height():,} pixels large; make it smaller first"
    return "" if size.isValid() else "its size is not stated in it"


def stored_form(body: bytes) -> bytes | None:
    """Return a picture as a studio stores it, a JPEG of at most `SIDE_PX` px; None where it cannot be read."""
    image = image_of(body, SIDE_PX)
    if image is None:
        return None
    opaque = QImage(image.size(), QImage.Format.Format_RGB32)
    opaque.fill(0xFFFFFFFF)
    from PyQt6.QtGui import QPainter

    with QPainter(opaque) as painter:
        painter.drawImage(0, 0, image)
    made = QBuffer()
    made.open(QIODevice.OpenModeFlag.WriteOnly)
    opaque.save(made, "JPEG", _QUALITY)
    return made.data().data()
