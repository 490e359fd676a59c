"""A gesture: what a person does to a drawing that begins, goes on, and is ended or dropped, whatever it is done with."""

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication


class Gesture:
    """Base of them. Positions are in drawing coordinates."""

    def start(self, at: QPointF) -> None:
        """Begin at a point."""

    def move(self, at: QPointF) -> None:
        """Go on to a point."""

    def end(self, at: QPointF) -> None:
        """End at a point: what was begun is carried out."""

    def cancel(self) -> None:
        """Leave all as it was."""


class Drag(Gesture):
    """Something drawn along with the mouse, from where the mouse has gone as far as the desktop wants of a drag.

    Attributes
    ----------
    at : QPointF or None
        Where it has come; None while it may still be a mere press.
    """

    def __init__(self) -> None:
        self._from = QPointF()
        self.at: QPointF | None = None

    def start(self, at: QPointF) -> None:
        self._from = at

    def move(self, at: QPointF) -> None:
        if self.at is not None:
            self.at = at
        elif (at - self._from).manhattanLength() >= QApplication.startDragDistance():
            self.at = at
            self.picked_up()

    def end(self, at: QPointF) -> None:
        if self.at is not None:
            self.at = None
            self.dropped(at)

    def cancel(self) -> None:
        self.at = None

    def picked_up(self) -> None:
        """Do what is to be done once it is a drag."""

    def dropped(self, at: QPointF) -> None:
        """Carry it out where it was let go."""
