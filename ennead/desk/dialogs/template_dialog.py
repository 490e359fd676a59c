"""Sets of sources to drop into the session, and keeping one of one's own."""

from PyQt6.QtWidgets import QInputDialog, QWidget

from ennead.desk.dialogs.ask_dialog import AskDialog
from ennead.desk.shell.worktable import Worktable
from ennead.desk.storage.preferences import templates_folder
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import Change, change
from ennead.edits.session import add_sources
from ennead.files import templates
from ennead.files.templates import Template, shipped_templates, template_of, user_templates
from ennead.studio.errors import EnneadError
from ennead.studio.ids import SourceId
from ennead.studio.session import KIND_LABELS


class TemplateDialog(AskDialog):
    """The dialog; `wanted` is the change that drops the chosen set in."""

    def __init__(self, table: Worktable, book: ThemeBook, parent: QWidget | None = None) -> None:
        super().__init__(book, "Drop in a set of sources", "Sets of sources", "Drop it in", parent)
        self.setObjectName("template_dialog")
        self.progress.hide()
        own, troubles = user_templates(templates_folder())
        self.found: tuple[Template, ...] = (*own, *shipped_templates())
        self.wanted: Change | None = None
        self.say(
            str(troubles[0])
            if troubles
            else "They are added at the end of the input list; places and sockets are found by Allocate."
        )
        self.rows.currentRowChanged.connect(self._row_chosen)
        self.fill([(f"{t.name}\n{t.summary}", tuple(_line(row) for row in t.sources)) for t in self.found])

    def _row_chosen(self, row: int) -> None:
        if 0 <= row < len(self.found):
            one = self.found[row]
            self.wanted = change(f"Drop in {one.name}", add_sources, one.sources)


def _line(row: dict[str, object]) -> str:
    parts = [str(row["name"]), KIND_LABELS[str(row.get("kind", "dynamic"))]]
    parts += ["stereo"] * (row.get("channels") == 2)
    if "phantom" in row:
        parts.append(f"48 V {row['phantom']}")
    parts += ["in step"] * bool(row.get("coherent"))
    priority = str(row.get("priority", ""))
    if priority:
        parts.append({"must": "must be in"}.get(priority, priority))
    return "  ·  ".join(parts)


def keep_template(table: Worktable, window: QWidget) -> None:
    """Keep the selected source's group, or all sources, under a name that is asked for."""
    studio, selection = table.studio, table.selection
    sources = studio.session_sources
    group = studio.source(SourceId(selection.key)).group if selection.kind == "source" else ""
    if group:
        sources = tuple(s for s in sources if s.group == group)
    if not sources:
        table.said.emit("There is no source to keep. Write the input list on sheet 1.")
        return
    what = f"the {len(sources)} sources of {group}" if group else f"all {len(sources)} sources"
    name, ok = QInputDialog.getText(window, "Keep a set of sources", f"A name for {what}:", text=group)
    if not ok or not name.strip():
        return
    try:
        path = templates.keep_template(templates_folder(), template_of(studio, name, sources))
    except EnneadError as error:
        table.said.emit(str(error))
        return
    table.said.emit(f"“{name.strip()}” is kept in {path.name}; Sheet, Drop in a set of sources brings it back.")
