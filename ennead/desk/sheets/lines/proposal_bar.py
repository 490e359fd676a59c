"""The bar over the chart while an allocation is worked out and while its proposal is shown."""

from collections.abc import Iterator

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from ennead.drawings.painters.theme import ThemeBook
from ennead.planning.seating.allocation import Proposal
from ennead.studio.document import Studio


class ProposalBar(QWidget):
    """Says what is proposed; its buttons take all, some, or none of it."""

    taken = pyqtSignal()
    dropped = pyqtSignal()
    asked = pyqtSignal()

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
        self.remedies = QPushButton("What binds, what helps…")
        self.remedies.setObjectName("shortage")
        for part, stretch in ((self.words, 1), (self.progress, 0), (self.remedies, 0), (self.take, 0), (self.drop, 0)):
            row.addWidget(part, stretch)
        self.take.clicked.connect(self.taken)
        self.drop.clicked.connect(self.dropped)
        self.remedies.clicked.connect(self.asked)
        self.hide()

    def working(self) -> None:
        """Show that the search is under way."""
        self.words.setText("Looking for a place for every source…")
        self.progress.setValue(0)
        self.progress.setFixedWidth(self._book.now.px(140))
        self.progress.show()
        self.take.hide()
        self.remedies.hide()
        self.drop.setText("Stop")
        self.show()

    def propose(self, proposal: Proposal, studio: Studio, taken: int) -> None:
        """Show what a proposal would do, and how much of it is ticked."""
        count, without = proposal.count, len(proposal.unplaced) + len(proposal.unplaced_outs or {})
        ins, outs = len(proposal.placements), len(proposal.outs)
        parts = [f"{ins} {'source' if ins == 1 else 'sources'} placed"] if ins or not outs else []
        if outs:
            parts.append(f"{outs} {'destination' if outs == 1 else 'destinations'} placed")
        parts.append("none moved" if not proposal.moves else f"{proposal.moves} of them moved")
        if cords := sum(map(len, proposal.cords.values())):
            parts.append("one cord laid" if cords == 1 else f"{cords} cords laid")
        if proposal.switches:
            parts.append(
                "one 48 V switch set anew"
                if len(proposal.switches) == 1
                else f"{len(proposal.switches)} 48 V switches set anew"
            )
        if proposal.unplugged:
            parts.append(f"{len(proposal.unplugged)} unplugged")
        words = ", ".join(parts) + "."
        if without:
            first, reason = next(iter(_unplaced(proposal, studio)))
            more = f", and {without - 1} more," if without > 1 else ""
            words += f" {first}{more} found none: {reason}."
        elif not proposal.changes:
            words = "Everything has its place already; nothing would change."
        if proposal.stages:
            words += " Nothing better is possible." if proposal.proven else " The best found so far; not proven."
        self.words.setText(words)
        self.progress.hide()
        self.remedies.setVisible(bool(without))
        self.take.setVisible(proposal.changes)
        self.take.setEnabled(taken > 0 or not count)
        self.take.setText("Take all" if taken == count else f"Take {taken} of {count}")
        self.drop.setText("Not now" if proposal.changes else "Good")
        self.show()


def _unplaced(proposal: Proposal, studio: Studio) -> Iterator[tuple[str, str]]:
    """Yield the names of those without a place, with why."""
    for source, reason in proposal.unplaced.items():
        yield studio.sources[source].name, reason
    for destination, reason in (proposal.unplaced_outs or {}).items():
        yield studio.destinations[destination].name, reason
