"""The tone of a widget: what the style sheet knows its colour by.

A style sheet of its own on a widget is read and applied anew each time it is made, which for the margin's labels
took longer than all the rest of building them.
"""

from typing import Literal

from PyQt6.QtWidgets import QWidget

Tone = Literal["ink", "soft", "accent", "trouble", "caution", "note"]


def set_tone(widget: QWidget, tone: str) -> None:
    """Give a widget a tone; one that has it already is left alone."""
    if widget.property("tone") == tone:
        return
    widget.setProperty("tone", tone)
    # One not yet seen is dressed when it is; and asking for a style makes PyQt define all there is to a style, which
    # before the first paint would take longer than the window's own widgets.
    if widget.isVisible() and (style := widget.style()) is not None:
        style.unpolish(widget)
        style.polish(widget)
