"""Takes the pictures of docs/screenshots from the demo; with more arguments, other pictures to look at."""

import argparse
import os
import sys
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

    from PyQt6.QtGui import QPixmap
    from PyQt6.QtWidgets import QApplication

    from ennead.desk.shell.window import Window
    from ennead.studio.subjects import Subject

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

SHEETS = {1: "session", 2: "rig", 3: "links", 4: "clock", 5: "lines", 6: "bays", 7: "loops"}

#: Looked at in one theme alone, so that the pictures stay few.
PAPER_ALONE = ("links",)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--size", default="1280x800")
    parser.add_argument("--scale", type=float, default=1.0)
    parser.add_argument("--studio", type=Path, help="another studio than the demo")
    parser.add_argument("--only", type=int, choices=SHEETS)
    parser.add_argument("--theme", choices=("paper", "night"))
    parser.add_argument("--select", default="Harmonium")
    args = parser.parse_args()
    args.folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:
        os.environ |= {"XDG_CONFIG_HOME": home, "XDG_DATA_HOME": home}
        take(args, Path(home))


def take(args: argparse.Namespace, home: Path) -> None:
    from PyQt6.QtWidgets import QApplication

    from ennead.demo.pictures import demo_photos
    from ennead.demo.skerry import skerry
    from ennead.desk.background.background_task import at_work
    from ennead.desk.shell.app import STYLE, build_window, prepare
    from ennead.files.photographs import photos_of
    from ennead.files.studio_path import read_studio, write_studio
    from ennead.studio.subjects import Subject

    app = QApplication(["ennead", *STYLE])
    studio = read_studio(args.studio) if args.studio else skerry()
    path = home / "studio.ennead"
    write_studio(path, studio, photos_of(args.studio) if args.studio else demo_photos())
    prepare()
    window = build_window(path)
    window.resize(*(int(n) for n in args.size.split("x")))
    window.book._scale = args.scale  # noqa: SLF001 - a scale between the steps of the menu
    window.show()
    for theme in [args.theme] if args.theme else ["paper", "night"]:
        window.book.choose(theme)
        for number, name in SHEETS.items():
            if args.only not in (None, number):
                continue
            source = next((s.id for s in studio.sources.values() if s.name == args.select), None)
            unit = next((u.id for u in studio.units.values() if u.name == args.select), None)
            chosen = Subject("source", source) if source else Subject("unit", unit) if unit else None
            there = {6: at_the_bays, 7: at_the_loops}.get(number) if studio.scenes else None
            window.go(number, there(window) if there is not None else chosen)
            until(app, lambda: window.table.is_settled and window.table.idle.is_empty and not at_work())
            window.table.autosave.wait()
            app.processEvents()
            if theme == "paper" or name not in PAPER_ALONE or args.theme:
                window.grab().save(str(args.folder / f"{name}-{theme}.png"))
            if number == 7 and theme == "paper" and studio.recalls:
                recall(app, window).save(str(args.folder / f"recall-{theme}.png"))
            if number == 7 and (theme == "paper" or args.theme) and studio.scenes:
                measuring(app, window, home).save(str(args.folder / f"measure-{theme}.png"))
                live(app, window).save(str(args.folder / f"measure-live-{theme}.png"))
            if there is not None and window.table.undo_stack.canUndo():
                window.table.undo_stack.undo()
        if args.only is None and (theme == "paper" or args.theme):
            editor(window).save(str(args.folder / f"profile-editor-{theme}.png"))
        if args.only in (None, 5) and (theme == "paper" or args.theme):
            proposal(app, window).save(str(args.folder / f"lines-outputs-{theme}.png"))
            shortage(app, window).save(str(args.folder / f"shortage-{theme}.png"))
    window.close()


def at_the_bays(window: "Window") -> "Subject":
    """Choose the scene of the evening, and return a point of its first cord."""
    from ennead.edits.change import change
    from ennead.edits.scenes import choose_scene
    from ennead.studio.subjects import Subject

    studio = window.table.studio
    scene = next((s for s in studio.scenes.values() if s.session == studio.session), next(iter(studio.scenes.values())))
    window.table.do(change("Go to the scene", choose_scene, scene.id))
    return Subject("port", scene.cords[0].plugs[0].unit, scene.cords[0].plugs[0].port)


def at_the_loops(window: "Window") -> "Subject | None":
    """Choose the evening with most loops, and return the first of them."""
    from ennead.edits.change import change
    from ennead.edits.sessions import choose_session
    from ennead.studio.subjects import Subject

    studio = window.table.studio
    loops = {d.id for d in studio.destinations.values() if d.kind == "loop"}
    evening = max(studio.sessions.values(), key=lambda s: len(loops.intersection(s.destinations)))
    window.table.do(change("Go to the mix", choose_session, evening.id))
    first = next((d for d in evening.destinations if d in loops), None)
    return Subject("destination", first) if first else None


def until(app: "QApplication", happened: "Callable[[], object]") -> None:
    """Wait for something that is worked out aside."""
    while not happened():
        app.processEvents()
        time.sleep(0.01)
    for _ in range(4):
        app.processEvents()


def recall(app: "QApplication", window: "Window") -> "QPixmap":
    """Return a picture of the recall cards, at the newest one with photographs."""
    from ennead.desk.sheets.loops.recall_dialog import RecallDialog

    dialog = RecallDialog(window.table, window.book, parent=window)
    card = next((c for c in dialog.cards.cards if c.photos), None)
    if card is not None:
        dialog.cards.choose(card.id)
    dialog.show()
    until(app, lambda: True)
    picture = dialog.grab()
    dialog.close()
    dialog.deleteLater()
    return picture


def measuring(app: "QApplication", window: "Window", home: Path) -> "QPixmap":
    """Return a picture of a loop that is measured: a simulated box, inverted, on a clock of its own."""
    from ennead.desk.sheets.loops.measure_dialog import MeasureDialog
    from ennead.files.sound_file import SoundRecording, write_sound
    from ennead.standin.loop_signal import LoopSettings, play

    chosen = window.loops_sheet.view.layout_now.chosen
    if chosen is None:
        return window.grab()
    dialog = MeasureDialog(window.table, window.book, chosen, window)
    dialog.show()
    dialog.write_to(home / "ping.wav")
    until(app, dialog.write.isEnabled)
    with SoundRecording(home / "ping.wav") as sent:
        wave, rate_hz = sent.read(0, sent.frames), sent.rate_hz
    settings = LoopSettings(227.4, -3.0, inverted=True, noise_dbfs=-62.0, drift_ppm=12.0, hum=(50.0, -66.0))
    write_sound(home / "recorded.wav", play(settings, wave, rate_hz), rate_hz)
    dialog.read_from(home / "recorded.wav")
    until(app, dialog.write.isEnabled)
    picture = dialog.grab()
    dialog.close()
    dialog.deleteLater()
    return picture


def live(app: "QApplication", window: "Window") -> "QPixmap":
    """Return a picture of loops measured live: a server of one's own, and the plan's own loops as its hardware."""
    from bench.audio_servers import audio_server
    from ennead.desk.sheets.loops.live_dialog import LiveDialog
    from ennead.standin.loop_player import LoopPlayer, hardware_of

    survey = window.table.survey
    wrong = {d.id: {"noise_dbfs": -72.0, "hum": (50.0, -70.0)} for d in survey.destinations if d.kind == "loop"}
    with audio_server("jack", 1_024), LoopPlayer(hardware_of(survey, 1_024, wrong)):
        dialog = LiveDialog(window.table, window.book, None, window)
        dialog.show()
        until(app, lambda: dialog.choice.found is not None)
        dialog.choice.down.setChecked(True)
        dialog.start.click()
        until(app, lambda: dialog.takes or dialog.answer.text())
        picture = dialog.grab()
        dialog.close()
        dialog.deleteLater()
    return picture


def proposal(app: "QApplication", window: "Window") -> "QPixmap":
    """Return a picture of the outputs with what an allocation proposes."""
    from ennead.studio.subjects import NOTHING

    sheet = window.lines_sheet
    window.go(5, NOTHING)
    sheet.allocate()
    until(app, lambda: sheet.proposal is not None)
    sheet.way.choose("out")
    until(app, lambda: True)
    picture = window.grab()
    sheet.drop()
    sheet.way.choose("in")
    return picture


def shortage(app: "QApplication", window: "Window") -> "QPixmap":
    """Return a picture of what binds and what helps when the choir brings more microphones than there are preamps."""
    from ennead.desk.dialogs.shortage_dialog import ShortageDialog
    from ennead.edits.change import Change, step
    from ennead.edits.session import add_source, set_price
    from ennead.files.profiles import shelf

    spot = {"kind": "condenser", "phantom": "needed", "place": "Hall", "group": "Choir"}
    steps = [step(add_source, f"Choir spot {n}", **spot) for n in range(3, 17)]
    prices = (
        ("eight-preamp optical expander", 420.0),
        ("TOSLINK fibre", 8.0),
        ("one-channel preamp", 310.0),
        ("XLR, balanced", 12.0),
    )
    window.table.do(Change("Add spots", (*steps, *(step(set_price, name, price) for name, price in prices))))
    dialog = ShortageDialog(window.table, window.book, shelf(), window)
    dialog.show()
    until(app, lambda: dialog.found)
    picture = dialog.grab()
    dialog.reject()
    window.table.undo_stack.undo()
    until(app, lambda: True)
    return picture


def editor(window: "Window") -> "QPixmap":
    """Return a picture of the profile editor with a shipped profile at its driver numbers."""
    from ennead.desk.sheets.rig.profile_editor import ProfileEditor
    from ennead.files.profiles import shelf_profile

    profile = shelf_profile("eight-preamp interface, two optical pairs")
    dialog = ProfileEditor(window.book, profile, "Take into the rig", lambda _: True, lambda _: True, window)
    dialog.tabs.setCurrentIndex(2)
    dialog.show()
    picture = dialog.grab()
    dialog.close()
    return picture


if __name__ == "__main__":
    main()
