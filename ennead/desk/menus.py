"""The menu bar: every action by name, with its key."""

from collections.abc import Callable, Iterator

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu, QMenuBar

#: Menu, text, key, name of the window's method. An empty text is a rule.
_ENTRIES: tuple[tuple[str, str, str, str], ...] = (
    ("&File", "&New studio", "Ctrl+N", "new_studio"),
    ("&File", "&Open…", "Ctrl+O", "open_studio"),
    ("&File", "Open a &backup…", "", "open_backup"),
    ("&File", "Open the &demo", "", "open_demo"),
    ("&File", "", "", ""),
    ("&File", "&Save as…", "Ctrl+Shift+S", "save_as"),
    ("&File", "Save a &JSON copy…", "", "save_json"),
    ("&File", "", "", ""),
    ("&File", "&Read an input list…", "Ctrl+I", "read_list"),
    ("&File", "&Write the input list…", "", "write_list"),
    ("&File", "Export the &driver sheet…", "", "export_drivers"),
    ("&File", "Export the &cable schedule…", "", "export_cables"),
    ("&File", "", "", ""),
    ("&File", "&Quit", "Ctrl+Q", "close"),
    ("&Sheet", "", "", ""),
    ("&Sheet", "Drop in a &set of sources…", "Ctrl+Shift+I", "templates"),
    ("&Sheet", "&Keep these sources as a set…", "", "keep_template"),
    ("&Sheet", "", "", ""),
    ("&Sheet", "&Make up a lead…", "Ctrl+Shift+Y", "make_lead"),
    ("&Sheet", "What m&atters when placing…", "", "aims"),
    ("&Sheet", "What &binds, what helps…", "Ctrl+Shift+H", "shortage"),
    ("&Sheet", "&Why is it here?…", "Ctrl+Shift+W", "why_here"),
    ("&Sheet", "What if a &unit dies tonight?…", "Ctrl+Shift+L", "unit_loss"),
    ("Sess&ion", "&New session…", "Ctrl+Shift+N", "new_session"),
    ("Sess&ion", "&Copy this session…", "Ctrl+Shift+C", "copy_session"),
    ("Sess&ion", "&Rename this session…", "", "rename_session"),
    ("Sess&ion", "R&emove this session", "", "remove_session"),
    ("Sess&ion", "", "", ""),
    ("Sess&ion", "C&hangeover…", "Ctrl+Shift+E", "changeover"),
    ("Sess&ion", "", "", ""),
    ("&Box", "&Describe your box…", "Ctrl+B", "describe_box"),
    ("&Box", "&Edit the selected box's description…", "Ctrl+Shift+B", "edit_box"),
    ("&Box", "", "", ""),
    ("&Box", "&Import a profile…", "", "import_profile"),
    ("&Box", "E&xport the selected box's profile…", "", "export_profile"),
    ("&View", "&Find anything…", "Ctrl+K", "find"),
    ("&View", "&Tape view", "Ctrl+T", "tape_view"),
    ("&View", "Trace what &stands", "Ctrl+Shift+T", "trace_standing"),
    ("&View", "", "", ""),
    ("&View", "Text &larger", "Ctrl++", "text_larger"),
    ("&View", "Text &smaller", "Ctrl+-", "text_smaller"),
    ("&View", "Text at &100 %", "Ctrl+0", "text_normal"),
    ("&Help", "&Handbook", "F1", "show_handbook"),
    ("&Help", "&Keys", "Shift+F1", "show_keys"),
    ("&Help", "&About Ennead", "", "about"),
)


def build_menus(window: QMainWindow) -> dict[str, QMenu]:
    """Put the menus on the menu bar; return them by name."""
    # Made here, not by Qt: of what Qt makes and destroys by itself PyQt is not told, and keeps a name for nothing.
    bar = QMenuBar(window)
    window.setMenuBar(bar)
    menus: dict[str, QMenu] = {}
    for name in ("&File", "&Edit", "&Sheet", "Sess&ion", "&Box", "&View", "&Help"):
        menus[name] = QMenu(name, bar)
        bar.addMenu(menus[name])
    return menus


def fill_menus(menus: dict[str, QMenu], window: QMainWindow, method: Callable[[str], Callable[[], object]]) -> None:
    """Put the actions into the menus, each calling the method of its name."""
    for menu, text, key, called in _ENTRIES:
        if not text:
            menus[menu].addSeparator()
            continue
        action = QAction(text, window)
        action.setObjectName(called)
        if key:
            # The plus sits on the shifted = on many keyboards; both mean larger.
            keys = [QKeySequence(key), QKeySequence("Ctrl+=")] if key == "Ctrl++" else [QKeySequence(key)]
            action.setShortcuts(keys)
        action.triggered.connect(lambda _=False, m=called: method(m)())
        menus[menu].addAction(action)


def add_choices(
    menu: QMenu, title: str, choices: dict[str, str], chosen: str, choose: Callable[[str], object]
) -> None:
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
