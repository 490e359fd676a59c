"""What a window's menus do, and its sheets by name: each made, or read, when it is first asked for, after the first paint."""

from functools import cached_property
from typing import TYPE_CHECKING

from ennead.desk.shell.sheet_list import BAYS, LINES, LINKS, LOOPS, RIG, SESSION

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QMainWindow

    from ennead.desk.actions.box_actions import BoxActions
    from ennead.desk.actions.file_actions import FileActions
    from ennead.desk.actions.help_actions import HelpActions
    from ennead.desk.actions.place_actions import PlaceActions
    from ennead.desk.actions.print_actions import PrintActions
    from ennead.desk.actions.session_actions import SessionActions
    from ennead.desk.sheets.bays.sheet import BaysSheet
    from ennead.desk.sheets.lines.sheet import LinesSheet
    from ennead.desk.sheets.links.sheet import LinksSheet
    from ennead.desk.sheets.loops.sheet import LoopsSheet
    from ennead.desk.sheets.rig.sheet import RigSheet
    from ennead.desk.sheets.session.sheet import SessionSheet
    from ennead.desk.shell.sheet_box import SheetBox
    from ennead.desk.shell.worktable import Worktable
    from ennead.desk.storage.preferences import Preferences
    from ennead.drawings.painters.theme import ThemeBook
    from ennead.planning.seating.allocation import Proposal
    from ennead.studio.profile import Profile

    _Base = QMainWindow
else:
    _Base = object


class ActionGroups(_Base):
    """The part of the window that knows what its menus do."""

    table: "Worktable"
    book: "ThemeBook"
    preferences: "Preferences"
    sheets: "SheetBox"
    number: int

    def _take_box(self, profile: "Profile") -> None:
        raise NotImplementedError

    def _show_proposal(self, proposal: "Proposal") -> None:
        raise NotImplementedError

    @cached_property
    def files(self) -> "FileActions":
        """The File menu."""
        from ennead.desk.actions.file_actions import FileActions

        return FileActions(self.table, self.preferences, self)

    @cached_property
    def boxes(self) -> "BoxActions":
        """The Box menu."""
        from ennead.desk.actions.box_actions import BoxActions

        return BoxActions(self.table, self.book, self, self._take_box)

    @cached_property
    def places(self) -> "PlaceActions":
        """Questions about places."""
        from ennead.desk.actions.place_actions import PlaceActions

        return PlaceActions(self.table, self.book, self, self._show_proposal)

    @cached_property
    def sessions(self) -> "SessionActions":
        """The Session menu."""
        from ennead.desk.actions.session_actions import SessionActions

        return SessionActions(self.table, self.book, self)

    @cached_property
    def prints(self) -> "PrintActions":
        """What is printed."""
        from ennead.desk.actions.print_actions import PrintActions

        return PrintActions(self.table, self.book, self, lambda: self.bays_sheet, self.sessions.changeover)

    @cached_property
    def help(self) -> "HelpActions":
        """The Help menu."""
        from ennead.desk.actions.help_actions import HelpActions

        return HelpActions(self.book, self, lambda: self.number)

    @property
    def rig_sheet(self) -> "RigSheet":
        """The Rig sheet."""
        sheet: RigSheet = self.sheets[RIG]  # type: ignore[assignment]
        return sheet

    @property
    def links_sheet(self) -> "LinksSheet":
        """The Links sheet."""
        sheet: LinksSheet = self.sheets[LINKS]  # type: ignore[assignment]
        return sheet

    @property
    def bays_sheet(self) -> "BaysSheet":
        """The bays; made where it is asked for."""
        sheet: BaysSheet = self.sheets[BAYS]  # type: ignore[assignment]
        return sheet

    @property
    def loops_sheet(self) -> "LoopsSheet":
        """The Loops sheet."""
        sheet: LoopsSheet = self.sheets[LOOPS]  # type: ignore[assignment]
        return sheet

    @property
    def lines_sheet(self) -> "LinesSheet":
        """The Lines sheet."""
        sheet: LinesSheet = self.sheets[LINES]  # type: ignore[assignment]
        return sheet

    @property
    def session_sheet(self) -> "SessionSheet":
        """The Session sheet."""
        sheet: SessionSheet = self.sheets[SESSION]  # type: ignore[assignment]
        return sheet
