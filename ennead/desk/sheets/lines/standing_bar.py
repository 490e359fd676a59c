"""The bar over the chart while it shows what stands instead of the plan."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from ennead.studio.document import Studio


class StandingBar(QWidget):
    """Says that the chart shows what has been ticked, and leads back to the plan."""

    def __init__(self, back: Callable[[], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.words = QLabel()
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setWordWrap(True)
        self.back = QPushButton("Back to the plan")
        self.back.setObjectName("back_to_plan")
        self.back.clicked.connect(back)
        row.addWidget(self.words, 1)
        row.addWidget(self.back)
        self.hide()

    def tell(self, studio: Studio, *, shown: bool) -> None:
        """Say what is shown; hidden while that is the plan."""
        self.setVisible(shown)
        count = len(studio.stood)
        cables = "one cable is" if count == 1 else f"{count} cables are"
        self.words.setText(
            f"This is what stands: {cables} ticked as wired. The plan is not shown."
            if count
            else (
                "This is what stands: nothing is ticked as wired yet. Tick cables in the margin of a line, or in a"
                " changeover."
            )
        )
