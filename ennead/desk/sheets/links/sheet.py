"""The Links sheet: ribbons, rulers, the rate, and what it would be like at another."""

from PyQt6.QtWidgets import QPushButton

from ennead.desk.sheets.links.links_view import LinksView
from ennead.desk.sheets.links.rehearsal_view import RehearsalView
from ennead.desk.shell.sheet_list import BY_NUMBER
from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.sheet_frame import EmptyNote, SheetFrame
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change


class LinksSheet(SheetFrame):
    """Digital links as ribbons."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__(book, BY_NUMBER[3])
        self._table = table
        self.rehearse_button, self.expand_button = QPushButton("Rehearse"), QPushButton("Expand…")
        self.link_button = QPushButton("Link…")
        self.link_button.setObjectName("link")
        self.link_button.setProperty("quiet", True)
        self.link_button.setToolTip("Run one digital cable between two free sockets")
        self.link_button.clicked.connect(self.link)
        self.rehearse_button.setObjectName("rehearse")
        self.rehearse_button.setProperty("quiet", True)
        self.expand_button.setObjectName("expand")
        self.rehearse_button.setToolTip("Try another sample rate: what is lost, what moves, before anything is done")
        self.expand_button.setToolTip(
            "Connect an expander to an interface: cables, settings, clock and numbers as one proposal"
        )
        self.rehearse_button.clicked.connect(self.rehearse)
        self.expand_button.clicked.connect(self.expand)
        self.add_action(self.rehearse_button)
        self.add_action(self.link_button)
        self.add_action(self.expand_button)
        self.view = LinksView(table, book)
        self.rehearsal = RehearsalView(table, book)
        self.rehearsal.ended.connect(self._rehearsed)
        first = QPushButton("Connect an expander…")
        first.clicked.connect(self.expand)
        empty = EmptyNote(
            book,
            "No digital cable is planned yet. If eight inputs are not enough, put an expander behind an optical "
            "port: Ennead says which cables, settings and clock it takes, and which numbers it brings.",
            first,
        )
        self._pages = self.add_pages(self.view, empty, self.rehearsal)
        self.setFocusProxy(self.view)
        table.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        if self.is_rehearsing:
            # What it was rehearsed on is another studio by now.
            self.rehearsal.begin()
            return
        digital = any(link.digital for link in self._table.survey.links.values())
        self._pages.setCurrentIndex(0 if digital or self._table.studio.hosts else 1)

    def rehearse(self) -> None:
        """Show what another rate, or a switch, would do; once more, or Escape, goes back to the ribbons."""
        if self.is_rehearsing:
            self._rehearsed(None)
            return
        self.rehearsal.begin()
        self._pages.setCurrentWidget(self.rehearsal)
        self.rehearsal.setFocus()

    @property
    def is_rehearsing(self) -> bool:
        """Whether a rehearsal is shown in place of the ribbons."""
        return self._pages.currentWidget() is self.rehearsal

    def _rehearsed(self, wanted: Change | None) -> None:
        """Leave the rehearsal, and do what was tried if it is wanted."""
        self._pages.setCurrentWidget(self.view)
        self._refresh()
        self.view.setFocus()
        if wanted is not None:
            self._table.do(wanted)

    def link(self) -> None:
        """Pick one link among those that free sockets allow, and run it."""
        from ennead.desk.sheets.links.link_dialog import LinkDialog

        dialog = LinkDialog(self._table.survey, self.book, self.window())
        if dialog.exec() and dialog.chosen is not None:
            self._table.do(dialog.chosen)

    def expand(self) -> None:
        """Propose how an expander is connected, and do it if it is wanted."""
        from ennead.desk.sheets.links.expand_dialog import ExpandDialog

        dialog = ExpandDialog(self._table, self.book, self.window())
        if dialog.exec() and dialog.found is not None:
            self._table.do(dialog.found.change)
