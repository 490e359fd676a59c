"""The menu bar: every command by name, with its key."""

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu, QMenuBar

from ennead.desk.shell.commands import COMMANDS, MENUS, Command

if TYPE_CHECKING:
    from ennead.desk.shell.window import Window


def build_menus(window: QMainWindow) -> dict[str, QMenu]:
    """Put the menus on the menu bar; return them by name."""
    # Made here, not by Qt: of what Qt makes and destroys by itself PyQt is not told, and keeps a name for nothing.
    bar = QMenuBar(window)
    window.setMenuBar(bar)
    menus: dict[str, QMenu] = {}
    for name in MENUS:
        menus[name] = QMenu(name, bar)
        bar.addMenu(menus[name])
    return menus


def fill_menus(menus: dict[str, QMenu], window: "Window") -> dict[str, QAction]:
    """Put the commands into the menus; return their actions by name."""
    found: dict[str, QAction] = {}
    for command in COMMANDS:
        if not command.text:
            menus[command.menu].addSeparator()
            continue
        action = found[command.name or command.text] = _action(command, window)
        if command.menu:
            menus[command.menu].addAction(action)
    return found


def _action(command: Command, window: "Window") -> QAction:
    action = QAction(command.text, window)
    action.setObjectName(command.name)
    if command.key:
        # The plus sits on the shifted = on many keyboards; both mean larger.
        keys = [QKeySequence(command.key)] + ([QKeySequence("Ctrl+=")] if command.key == "Ctrl++" else [])
        action.setShortcuts(keys)
    action.setEnabled(not command.waits)
    action.triggered.connect(lambda _=False, do=command.do: do(window))
    return action


def add_choices(menu: QMenu, title: str, choices: dict[str, str], chosen: str, choose: Callable[[str], object]) -> None:
    """Add a sub-menu of which one entry is ticked."""
    sub = QMenu(title, menu)
    menu.addMenu(sub)
    group = QActionGroup(menu)
    for key, text in choices.items():
        action = QAction(text, sub)
        sub.addAction(action)
        action.setCheckable(True)
        action.setChecked(key == chosen)
        group.addAction(action)
        action.triggered.connect(lambda _=False, k=key: choose(k))


def all_actions(menus: dict[str, QMenu]) -> Iterator[QAction]:
    """Yield every action of the menus, sub-menus included."""
    waiting = list(menus.values())
    while waiting:
        menu = waiting.pop(0)
        for action in menu.actions():
            sub = action.menu()
            if sub is not None:
                waiting.append(sub)
            elif not action.isSeparator():
                yield action
