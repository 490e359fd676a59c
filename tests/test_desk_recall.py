"""Recall cards and print passes in the window: typed, photographed, compared, set again; jobs planned, printed, undone."""

from pathlib import Path
from zlib import crc32

from PyQt6.QtGui import QImage

from ennead.demo.pictures import demo_photos
from ennead.demo.skerry import skerry
from ennead.desk.sheets.loops.job_facts import seconds_of
from ennead.desk.sheets.loops.photo_strip import read_picture
from ennead.drawings.painters.photo_image import MOST_SIDE_PX, SIDE_PX, image_of
from ennead.edits.change import change
from ennead.edits.sessions import choose_session, session_named
from ennead.edits.settings import set_gain
from ennead.files.photographs import hash_of
from ennead.files.studio_file import read_studio_file
from ennead.studio.errors import BadValue, EnneadError
from ennead.studio.subjects import Subject
from tests.desk_case import DeskCase


class Recall(DeskCase):
    start = choose_session(skerry(), session_named(skerry(), "Mix of the drama"))

    def setUp(self):
        super().setUp()
        self.unit = {u.name: u.id for u in self.studio.units.values()}

    def test_a_card_is_made_typed_photographed_compared_and_undone(self):
        self.table.select(Subject("unit", self.unit["Capstan"]))
        picture = Path(self.home) / "front.png"
        QImage(2_000, 900, QImage.Format.Format_RGB32).save(str(picture))

        def work(dialog):
            cards = dialog.cards
            self.assertEqual(cards.box.currentData(), self.unit["Capstan"])
            self.assertEqual(cards.listed.count(), 2)
            self.click(cards.new)
            (card,) = cards.chosen
            # It begins with the settings of the last one.
            self.assertEqual(card.settings[1].value, "4:1")
            for key, text in (("song", "Epilogue"), ("engineer", "Assistant")):
                field = dialog.facts.fields[key]
                field.setFocus()
                field.selectAll()
                self.type(text, into=field)
                self.press("Return", into=field)
            dialog.facts.settings.item(1, 1).setText("2:1")
            dialog.facts.settings.item(dialog.facts.settings.rowCount() - 1, 0).setText("Mix")
            dialog.facts.note.setPlainText("as quiet as it goes")
            dialog.facts.settle()
            dialog.photos.take(read_picture(picture), "close-up")
            (card,) = cards.chosen
            self.assertEqual((card.song, card.engineer, card.note), ("Epilogue", "Assistant", "as quiet as it goes"))
            self.assertEqual((card.settings[1].value, card.settings[-1].name), ("2:1", "Mix"))
            self.assertEqual((len(card.photos), card.photos[0].shows, dialog.photos.listed.count()), (1, "close-up", 1))
            field = cards.sought
            field.setFocus()
            self.type("epilogue quiet", into=field)
            self.assertEqual([c.id for c in cards.cards], [card.id])
            field.clear()
            cards.listed.selectAll()
            self.assertFalse(dialog.compared.isVisible())
            cards.listed.clearSelection()
            for n in (0, 2):
                cards.listed.item(n).setSelected(True)
            self.assertEqual((dialog.compared.isVisible(), dialog.facts.isVisible()), (True, False))
            self.assertIn(
                "4:1  →  2:1", "\n".join(dialog.compared.item(n).text() for n in range(dialog.compared.count()))
            )
            dialog.accept()

        self.in_dialog("recall_dialog", work)
        self.window.actions_by_name["recall"].trigger()
        made = self.studio
        key = max(made.recalls, key=lambda k: int(k[1:]))
        sha256 = made.recalls[key].photos[0].sha256
        self.table.autosave.wait()
        body = self.table.autosave.photos.photo(sha256)
        self.assertEqual((hash_of(body), self.table.autosave.photos.waiting()), (sha256, {}))
        self.assertEqual(max(image_of(body, 10_000).width(), 0), SIDE_PX)
        self.undo_all()
        while self.table.undo_stack.canRedo():
            self.table.undo_stack.redo()
        self.assertEqual(self.studio, made)
        self.table.autosave.wait()
        self.assertEqual(read_studio_file(self.table.path), made)

    def test_a_box_is_set_as_it_stood_from_the_margin(self):
        pier = self.unit["Pier"]
        for gain in (30.0, 12.0):
            self.table.do(change("Gain", set_gain, pier, "mic1", gain))
            if gain == 30.0:
                from ennead.edits.recalls import add_card

                self.table.do(change("Note", add_card, pier, "2026-08-30"))
        self.press("Alt+2")
        self.table.select(Subject("unit", pier))
        deed = next(d for d in self.window.margin.notes().deeds if d.text == "Gains as last time")
        self.table.do(deed.change)
        self.assertEqual(self.studio.settings_of(pier).gains["mic1"], 30.0)
        self.undo_all()

    def test_bad_pictures_are_a_sentence_and_nothing_is_lost(self):
        before = self.studio
        text, huge = Path(self.home) / "a.jpg", Path(self.home) / "b.png"
        text.write_text("no picture", encoding="utf-8")
        head = demo_photos().held
        wide = bytearray(next(iter(head.values())))
        # Of 20,000 by 20,000 points by its head; its body is that of a small one.
        wide[16:24] = (20_000).to_bytes(4, "big") * 2
        wide[29:33] = crc32(bytes(wide[12:29])).to_bytes(4, "big")
        huge.write_bytes(bytes(wide))
        self.assertGreater(20_000, MOST_SIDE_PX)
        for path, words in ((text, "no picture"), (huge, "20,000 × 20,000"), (Path(self.home) / "none.png", "")):
            with self.assertRaises(EnneadError) as caught:
                read_picture(path)
            self.assertIn(words, str(caught.exception))
        self.assertEqual(self.studio, before)

    def test_jobs_are_listed_planned_and_printed(self):
        self.press("Alt+7")
        pane = self.window.loops_sheet.passes
        loops = self.window.loops_sheet.view
        loops.settle()
        # The tape echo feeds itself, and its loop says so.
        self.assertEqual({self.studio.destinations[k].name: v for k, v in loops.worst().items()}, {"Rudder": "trouble"})
        self.until(lambda: pane.view.rows)
        self.assertIn("3 passes, 44:05", pane.said.toolTip())
        view = pane.view
        view.setFocus()
        self.press("Down", into=view)
        self.assertEqual([len(line.below) > 0 for line in view.layout_now.lines], [True, False, False])
        first = {j.id for j in view.rows[0].jobs}
        self.click(pane.done_button)
        self.assertEqual({j.id for j in self.studio.prints.values() if j.printed}, first)
        self.until(lambda: len(view.rows) == 2)
        self.undo_all()
        self.until(lambda: len(view.rows) == 3)

        def work(dialog):
            facts = dialog.facts
            self.assertEqual(dialog.listed.count(), 7)
            self.click(dialog.buttons["add"])
            for key, typed in (
                ("track", "Harmonium"),
                ("boxes", "tiller > Capstan"),
                ("length_s", "1:30"),
                ("after", "Foley, Choir"),
                ("channels", "1"),
            ):
                field = facts.fields[key]
                field.setFocus()
                field.selectAll()
                self.type(typed, into=field)
                self.press("Return", into=field)
            job = dialog.job
            self.assertEqual(
                (job.track, job.boxes, job.length_s, job.after, job.channels),
                ("Harmonium", (self.unit["Tiller"], self.unit["Capstan"]), 90.0, ("J2", "J4"), 1),
            )
            # What is wrong is said, and the field shows what holds.
            field = facts.fields["boxes"]
            field.selectAll()
            self.type("Kestrel", into=field)
            self.press("Return", into=field)
            self.assertEqual((dialog.job.boxes, field.text()), (job.boxes, "Tiller, Capstan"))
            self.assertIn("Kestrel", dialog.said.text())
            facts.cards[self.unit["Capstan"]].setCurrentIndex(1)
            facts.cards[self.unit["Capstan"]].activated.emit(1)
            self.assertEqual(dict(dialog.job.cards), {self.unit["Capstan"]: "M4"})
            self.click(dialog.buttons["up"])
            self.assertEqual([j.track for j in self.studio.prints.values()][-2], "Harmonium")
            dialog.setup.setText("2:00")
            dialog.setup.editingFinished.emit()
            self.assertEqual(self.studio.printing.setup_s, 120.0)
            self.click(dialog.buttons["remove"])
            self.assertEqual(len(self.studio.prints), 7)
            dialog.accept()

        self.in_dialog("jobs_dialog", work)
        self.window.actions_by_name["print_jobs"].trigger()
        self.undo_all()
        self.assertEqual(self.studio.prints, self.start.prints)
        for text, seconds in (("4:05", 245.0), ("1:00:00", 3_600.0), ("12,5 s", 12.5)):
            self.assertEqual(seconds_of(text, "a length"), seconds)
        for text in ("", "x", "-1", "1:2:3:4", "nan"):
            with self.assertRaises(BadValue):
                seconds_of(text, "a length")
