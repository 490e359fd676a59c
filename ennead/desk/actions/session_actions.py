"""What the Session menu does: add, copy, choose, rename and remove sessions, and the changeover between two."""

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QActionGroup
from PyQt6.QtWidgets import QInputDialog, QMenu, QWidget

from ennead.desk.shell.worktable import Worktable
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.session import rename_session
from ennead.edits.sessions import add_session, choose_session, copy_session, remove_session
from ennead.studio.ids import SessionId


class SessionActions(QObject):
    """The actions; every one of them is a step of undo."""

    def __init__(self, table: Worktable, book: ThemeBook, window: QWidget) -> None:
        super().__init__(window)
        self._table, self._book, self._window = table, book, window

    def _ask(self, title: str, text: str, given: str) -> str:
        name, ok = QInputDialog.getText(self._window, title, text, text=given)
        return name.strip() if ok else ""

    def new_session(self) -> None:
        """Add a session with empty lists."""
        if name := self._ask("New session", "Its name:", ""):
            self._table.do(change(f"Add the session {name}", add_session, name))

    def copy_session(self) -> None:
        """Copy the current session."""
        now = self._table.studio.current.name
        if name := self._ask("Copy the session", f"A name for the copy of {now}:", f"{now}, copy"):
            self._table.do(change(f"Copy {now} to {name}", copy_session, name))

    def rename_session(self) -> None:
        """Rename the current session."""
        now = self._table.studio.current.name
        if name := self._ask("Rename the session", "Its name:", now):
            self._table.do(change(f"Rename the session to {name}", rename_session, name))

    def remove_session(self) -> None:
        """Remove the current session; one undo brings it back."""
        now = self._table.studio.current
        self._table.do(change(f"Remove the session {now.name}", remove_session, now.id))

    def choose(self, session: SessionId) -> None:
        """Make another session the current one."""
        if session not in self._table.studio.sessions:
            self._table.said.emit("That session is no longer there.")
            return
        name = self._table.studio.sessions[session].name
        self._table.do(change(f"Go to the session {name}", choose_session, session))

    def changeover(self) -> None:
        """Show what has to be done between two sessions."""
        from ennead.desk.dialogs.changeover_dialog import ChangeoverDialog

        if len(self._table.studio.sessions) == 1:
            self._table.said.emit(
                "There is one session alone. Session, Copy this session makes another to change over to."
            )
            return
        dialog = ChangeoverDialog(self._table, self._book, self._window)
        if dialog.exec() and dialog.ticks is not None:
            self._table.do(dialog.ticks)
        dialog.deleteLater()

    def list_sessions(self, menu: QMenu) -> None:
        """Put the sessions at the end of a menu, the current one ticked."""
        studio = self._table.studio
        for action in menu.actions():
            if action.property("session"):
                menu.removeAction(action)
                action.deleteLater()
        group = QActionGroup(menu)
        for session in studio.sessions.values():
            action = QAction(session.name.replace("&", "&&"), menu)
            action.setProperty("session", session.id)
            action.setCheckable(True)
            action.setChecked(session.id == studio.session)
            action.triggered.connect(lambda _=False, s=session.id: self.choose(s))
            group.addAction(action)
            menu.addAction(action)
