"""Studio file and interchange: nothing lost either way; bad files get one sentence and are left as they are."""

import json
import random
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from ennead.demo.skerry import skerry
from ennead.edits.house import add_unit, rename_unit
from ennead.edits.session import add_source, set_rate
from ennead.files.errors import FileTrouble
from ennead.files.interchange import from_json, json_schema, to_json
from ennead.files.profiles import shelf, shelf_profile
from ennead.files.rows import FORMAT_VERSION
from ennead.files.studio_file import StudioFile, read_studio_file, write_studio_file
from ennead.files.studio_path import read_studio, write_studio
from ennead.studio.document import empty_studio
from ennead.studio.errors import EnneadError
from tests.builders import EXPANDER, one_fibre, random_edit, random_studio

ROOT = Path(__file__).resolve().parent.parent


class InFolder(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def assert_refused(self, path, *words):
        before = path.read_bytes() if path.is_file() else None
        with self.assertRaises(FileTrouble) as caught:
            read_studio(path)
        text = str(caught.exception)
        self.assertIn(str(path), text)
        self.assertNotIn("\n", text)
        for word in words:
            self.assertIn(word, text)
        if before is not None:
            self.assertEqual(path.read_bytes(), before)
            self.assertEqual(
                sorted(p.name for p in self.folder.iterdir() if p != path and p.name.startswith(path.name)), []
            )


class RoundTrips(InFolder):
    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000))
    def test_file_to_json_to_file_to_json_is_byte_identical(self, seed):
        studio = random_studio(seed, 40)
        one, two, three, four = (
            self.folder / f"{n}.{e}" for n, e in (("a", "ennead"), ("a", "json"), ("b", "ennead"), ("b", "json"))
        )
        write_studio(one, studio)
        write_studio(two, read_studio(one))
        write_studio(three, read_studio(two))
        write_studio(four, read_studio(three))
        self.assertEqual(two.read_bytes(), four.read_bytes())
        self.assertEqual(read_studio(four), studio)

    def test_the_demo_comes_back_equal_from_both_forms(self):
        for studio in (skerry(), skerry(finished=True), empty_studio()):
            self.assertEqual(from_json(to_json(studio).encode()), studio)
            write_studio_file(self.folder / "x.ennead", studio)
            self.assertEqual(read_studio_file(self.folder / "x.ennead"), studio)

    def test_published_schema_is_the_program_s_and_the_demo_obeys_its_outline(self):
        published = json.loads((ROOT / "docs" / "studio.schema.json").read_text(encoding="utf-8"))
        self.assertEqual(published, json.loads(json.dumps(json_schema())))
        demo = json.loads(to_json(skerry()))
        self.assertEqual(set(published["properties"]), set(demo))
        self.assertEqual(set(published["required"]), set(demo))


class Committing(InFolder):
    def test_an_edit_writes_only_the_rows_it_changed(self):
        path = self.folder / "a.ennead"
        file = StudioFile(path, create=skerry())
        renamed = rename_unit(file.studio, "U1", "Lighthouse")
        self.assertEqual(file.commit(renamed), 1)
        self.assertEqual(file.commit(set_rate(renamed, 96_000)), 1)
        # A new source: its row, the list it stands in, the counter.
        self.assertEqual(file.commit(add_source(file.studio, "Bell")), 3)
        self.assertEqual(file.commit(file.studio), 0)
        last = file.studio
        # Another reader sees the edit before the file is closed.
        self.assertEqual(read_studio_file(path), last)
        file.close()
        self.assertEqual([p.name for p in self.folder.iterdir()], ["a.ennead"])
        self.assertEqual(read_studio_file(path), last)

    def test_random_edits_and_their_undoing_are_kept_exactly(self):
        for seed in range(4):
            dice, path = random.Random(seed), self.folder / f"{seed}.ennead"
            file = StudioFile(path, create=one_fibre())
            values = [file.studio]
            for _ in range(40):
                try:
                    values.append(random_edit(values[-1], dice)[1](values[-1]))
                except EnneadError:
                    continue
                file.commit(values[-1])
            for value in (*values[::-7], values[-1]):
                file.commit(value)
                self.assertEqual(read_studio_file(path), value)
            file.close()

    def test_a_file_that_cannot_be_written_keeps_what_it_held(self):
        path = self.folder / "a.ennead"
        file = StudioFile(path, create=one_fibre())
        with closing(sqlite3.connect(path, isolation_level=None)) as other:
            other.execute("begin immediate")
            file._db.execute("pragma busy_timeout = 1")
            with self.assertRaises(FileTrouble) as caught:
                file.commit(rename_unit(file.studio, "U1", "Other"))
            self.assertIn("could not be written", str(caught.exception))
            other.execute("rollback")
        self.assertEqual(file.commit(rename_unit(file.studio, "U1", "Other")), 1)
        file.close()


class BadStudioFiles(InFolder):
    def setUp(self):
        super().setUp()
        self.good = self.folder / "good.ennead"
        write_studio_file(self.good, skerry())

    def damaged(self, change):
        path = self.folder / "bad.ennead"
        data = bytearray(self.good.read_bytes())
        path.write_bytes(bytes(change(data) or data))
        return path

    def sql(self, *statements):
        path = self.damaged(lambda _: None)
        with closing(sqlite3.connect(path)) as db:
            for statement in statements:
                db.execute(statement)
            db.commit()
        return path

    def test_missing_empty_foreign_truncated_newer(self):
        self.assert_refused(self.folder / "none.ennead", "no such file")
        self.assert_refused(self.damaged(lambda d: d.clear()), "empty")
        self.assert_refused(self.damaged(lambda d: d[:0] + b"hello, not a studio"), "no Ennead studio")
        self.assert_refused(self.damaged(lambda d: d[:50]), "cut short")
        self.assert_refused(self.damaged(lambda d: d[: len(d) // 2]), "cut short")
        self.assert_refused(self.sql("pragma application_id = 1"), "no Ennead studio")
        self.assert_refused(self.sql("pragma user_version = 99"), "newer Ennead (form 99)", "Update")
        self.assert_refused(self.folder, "says nothing")
        directory = self.folder / "folder.ennead"
        directory.mkdir()
        self.assert_refused(directory, "cannot be read")

    def test_damage_inside_is_named(self):
        self.assert_refused(self.sql("drop table object"), "damaged")
        self.assert_refused(self.sql("delete from head where key = 'counters'"), "“counters” is missing")
        self.assert_refused(self.sql("update object set body = '{' where id = 'U1'"), "damaged at")
        self.assert_refused(self.sql("delete from object where id = 'F1'"), "there is no profile “F1”")
        self.assert_refused(self.sql("update object set id = 'U77' where id = 'U1'"), "does not bear its own id")
        self.assert_refused(self.sql("insert into object values ('toys', 'T1', '{}')"), "unknown kind")

    def test_any_byte_may_be_wrong(self):
        dice = random.Random(5)
        refused = 0
        for _ in range(120):

            def scratch(data):
                for _ in range(dice.choice((1, 4, 200))):
                    data[dice.randrange(len(data))] = dice.randrange(256)

            path = self.damaged(scratch)
            try:
                read_studio(path)
            except FileTrouble as error:
                refused += 1
                self.assertNotIn("\n", str(error))
        self.assertGreater(refused, 30)


class BadJson(InFolder):
    def mutate(self, change):
        table = json.loads(to_json(one_fibre()))
        change(table)
        path = self.folder / "bad.json"
        path.write_text(json.dumps(table), encoding="utf-8")
        return path

    def test_each_kind_of_wrong_is_named_with_its_place(self):
        def put(*path_and_value):
            *path, last, value = path_and_value

            def change(table):
                for part in path:
                    table = table[part]
                table[last] = value

            return change

        for change, words in (
            (
                lambda form: form["as_built"]["cables"].append(
                    {"cable": {**form["cables"][0], "id": "xxxx"}, "words": ["", ""]}
                ),
                "is no id",
            ),
            (
                lambda form: form["as_built"]["cables"].append({"cable": form["cables"][0], "words": [""]}),
                "1 words for 2 plugs",
            ),
            (put("as_built", "settings", {"7": {}}), "is no id"),
            (put("cables", 0, "wires", [{"a": 0, "a_lane": 2, "b": 1, "b_lane": 1}]), "has two plugs and is straight"),
            (put("cables", 0, "plugs", 1, {"line": "S1"}), "runs into what makes sound"),
            (put("sessions", 0, "destinations", ["D1"]), "no destination “D1”"),
            (put("sessions", 0, "aims", ["moves", "moves"]), "aims"),
            (put("sessions", 0, "spare", {"hiz": -1}), "spare inputs"),
            (put("prices", {"glass": -1.0}), "is no price"),
            (put("units", 0, "settings", "pads", ["optical_in"]), "no such pad"),
            (put("version", FORMAT_VERSION + 1), "newer Ennead"),
            (put("version", 0), "there is no form 0"),
            (put("format", "song"), "no Ennead studio"),
            (put("name", 7), "name"),
            (put("units", 0, "name", None), "units.0.name"),
            (put("units", 0, "colour", "red"), "units.0.colour"),
            (put("units", 0, "profile", "F9"), "no profile “F9”"),
            (put("units", 1, "id", "U1"), "an id stands twice"),
            (put("units", 1, "id", "X2"), "is no id of this kind"),
            (put("units", 1, "id", "U²"), "is no id"),
            (put("counters", "U", 1), "U stands at 1, but U2 exists"),
            (put("session", "N4"), "no session"),
            (put("sessions", 0, "rate_hz", 47_000), "no studio rate"),
            (put("sessions", 0, "wishes", [{"source": "S1"}]), "no source “S1”"),
            (put("cables", 0, "plugs", 1, "port", "nowhere"), "has no port called"),
            (put("cables", 0, "plugs", 0, "port", "optical_in"), "begins at an input"),
            (put("cables", 0, "length_m", -1), "no length"),
            (put("cables", 0, "length_m", "long"), "cables.0.length_m"),
            (put("units", 0, "settings", "clock_source", "moon"), "clock menu"),
            (put("units", 0, "settings", "modes", {"optical": "x"}), "cannot stand at"),
            (put("hosts", 0, "interfaces", ["U2"]), "no interface"),
            (put("profiles", 0, "ports", 0, "carries", []), "carries nothing"),
            (put("profiles", 0, "driver_maps", 0, "inputs", 0, "ports", ["x"]), "no port “x”"),
            (put("profiles", 0, "rates_hz", [8000]), "not studio rates"),
        ):
            with self.subTest(words=words):
                self.assert_refused(self.mutate(change), words)

    def test_what_is_no_json_at_all(self):
        path = self.folder / "bad.json"
        for text in (b"", b"{", b"[]", b"null", b"\xff\xfe\x00", b"[" * 200_000, b'{"format": "ennead-studio"}'):
            path.write_bytes(text)
            self.assert_refused(path, ". ")

    def test_a_failed_write_leaves_the_old_file(self):
        target = self.folder / "a.json"
        target.write_text("old", encoding="utf-8")
        with self.assertRaises(FileTrouble):
            write_studio(self.folder / "nowhere" / "a.json", one_fibre())
        with self.assertRaises(FileTrouble):
            write_studio(self.folder / "nowhere" / "a.ennead", one_fibre())
        with self.assertRaises(FileTrouble):
            write_studio(self.folder / "a.txt", one_fibre())
        self.assertEqual([p.name for p in self.folder.iterdir()], ["a.json"])


class Profiles(unittest.TestCase):
    def test_the_generic_ones_make_units_that_hang_together(self):
        self.assertGreaterEqual(len(shelf()), 24)
        self.assertEqual(len({p.name for p in shelf()}), len(shelf()))
        studio = empty_studio()
        for profile in shelf():
            studio = add_unit(studio, profile)
        self.assertEqual(from_json(to_json(studio).encode()), studio)

    def test_an_expander_is_what_its_description_says(self):
        profile = shelf_profile(EXPANDER)
        self.assertEqual(
            [p.key for p in profile.ports if p.direction == "in"], [*(f"mic{n}" for n in range(1, 9)), "optical_in"]
        )
        self.assertEqual({b.label: b.ports for b in profile.banks}["48 V 5–8"], ("mic5", "mic6", "mic7", "mic8"))

    def test_wrong_profiles_are_explained_at_the_place(self):
        from ennead.files.profiles import read_profile, spread

        self.assertEqual(spread("mic{9-11}"), ["mic9", "mic10", "mic11"])
        good = 'name = "x"\nrole = "preamp"\nsummary = ""\n[[ports]]\nkey = "a"\nlabel = "A"\ndirection = "in"\nconnector = "xlr"\ncarries = ["mic"]\n'
        self.assertEqual(read_profile(good, "x.toml").name, "x")
        for change, words in (
            (good.replace('"xlr"', '"plug"'), "ports.0.connector"),
            (good.replace('"preamp"', '"box"'), "role"),
            (good + 'colour = "red"\n', "ports.0.colour"),
            (good + '[[banks]]\nkey = "k"\nlabel = "48"\nports = ["b"]\n', "there is no port “b”"),
            (good + good.split("\n", 3)[3], "“a”: two ports share this key"),
            ("name = ", "x.toml"),
            (good + "[[driver_maps]]\n", "x.toml"),
        ):
            with self.subTest(words=words), self.assertRaises(FileTrouble) as caught:
                read_profile(change, "x.toml")
            self.assertIn(words, str(caught.exception))
