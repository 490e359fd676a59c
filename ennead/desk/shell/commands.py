"""Every command there is, once: menus, keys, the page of keys and Ctrl+K read them here."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Final

from ennead.desk.shell.sheet_list import BAYS, LINES, LINKS, LOOPS, RIG, SHEETS
from ennead.desk.shell.sheet_list import SESSION as INPUT_LIST
from ennead.reports.printed import PRINTED
from ennead.studio.record import record

if TYPE_CHECKING:
    from ennead.desk.shell.window import Window


@record(frozen=True)
class Command:
    """One command.

    Parameters
    ----------
    menu, text, key : str
        Where it stands, what it says there, and its key; an empty text is a rule, and what stands in no menu is found by Ctrl+K alone.
    name : str
        What it is called among the window's objects.
    do : callable
        Carries it out on a window.
    waits : bool
        Whether it is disabled until another part enables it.
    """

    menu: str
    text: str = ""
    key: str = ""
    name: str = ""
    do: "Callable[[Window], object]" = lambda _: None
    waits: bool = False


def _on_sheet(number: int, deed: "Callable[[Window], object]") -> "Callable[[Window], object]":
    """Return what goes to a sheet and does something there."""

    def do(window: "Window") -> None:
        window.go(number)
        deed(window)

    return do


def _printing(what: str) -> "Callable[[Window], object]":
    return lambda window: window.prints.print(what)


MENUS: Final = ("&File", "&Edit", "&View", "&Plan", "B&ays", "Sess&ion", "&Box", "&Help")
FILE, EDIT, VIEW, PLAN, BAYS_MENU, SESSION, BOX, HELP = MENUS

COMMANDS: Final[tuple[Command, ...]] = (
    Command(FILE, "&New studio", "Ctrl+N", "new_studio", lambda w: w.files.new_studio()),
    Command(FILE, "&Open…", "Ctrl+O", "open_studio", lambda w: w.files.open_studio()),
    Command(FILE, "Open a &backup…", "", "open_backup", lambda w: w.files.open_backup()),
    Command(FILE, "Open the &demo", "", "open_demo", lambda w: w.files.open_demo()),
    Command(FILE),
    Command(FILE, "&Save as…", "Ctrl+Shift+S", "save_as", lambda w: w.files.save_as()),
    Command(FILE, "Save a &JSON copy…", "", "save_json", lambda w: w.files.save_json()),
    Command(FILE),
    Command(FILE, "&Print…", "Ctrl+P", "print", lambda w: w.prints.choose()),
    *(Command("", f"Print: {p.label}…", "", f"print_{p.what}", _printing(p.what)) for p in PRINTED),
    Command(FILE),
    Command(FILE, "&Read an input list…", "Ctrl+I", "read_list", lambda w: w.read_list()),
    Command(FILE, "&Write the input list…", "", "write_list", lambda w: w.files.write_list()),
    Command(FILE, "Export the &driver sheet…", "", "export_drivers", lambda w: w.files.export_drivers()),
    Command(FILE, "Export the &cable schedule…", "", "export_cables", lambda w: w.files.export_cables()),
    Command(FILE),
    Command(FILE, "&Quit", "Ctrl+Q", "close", lambda w: w.close()),
    *(Command(VIEW, f"&{s.number} {s.name}", f"Alt+{s.number}", "", lambda w, n=s.number: w.go(n)) for s in SHEETS),  # type: ignore[misc]
    Command(VIEW),
    Command(VIEW, "&Find anything…", "Ctrl+K", "find", lambda w: w.find()),
    Command(VIEW, "Next f&inding", "F8", "next_finding", lambda w: w.next_finding()),
    Command(VIEW, "Take the first fi&x", "Ctrl+.", "first_fix", lambda w: w.first_fix()),
    Command(VIEW),
    Command(VIEW, "T&ape view", "Ctrl+T", "tape_view", lambda w: w.tape_view()),
    Command(VIEW, "Trace what &stands", "Ctrl+Shift+T", "trace_standing", lambda w: w.trace_standing()),
    Command(VIEW, "Fold the &margin away", "Ctrl+M", "fold_margin", lambda w: w.fold_margin()),
    Command(VIEW),
    Command(VIEW, "Text &larger", "Ctrl++", "text_larger", lambda w: w.looks.step(1)),
    Command(VIEW, "Text s&maller", "Ctrl+-", "text_smaller", lambda w: w.looks.step(-1)),
    Command(VIEW, "Text at &100 %", "Ctrl+0", "text_normal", lambda w: w.looks.step(0)),
    Command(
        PLAN, "&Allocate, then take", "Ctrl+Return", "allocate_or_take", lambda w: w.lines_sheet.allocate_or_take()
    ),
    # Escape goes to the widget with the keyboard unless there is a proposal to drop.
    Command(PLAN, "&Drop the proposal", "Esc", "drop_proposal", lambda w: w.lines_sheet.drop(), waits=True),
    Command(PLAN, "What m&atters when placing…", "", "aims", lambda w: w.places.aims()),
    Command(PLAN, "What &binds, what helps…", "Ctrl+Shift+H", "shortage", lambda w: w.places.shortage()),
    Command(PLAN, "&Why is it here?…", "Ctrl+Shift+W", "why_here", lambda w: w.places.why_here()),
    Command(PLAN, "What if a &unit dies tonight?…", "Ctrl+Shift+L", "unit_loss", lambda w: w.places.unit_loss()),
    Command(PLAN),
    Command(
        PLAN,
        "&Rehearse another rate…",
        "",
        "rehearse",
        _on_sheet(LINKS, lambda w: w.links_sheet.rehearse_button.click()),
    ),
    Command(PLAN, "&Expand…", "", "expand", _on_sheet(LINKS, lambda w: w.links_sheet.expand_button.click())),
    Command(PLAN, "&Link two boxes…", "", "link", _on_sheet(LINKS, lambda w: w.links_sheet.link_button.click())),
    Command(PLAN, "Read this computer…", "", "read_computer", lambda w: w.places.read_computer()),
    Command(PLAN),
    Command(PLAN, "Drop in a &set of sources…", "Ctrl+Shift+I", "templates", lambda w: w.places.templates()),
    Command(PLAN, "&Keep these sources as a set…", "", "keep_template", lambda w: w.places.keep_template()),
    Command(
        PLAN, "&Paste a list…", "", "paste_list", _on_sheet(INPUT_LIST, lambda w: w.session_sheet.paste_button.click())
    ),
    Command(PLAN),
    Command(PLAN, "&Connect two sockets…", "", "connect", _on_sheet(RIG, lambda w: w.rig_sheet.connect_button.click())),
    Command(PLAN, "New l&oop…", "", "new_loop", _on_sheet(LOOPS, lambda w: w.loops_sheet.make_loop())),
    Command(PLAN, "Measure a loop by files…", "", "measure", _on_sheet(LOOPS, lambda w: w.loops_sheet.measure())),
    Command(PLAN, "Measure loops live…", "", "measure_live", _on_sheet(LOOPS, lambda w: w.loops_sheet.measure_live())),
    Command(PLAN, "Calibrate a loop…", "", "calibrate", _on_sheet(LOOPS, lambda w: w.loops_sheet.calibrate())),
    Command(PLAN, "&Recall cards…", "", "recall", lambda w: w.places.recall()),
    Command(PLAN, "Print &jobs…", "", "print_jobs", _on_sheet(LOOPS, lambda w: w.loops_sheet.list_jobs())),
    Command(PLAN, "&Make up a lead…", "Ctrl+Shift+Y", "make_lead", lambda w: w.places.make_lead()),
    Command(BAYS_MENU, "&Make a bay…", "", "make_bay", _on_sheet(BAYS, lambda w: w.bays_sheet.make())),
    Command(BAYS_MENU, "&Lay the bays out…", "Ctrl+Shift+K", "lay_bays", lambda w: w.bays_sheet.lay()),
    Command(
        BAYS_MENU,
        "&Wire rows of sockets to the bays",
        "",
        "wire_rears",
        _on_sheet(BAYS, lambda w: w.bays_sheet.wire_button.toggle()),
    ),
    Command(BAYS_MENU, "L&ooms…", "", "looms", lambda w: w.bays_sheet.show_looms()),
    Command(BAYS_MENU),
    Command(
        BAYS_MENU, "Add a &scene…", "", "add_scene", _on_sheet(BAYS, lambda w: w.bays_sheet.strip.add_button.click())
    ),
    Command(BAYS_MENU, "&Type a cord", "", "type_cord", _on_sheet(BAYS, lambda w: w.bays_sheet.words.words.setFocus())),
    Command(BAYS_MENU),
    Command(
        BAYS_MENU, "Look &closer at the bays", "", "bays_closer", _on_sheet(BAYS, lambda w: w.bays_sheet.closer.click())
    ),
    Command(
        BAYS_MENU, "See more of the &bays", "", "bays_farther", _on_sheet(BAYS, lambda w: w.bays_sheet.farther.click())
    ),
    Command(SESSION, "&New session…", "Ctrl+Shift+N", "new_session", lambda w: w.sessions.new_session()),
    Command(SESSION, "&Copy this session…", "Ctrl+Shift+C", "copy_session", lambda w: w.sessions.copy_session()),
    Command(SESSION, "&Rename this session…", "", "rename_session", lambda w: w.sessions.rename_session()),
    Command(SESSION, "R&emove this session", "", "remove_session", lambda w: w.sessions.remove_session()),
    Command(SESSION),
    Command(SESSION, "C&hangeover…", "Ctrl+Shift+E", "changeover", lambda w: w.sessions.changeover()),
    Command(SESSION),
    Command(BOX, "&Describe your box…", "Ctrl+B", "describe_box", lambda w: w.boxes.describe_box()),
    Command(BOX, "&Edit the selected box's description…", "Ctrl+Shift+B", "edit_box", lambda w: w.boxes.edit_box()),
    Command(BOX),
    Command(BOX, "&Import a profile…", "", "import_profile", lambda w: w.boxes.import_profile()),
    Command(BOX, "E&xport the selected box's profile…", "", "export_profile", lambda w: w.boxes.export_profile()),
    Command(HELP, "&Handbook", "F1", "show_handbook", lambda w: w.help.show_handbook()),
    Command(HELP, "&Keys", "Shift+F1", "show_keys", lambda w: w.help.show_keys()),
    Command(HELP, "&About Ennead", "", "about", lambda w: w.help.about()),
)


def _session_page(window: "Window", way: str) -> None:
    window.go(INPUT_LIST)
    window.session_sheet.way.choose(way)


def _allocate(window: "Window") -> None:
    window.go(LINES)
    window.lines_sheet.allocate()


#: What sheets and findings wish for by name, and how the window fulfils it.
WISHES: Final[dict[str, "Callable[[Window], object]"]] = {
    "allocate": _allocate,
    "list": lambda w: _session_page(w, "in"),
    "outs": lambda w: _session_page(w, "out"),
    "shelf": lambda w: w.go(RIG),
    **{
        c.name: c.do
        for c in COMMANDS
        if c.name in ("aims", "shortage", "unit_loss", "why_here", "make_lead", "print", "recall", "read_computer")
    },
}


def key_rows() -> tuple[tuple[str, str], ...]:
    """Return all keys with what they do, those of the sheets after those of the menus."""
    menus = [(c.key, c.text.replace("&", "").rstrip("…")) for c in COMMANDS if c.key and not c.key.startswith("Alt+")]
    sheets = [
        (f"Alt+1 … Alt+{SHEETS[-1].number}", "go to a sheet"),
        ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo; the Edit menu names the step"),
    ]
    return (*sheets, *menus, *(row for sheet in SHEETS for row in sheet.keys))
