"""Recall cards and their photographs: edited, found, compared; bytes that go with the edit, are shared, collected, and never lost."""

import hashlib
import json
import shutil
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from bench.verbs import run
from ennead.demo.pictures import demo_photos
from ennead.demo.skerry import skerry
from ennead.edits.house import remove_unit, rename_unit
from ennead.edits.recalls import add_card, add_photo, change_card, remove_card, remove_photo, stand_as_noted
from ennead.edits.revisions import keep_revision
from ennead.edits.settings import set_gain
from ennead.files.backups import keep_opened_state
from ennead.files.interchange import to_json
from ennead.files.photographs import MOST_PHOTO_BYTES, HeldPhotos, folder_beside, named_photos, photos_of
from ennead.files.studio_file import StudioFile, read_studio_file
from ennead.files.studio_path import read_studio, write_studio
from ennead.reports.recall_rows import card_text, compare_cards, find_cards, latest_card, loop_cards, recall_table
from ennead.studio.errors import EnneadError
from ennead.studio.ids import RecallId, UnitId
from ennead.studio.recall import MOST_PHOTOS, MOST_SETTINGS, Photo, Setting
from tests.builders import SCRATCH, read_back, rig

DAY = "2026-08-31"
JPEG = b"\xff\xd8\xff" + b"a made-up picture" * 40


def hash_of(body):
    return hashlib.sha256(body).hexdigest()


def noted():
    """Return a studio with a preamp, its gain, and its card."""
    studio = set_gain(rig("eight-preamp interface, two optical pairs"), UnitId("U1"), "mic1", 32.0)
    return add_card(studio, UnitId("U1"), DAY, song="The storm", settings=[Setting("Ratio", "4:1")])


class Cards(unittest.TestCase):
    def test_a_card_takes_the_gains_and_sets_them_again(self):
        studio = noted()
        card = studio.recalls["M1"]
        self.assertEqual((dict(card.gains), card_text(studio, card)), ({"mic1": 32.0}, "Ratio 4:1, Gain Mic 1 +32 dB"))
        turned = set_gain(studio, UnitId("U1"), "mic1", 20.0)
        self.assertEqual(stand_as_noted(turned, card.id).settings_of("U1").gains, {"mic1": 32.0})
        self.assertEqual(read_back(studio).recalls, studio.recalls)

    def test_a_card_outlives_its_box_under_its_name(self):
        studio = rename_unit(noted(), UnitId("U1"), "Lighthouse")
        self.assertEqual([c.id for c in find_cards(studio, "lighthouse storm")], ["M1"])
        gone = read_back(remove_unit(studio, UnitId("U1")))
        card = gone.recalls["M1"]
        self.assertEqual((card.unit, card.box), ("", studio.recalls["M1"].box))
        self.assertEqual([c.id for c in find_cards(gone, f"{card.box} RATIO 4:1 {DAY}")], ["M1"])
        self.assertEqual((find_cards(gone, "storm nowhere"), latest_card(gone, UnitId("U1"))), ([], None))

    def test_cards_are_found_compared_and_gathered_by_loop(self):
        studio = skerry()
        unit = {u.name: u.id for u in studio.units.values()}
        capstan = [c for c in studio.recalls.values() if c.unit == unit["Capstan"]]
        older, newer = capstan
        self.assertEqual([c.id for c in find_cards(studio, "capstan")], [newer.id, older.id])
        self.assertEqual([c.id for c in find_cards(studio, "30 ms")], [newer.id])
        self.assertEqual(
            [r.name for r in compare_cards(studio, older, newer) if r.differs],
            ["Threshold", "Ratio", "Attack", "Make-up"],
        )
        more = change_card(studio, newer.id, settings=[*newer.settings[1:], Setting("Mix", "full")])
        rows = {r.name: (r.first, r.second) for r in compare_cards(more, older, more.recalls[newer.id])}
        self.assertEqual((rows["Threshold"], rows["Mix"]), (("−6", None), (None, "full")))
        loop = next(d.id for d in studio.destinations.values() if d.name == "Capstan")
        self.assertEqual(loop_cards(studio, loop), [(unit["Capstan"], newer)])
        self.assertEqual(loop_cards(studio, loop, "The harbour bell"), [(unit["Capstan"], older)])
        self.assertEqual(latest_card(studio, unit["Capstan"], "The harbour bell"), older)
        self.assertEqual(len({row["card"] for row in recall_table(studio)}), len(studio.recalls))

    def test_what_no_card_can_hold_is_refused_at_its_bound(self):
        studio, photo = noted(), Photo("0" * 64)
        card = RecallId("M1")
        full = change_card(studio, card, settings=[Setting(f"s{n}", "") for n in range(MOST_SETTINGS)])
        for n in range(MOST_PHOTOS):
            full = add_photo(full, card, Photo(f"{n:064x}"))
        read_back(full)
        for wrong in (
            lambda: add_card(studio, UnitId("U9"), DAY),
            lambda: change_card(studio, card, day="2026-02-30"),
            lambda: change_card(studio, card, day="20260831"),
            lambda: change_card(full, card, settings=[*full.recalls[card].settings, Setting("one more", "")]),
            lambda: change_card(studio, card, settings=[Setting("Ratio", "1"), Setting("ratio", "2")]),
            lambda: change_card(studio, card, settings=[Setting(" ", "2")]),
            lambda: change_card(studio, card, song="x" * 501),
            lambda: change_card(studio, card, note="x" * 10_001),
            lambda: change_card(studio, card, loop="D9"),
            lambda: change_card(studio, card, box="another"),
            lambda: add_photo(full, card, Photo("f" * 64)),
            lambda: add_photo(add_photo(studio, card, photo), card, photo),
            lambda: add_photo(studio, card, Photo("../../etc/passwd")),
            lambda: add_photo(studio, card, Photo("f" * 64, taken="once")),
            lambda: remove_card(studio, RecallId("M2")),
        ):
            with self.assertRaises(EnneadError):
                wrong()
        self.assertEqual(remove_photo(add_photo(studio, card, photo), card, photo.sha256), studio)
        self.assertEqual(remove_card(studio, card).recalls, {})


class Photographs(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory(dir=SCRATCH)))
        self.path = self.folder / "a.ennead"
        self.with_photo = add_photo(noted(), RecallId("M1"), Photo(hash_of(JPEG), "close-up", DAY))

    def rows(self, path):
        with closing(sqlite3.connect(path)) as db:
            return [row[0] for row in db.execute("select sha256 from photo")]

    def test_bytes_enter_with_the_edit_and_are_collected_at_closing(self):
        file = StudioFile(self.path, create=noted())
        file.commit(self.with_photo, {hash_of(JPEG): JPEG})
        self.assertEqual(photos_of(self.path).photo(hash_of(JPEG)), JPEG)
        # Undone and redone while it is open, they stay; undone at closing, they go.
        file.commit(noted())
        self.assertEqual(file.photo(hash_of(JPEG)), JPEG)
        file.commit(self.with_photo)
        file.close()
        self.assertEqual((self.rows(self.path), photos_of(self.path).photo(hash_of(JPEG))), ([hash_of(JPEG)], JPEG))
        file = StudioFile(self.path)
        # A kept revision names them as well.
        kept = keep_revision(noted(), "with the picture", "2026-09-01 10:00", to_json(file.studio))
        file.commit(kept)
        file.close()
        self.assertEqual(self.rows(self.path), [hash_of(JPEG)])
        file = StudioFile(self.path)
        file.commit(noted())
        file.close()
        self.assertEqual((self.rows(self.path), photos_of(self.path).photo(hash_of(JPEG))), ([], None))

    def test_there_and_back_over_the_interchange_form_nothing_is_lost(self):
        studio, photos = skerry(), demo_photos()
        write_studio(self.path, studio, photos)
        for start, end in (("a.ennead", "b.json"), ("b.json", "c.ennead"), ("c.ennead", "d.json")):
            self.assertEqual(run("convert", self.folder / start, str(self.folder / end))[0], 0)
            self.assertEqual(read_studio(self.folder / end), studio)
            for key in named_photos(studio):
                self.assertEqual(photos_of(self.folder / end).photo(key), photos.photo(key), end)
        names = [sorted(p.name for p in folder_beside(self.folder / f"{n}.json").iterdir()) for n in "bd"]
        self.assertEqual((names[0], len(names[0])), (names[1], len(named_photos(studio))))
        # A folder that is gone, and a picture that is another, are no trouble but their own.
        one = folder_beside(self.folder / "b.json") / names[0][0]
        one.write_bytes(one.read_bytes() + b"more")
        self.assertIsNone(photos_of(self.folder / "b.json").photo(one.stem))
        shutil.rmtree(folder_beside(self.folder / "b.json"))
        self.assertEqual(read_studio(self.folder / "b.json"), studio)
        self.assertEqual(
            run("export", self.folder / "b.json", "--what", "recall", "--output", str(self.folder / "r.pdf"))[0], 0
        )

    def test_backups_share_them_and_one_gone_on_from_has_them(self):
        write_studio(self.path, self.with_photo, _held(JPEG))
        backups, copies = self.folder / "backups", []
        for song in ("one", "two"):
            file = StudioFile(self.path)
            copies.append(keep_opened_state(file.connection, backups, self.path))
            file.commit(change_card(file.studio, RecallId("M1"), song=song))
            file.close()
        self.assertEqual([self.rows(copy) for copy in copies], [[], []])
        shared = list((copies[0].parent / "photographs").iterdir())
        self.assertEqual([p.stem for p in shared], [hash_of(JPEG)])
        self.assertEqual(photos_of(copies[0]).photo(hash_of(JPEG)), JPEG)
        write_studio(self.folder / "on.ennead", read_studio_file(copies[0]), photos_of(copies[0]))
        self.assertEqual(self.rows(self.folder / "on.ennead"), [hash_of(JPEG)])
        StudioFile(copies[1]).close()
        self.assertEqual(self.rows(copies[1]), [hash_of(JPEG)])
        # Ten states later none of them names it, and it is gone.
        file = StudioFile(self.path)
        for n in range(11):
            file.commit(change_card(noted(), RecallId("M1"), song=f"{n}"))
            keep_opened_state(file.connection, backups, self.path)
        file.close()
        self.assertEqual(list((copies[0].parent / "photographs").iterdir()), [])

    def test_what_is_no_picture_or_too_large_is_not_taken(self):
        held = HeldPhotos()
        for body in (b"", b"GIF89a" + b"x" * 90, b"\xff\xd8\xff" + b"x" * MOST_PHOTO_BYTES):
            with self.assertRaises(ValueError):
                held.put(body)
        self.assertEqual(held.put(b"\xff\xd8\xff" + b"x" * (MOST_PHOTO_BYTES - 3))[:0], "")
        write_studio(self.path, self.with_photo, _held(JPEG))
        with closing(sqlite3.connect(self.path)) as db, db:
            db.execute("update photo set body = ?", (JPEG + b"!",))
        self.assertIsNone(photos_of(self.path).photo(hash_of(JPEG)))
        self.assertEqual(read_studio_file(self.path), self.with_photo)

    def test_a_hash_from_a_file_is_never_a_path(self):
        form = json.loads(to_json(self.with_photo))
        form["recalls"][0]["photos"][0]["sha256"] = "../../secret"
        (self.folder / "odd.json").write_text(json.dumps(form), encoding="utf-8")
        code, _, said = run("check", self.folder / "odd.json")
        self.assertEqual((code, "no hash" in said), (2, True), said)
        self.assertIsNone(photos_of(self.folder / "odd.json").photo("../../secret"))


def _held(body):
    photos = HeldPhotos()
    photos.put(body)
    return photos
