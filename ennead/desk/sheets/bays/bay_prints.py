"""What the Bays sheet prints: strips, flags, moves, the wiring, all bays as one sheet, and the proof of a path."""

from collections.abc import Callable
from pathlib import Path
from typing import Final

from PyQt6.QtWidgets import QFileDialog, QMenu, QPushButton

from ennead.desk.sheets.bays.bays_view import BaysView
from ennead.desk.sheets.bays.moves_work import MovesWork
from ennead.desk.shell.worktable import Worktable
from ennead.edits.scenes import BACK_TO_NORMALS
from ennead.reports.path_proof import path_proof
from ennead.studio.errors import EnneadError

#: Beyond this a page says nothing any more: a point of a mult, say.
_MOST_PATHS: Final = 12


class BayPrints(QPushButton):
    """A button with what can be printed; each asks where to, and says what is there then."""

    def __init__(self, table: Worktable, view: BaysView, work: MovesWork) -> None:
        super().__init__("Print…")
        self._table, self._view, self._work = table, view, work
        self.setObjectName("print_bays")
        self.setProperty("quiet", True)
        self.setToolTip(
            "Strips and flags at true scale, the moves as a list to tick, the wiring, all bays, or the proof of a path"
        )
        menu = QMenu(self)
        for text, deed in (
            ("Strips…", self.print_strips),
            ("Flags for the cables…", lambda: self._save("Flags", self.write_flags, svg=True)),
            ("Moves…", lambda: self._save("Moves", self.write_moves)),
            ("Wiring list…", lambda: self._save("Wiring", self.write_wiring)),
            ("All bays as one sheet…", lambda: self._save("Bays", self.write_sheet, svg=True)),
            ("What is in this path…", lambda: self._save("Path", self.write_path)),
        ):
            menu.addAction(text, deed)
        self.setMenu(menu)

    @property
    def _scene(self) -> str:
        studio = self._table.studio
        return studio.scenes[studio.scene].name if studio.scene in studio.scenes else BACK_TO_NORMALS

    def _save(self, name: str, write: Callable[[Path], str], *, svg: bool = False) -> None:
        kinds = "Pages (*.pdf *.svg)" if svg else "PDF (*.pdf)"
        path, _ = QFileDialog.getSaveFileName(self, f"Save {name.lower()}", f"{name}.pdf", kinds)
        if path:
            try:
                self._table.said.emit(write(Path(path) if Path(path).suffix else Path(path).with_suffix(".pdf")))
            except EnneadError as error:
                self._table.said.emit(str(error))

    def print_strips(self) -> None:
        """Ask for paper and write the strips."""
        from ennead.desk.sheets.bays.strips_dialog import StripsDialog

        StripsDialog(self._table, self.window()).exec()

    def write_flags(self, path: Path) -> str:
        """Write two flags for every cable, one for each plug."""
        from ennead.paper.flags import write_flags
        from ennead.paper.pages import pages_text
        from ennead.reports.flag_rows import flag_rows

        flags = flag_rows(self._table.survey)
        paths = write_flags(path, flags, f"{self._table.studio.name}: flags")
        return f"{len(flags)} flags in {pages_text(paths)}. Print at 100 %."

    def write_moves(self, path: Path) -> str:
        """Write the moves as a list to tick, what is done by hand at its end."""
        from ennead.paper.pages import write_list

        studio = self._table.studio
        scene = studio.scenes.get(studio.scene)
        by_hand = [(1, ["by hand", s]) for s in (scene.steps if scene else ())]
        rows = [(len(row.steps), [row.verb, row.text]) for row in self._work.rows(studio)] + by_hand
        write_list(path, f"{studio.name}: {self._scene}", self._work.head(), rows)
        return f"The moves are in {path.name}."

    def write_wiring(self, path: Path) -> str:
        """Write what is soldered behind every point, bay by bay."""
        from ennead.paper.pages import write_tables
        from ennead.reports.wiring_rows import wiring_rows

        parts: dict[str, list[list[str]]] = {}
        for row in wiring_rows(self._table.survey):
            long = f"{row['length_m']:g} m" if row["length_m"] is not None else ""
            cells = [row["point"], row["label"], row["cable"], row["to"], long, row["state"], row["normal"]]
            parts.setdefault(row["bay"], [["point", "label", "cable", "to", "length", "state", "normal"]]).append(cells)
        write_tables(
            path, f"{self._table.studio.name}: wiring of the bays", [(name, (), rows) for name, rows in parts.items()]
        )
        return f"The wiring of {len(parts)} bays is in {path.name}."

    def write_sheet(self, path: Path) -> str:
        """Write all bays with the cords of the scene."""
        from ennead.paper.bay_sheet import write_bay_sheet
        from ennead.paper.pages import pages_text

        paths = write_bay_sheet(path, self._table.survey, f"{self._table.studio.name}: bays, {self._scene}")
        return f"All bays are in {pages_text(paths)}."

    def write_path(self, path: Path) -> str:
        """Write what is in the path of every line through the chosen point, and what is not."""
        from ennead.paper.pages import write_tables

        runs = self._view.lit_runs[:_MOST_PATHS]
        if not runs:
            return "Choose a point that a line passes first; its path is what is lit."
        proofs = [path_proof(self._table.survey, run) for run in runs]
        parts = [
            (
                p.signal,
                (p.sentence, *(f"{text[:1].upper()}{text[1:]}." for text in p.parted)),
                [["it comes by", "where it is", "what that does"], *[list(row) for row in p.rows]],
            )
            for p in proofs
        ]
        write_tables(path, f"{self._table.studio.name}: what is in the path, {self._scene}", parts)
        return proofs[0].sentence
