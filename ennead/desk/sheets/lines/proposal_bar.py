"""The bar over the chart while an allocation is worked out and while its proposal is shown."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from ennead.desk.theme.theme import ThemeBook
from ennead.planning.allocation import Proposal
from ennead.studio.document import Studio


class ProposalBar(QWidget):
    """Says what is proposed; its buttons take all, some, or none of it."""

    taken = pyqtSignal()
    dropped = pyqtSignal()

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._book = book
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.words = QLabel()
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setWordWrap(True)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.take = QPushButton("Take")
        self.take.setObjectName("take_proposal")
        self.drop = QPushButton("Not now")
        self.drop.setProperty("quiet", True)
        self.drop.setObjectName("drop_proposal")
        for part, stretch in ((self.words, 1), (self.progress, 0), (self.take, 0), (self.drop, 0)):
            row.addWidget(part, stretch)
        self.take.clicked.connect(self.taken)
        self.drop.clicked.connect(self.dropped)
        self.hide()

    def working(self) -> None:
        """Show that the search is under way."""
        self.words.setText("Looking for a place for every source…")
        self.progress.setValue(0)
        self.progress.setFixedWidth(self._book.now.px(140))
        self.progress.show()
        self.take.hide()
        self.drop.setText("Stop")
        self.show()

    def propose(self, proposal: Proposal, studio: Studio, taken: int) -> None:
        """Show what a proposal would do, and how much of it is ticked."""
        count = len(proposal.placements)
        parts = [f"{count} {'source' if count == 1 else 'sources'} placed"]
        parts.append("none moved" if not proposal.moves else f"{proposal.moves} of them moved")
        words = ", ".join(parts) + "."
        if proposal.unplaced:
            first, reason = next(iter(proposal.unplaced.items()))
            more = f", and {len(proposal.unplaced) - 1} more," if len(proposal.unplaced) > 1 else ""
            words += f" {studio.sources[first].name}{more} found none: {reason}."
        elif not count:
            words = "Every source has its place already; nothing would change."
        self.words.setText(words)
        self.progress.hide()
        self.take.setVisible(count > 0)
        self.take.setEnabled(taken > 0)
        self.take.setText("Take all" if taken == count else f"Take {taken} of {count}")
        self.drop.setText("Not now" if count else "Good")
        self.show()
