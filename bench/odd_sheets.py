"""Odd but readable studios laid on every sheet of one window: ``python -m bench.odd_sheets N [SEED]``; nothing may fail."""

import os
import random
import sys
import tempfile
from typing import TYPE_CHECKING

from bench.nonsense import nonsense
from ennead.checks import all_checks
from ennead.files.interchange import from_json
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.subjects import NOTHING, subject_of

if TYPE_CHECKING:
    from ennead.desk.shell.window import Window


def every_sheet(window: "Window", studio: Studio) -> None:
    """Lay a studio on the table, look at every sheet, select a few of its things, and paint what is seen."""
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.finding_places import seen_at

    table = window.table
    table.begin(studio)
    things = [
        *list(studio.units)[:2],
        *list(studio.sources)[:2],
        *list(studio.destinations)[:1],
        *list(studio.hosts)[:1],
        *list(studio.cables)[:1],
    ]
    for number in window.sheets:
        for key in ("", *things[number % 3 :: 3]):
            window.go(number, seen_at(studio, subject_of(key)))
            QApplication.processEvents()
    # Rehearsed and played on the sheets themselves, and left again.
    for number, deed in ((3, "rehearse"), (4, "simulate")):
        window.go(number, NOTHING)
        for _ in range(2):
            getattr(window.sheets[number], deed)()
            for _ in range(3):
                QApplication.processEvents()
            window.grab()


def main(many: int, seed: int) -> int:
    """Try that many studios; return how many were met otherwise than they should be."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.app import STYLE, build_window, prepare, take_down

    wrong: list[str] = []
    all_checks.strict = True
    with tempfile.TemporaryDirectory() as home:
        os.environ |= {"XDG_CONFIG_HOME": home, "XDG_DATA_HOME": home}
        _app = QApplication(["ennead", *STYLE])
        prepare()
        sys.excepthook = lambda kind, error, _: wrong.append(f"{kind.__name__}: {error}")
        window = build_window(None)
        window.resize(1280, 800)
        window.show()
        dice, read = random.Random(seed), 0
        for number in range(many):
            try:
                studio = from_json(nonsense(b"", dice))
            except EnneadError:
                continue
            read += 1
            before = len(wrong)
            every_sheet(window, studio)
            if len(wrong) > before:
                print(f"{number}: {wrong[-1]}", flush=True)
        window.close()
        take_down(window)
    print(f"{read} of {many} were read and looked at on every sheet; {len(wrong)} times something failed")
    return len(wrong)


if __name__ == "__main__":
    sys.exit(1 if main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1) else 0)
