"""Describing boxes: seven answers, pasted lists, rows of text, wrong profiles explained at the place, the user's shelf."""

import json
import tempfile
import unittest
from dataclasses import fields, replace
from pathlib import Path

from ennead.edits.cables import connect
from ennead.edits.profiles import change_profile
from ennead.edits.settings import set_mode, set_phantom
from ennead.files.errors import FileTrouble
from ennead.files.profile_rows import profile_rows, read_rows, row_of
from ennead.files.profile_schema import profile_schema
from ennead.files.profile_text import fold_keys, profile_toml
from ennead.files.profiles import read_profile, shelf, shelf_profile, spread
from ennead.files.user_shelf import drop_profile, keep_profile, user_profiles
from ennead.planning.boxes.describing import Answers, describe_box
from ennead.planning.boxes.software_list import read_software_list
from ennead.rules.profile_holds_together import profile_faults
from ennead.standards.signals import Signal
from ennead.studio.errors import BadValue
from ennead.studio.house import Settings
from ennead.studio.profile import Profile
from ennead.survey.unit_view import view_unit
from tests.builders import EXPANDER, INTERFACE, end, rig

ROOT = Path(__file__).resolve().parent.parent

PASTED = "\n".join(
    [
        *(f"Analogue {n}" for n in range(1, 9)),
        "S/PDIF L",
        "S/PDIF R",
        *(f"Loopback {n}" for n in range(1, 5)),
        *(f"ADAT {n}" for n in range(1, 9)),
    ]
)


def spans(profile, rate, side="inputs"):
    """Return the blocks of a profile's first map as it is taken from the shelf: label, first, last."""
    channels = getattr(view_unit(profile, Settings(), rate), side)
    return list(dict.fromkeys((c.block.label, c.block_first, c.block_last) for c in channels))


class Shipped(unittest.TestCase):
    def test_at_least_32_and_all_hang_together(self):
        self.assertGreaterEqual(len(shelf()), 32)
        self.assertEqual(len({p.name for p in shelf()}), len(shelf()))
        for profile in shelf():
            with self.subTest(profile.name):
                self.assertEqual(list(profile_faults(profile)), [])
                analogue = [p for p in profile.ports if not p.is_digital]
                if profile.role not in ("panel", "bay", "di"):
                    self.assertTrue(all(p.levels for p in analogue))
                    self.assertTrue(profile.power_w or profile.supply == "none")
                if profile.is_digital and profile.role != "clock":
                    late = [p for p in profile.ports if p.carries[0] != "word"]
                    self.assertTrue(all(p.latency_samples is not None for p in late))

    def test_figures_at_the_edge_of_what_can_be(self):
        profile = shelf_profile(INTERFACE)
        (optical,) = (p for p in profile.ports if p.key == "optical_in")
        (mic,) = (p for p in profile.ports if p.key == "mic3")
        for port, facts, good in (
            (optical, {"lanes_at": {"quad": 0}}, True),
            (optical, {"lanes_at": {"quad": 64}}, True),
            (optical, {"lanes_at": {"quad": 65}}, False),
            (optical, {"lanes_at": {"quad": -1}}, False),
            (mic, {"pad_db": 60.0}, True),
            (mic, {"pad_db": 0.0}, False),
            (mic, {"pad_db": 60.5}, False),
            (optical, {"pad_db": 20.0}, False),
        ):
            ports = tuple(replace(p, **facts) if p is port else p for p in profile.ports)
            self.assertEqual(list(profile_faults(replace(profile, ports=ports))) == [], good, facts)

    def test_text_and_rows_give_the_same_profile_back(self):
        for profile in shelf():
            with self.subTest(profile.name):
                self.assertEqual(read_profile(profile_toml(profile), "again"), profile)
                again, faults = read_rows(profile_rows(profile))
                self.assertEqual(faults, ())
                self.assertEqual(
                    [replace(b, key="") for m in again.driver_maps for b in (*m.inputs, *m.outputs)],
                    [replace(b, key="") for m in profile.driver_maps for b in (*m.inputs, *m.outputs)],
                )
                self.assertEqual(replace(again, driver_maps=()), replace(profile, driver_maps=()))

    def test_the_handbook_s_example_and_the_published_schema_are_true(self):
        page = next((ROOT / "ennead" / "data" / "handbook").glob("*profiles.md")).read_text(encoding="utf-8")
        example = read_profile(page.split("```")[1], "the handbook")
        self.assertEqual(spans(example, 48_000), [("Mic", 1, 2), ("Loopback", 3, 4), ("ADAT", 5, 12)])
        self.assertEqual(spans(example, 96_000)[-1], ("ADAT", 5, 8))
        published = json.loads((ROOT / "docs" / "profile.schema.json").read_text(encoding="utf-8"))
        self.assertEqual(published, json.loads(json.dumps(profile_schema())))
        self.assertEqual(set(published["properties"]) | {"id"}, {f.name for f in fields(Profile)})
        self.assertIn("Fifty-six plain types", page)
        self.assertEqual(len(shelf()), 63)

    def test_folding_is_the_inverse_of_spreading(self):
        for keys in (["a1", "a2", "a3"], ["a1", "a3"], ["a01", "a02"], ["x"], ["a9", "a10", "b10"], ["a1_in", "a2_in"]):
            self.assertEqual([k for f in fold_keys(keys) for k in spread(f)], keys)


class Described(unittest.TestCase):
    def test_the_pasted_list_is_the_driver_map(self):
        answers = Answers("box", mics=8, line_outs=10, optical="pair", spdif="both", software_inputs=PASTED)
        profile = describe_box(answers).profile
        self.assertEqual(list(profile_faults(profile)), [])
        wanted = [("Analogue", 1, 8), ("S/PDIF", 9, 10), ("Loopback", 11, 14), ("ADAT", 15, 22)]
        self.assertEqual(spans(profile, 48_000), wanted)
        self.assertEqual(spans(profile, 96_000)[-1], ("ADAT", 15, 18))
        self.assertEqual(profile.driver_maps[0].inputs[0].ports, tuple(f"mic{n}" for n in range(1, 9)))

    def test_every_combination_of_answers_hangs_together(self):
        for mics in (0, 1, 8):
            for optical in ("none", "in", "pair", "two", "two-fast"):
                for spdif in ("none", "in", "both"):
                    for own, on_computer in ((True, True), (False, True), (True, False)):
                        answers = Answers(
                            "b",
                            mics,
                            1 if mics else 0,
                            2,
                            4,
                            optical,
                            mics == 8,
                            spdif,
                            1,
                            own,
                            mics == 1,
                            mics == 8,
                            on_computer,
                        )
                        profile = describe_box(answers).profile
                        # A box with digital inputs that neither leads nor follows cannot be meant.
                        digital = optical != "none" or spdif != "none" or mics == 1
                        if own or digital:
                            self.assertEqual(list(profile_faults(profile)), [], answers)
                        ins = sum(p.direction == "in" for p in profile.ports)
                        pairs = {"none": 0, "in": 1, "pair": 1, "two": 2, "two-fast": 2}[optical]
                        self.assertEqual(ins, mics + 2 + pairs + (spdif != "none") + (mics == 1))
                        outs = [p.key for p in profile.ports if p.direction == "out" and not p.is_digital]
                        self.assertEqual(outs, ["line_out1", "line_out2", "line_out3", "line_out4", "phones1"])

    def test_more_entries_than_sockets_are_channels_without_one(self):
        for analogue in (2, 4, 5, 9):
            text = "\n".join(f"Analogue {n}" for n in range(1, analogue + 1))
            profile = describe_box(Answers("b", mics=2, lines=2, line_outs=6, software_inputs=text)).profile
            dealt = [port for block in profile.driver_maps[0].inputs for port in block.ports]
            self.assertEqual(dealt, ["mic1", "mic2", "line_in1", "line_in2"][:analogue])
            self.assertEqual(sum(last - first + 1 for _, first, last in spans(profile, 48_000)), analogue)
        # What comes after them keeps the number the software gives it.
        text = "Analogue 1-6\nADAT 1-8"
        profile = describe_box(Answers("b", mics=2, lines=2, optical="pair", software_inputs=text)).profile
        self.assertEqual(spans(profile, 48_000)[-1], ("ADAT", 7, 14))
        self.assertEqual(list(profile_faults(profile)), [])

    def test_a_list_is_read_up_to_the_channels_there_can_be(self):
        for count, last in ((1_023, 1_023), (1_024, 1_024), (1_025, 1_024), (3_000, 1_024)):
            self.assertEqual(read_software_list("Mic\n" * count).blocks[-1].last, last)
        self.assertEqual(
            [(b.first, b.last) for b in read_software_list("Mic\n" * 1_020 + "ADAT 1-8").blocks], [(1, 1_020)]
        )

    def test_an_expander_sends_its_inputs_in_order(self):
        profile = describe_box(Answers("e", mics=8, optical="pair", line_outs=8, on_computer=False)).profile
        self.assertEqual(profile.role, "expander")
        view = view_unit(profile, Settings(), 48_000)
        self.assertEqual(view.inside["mic5", 1], (("optical_out", 5),))
        self.assertEqual(view.inside["optical_in", 3], (("line_out3", 1),))

    def test_numbers_out_of_reach_and_no_socket_are_refused(self):
        for answers in (Answers(mics=-1), Answers(lines=500), Answers(mics=0, line_outs=0, phones=0)):
            with self.assertRaises(BadValue):
                describe_box(answers)

    def test_lists_as_software_writes_them(self):
        for text, blocks in (
            ("1: Mic 1\n2: Mic 2\n3: ADAT 1-8", [("Mic", 1, 2), ("ADAT", 3, 10)]),
            ("In 1\r\nIn 2\r\nSPDIF Left\r\nSPDIF Right", [("In", 1, 2), ("SPDIF", 3, 4)]),
            ("Input 1/2\nOptical 1 to 8", [("Input", 1, 2), ("Optical", 3, 10)]),
            ("Main L/R\n\n  \nTalkback", [("Main", 1, 2), ("Talkback", 3, 3)]),
            ("", []),
            ("x" * 5_000 + "\n" + "ADAT 1-9999", [("x" * 200, 1, 1), ("ADAT 1-9999", 2, 2)]),
        ):
            with self.subTest(text[:40]):
                read = [(b.label, b.first, b.last) for b in read_software_list(text).blocks]
                self.assertEqual([r[1:] for r in read], [b[1:] for b in blocks])
                self.assertEqual([r[0] for r in read][:1], [b[0] for b in blocks][:1])


class Numbered(unittest.TestCase):
    """The software's own numbers and labels are kept, and what was assumed is said."""

    def listed(self, text):
        read = read_software_list(text)
        return [(b.label, b.first, b.last, b.first_label) for b in read.blocks], read.assumed

    def test_every_shape_gives_its_own_numbers(self):
        names = [(n, f"Mic {n}") for n in range(1, 9)] + [(n + 10, f"ADAT {n}") for n in range(1, 9)]
        for shape in (
            "In {n}: {name}", "Input {n} - {name}", "Input {n} ({name})", "{name} (Input {n})", "Ch. {n}, {name}", "[{n}] {name}",
            "{n}\t{name}", "{name}\t{n}", "{n};{name}", '"{n}","{name}"', "{n} {name} 48 kHz", "{n}. {name} (+4 dBu)", "{n} = {name}",
            "{n} {odd} {name}", "{odd} {n} {name}", "{n}\t{far}\t{name}",
        ):  # fmt: skip
            text = "\n".join(shape.format(n=n, name=name, odd=n % 5, far=n + 100) for n, name in names)
            blocks, said = self.listed(text)
            self.assertEqual(blocks, [("Mic", 1, 8, 1), ("not listed", 9, 10, 1), ("ADAT", 11, 18, 1)], shape)
            self.assertEqual(len(said), 2 if "odd" in shape or "far" in shape else 1, shape)
        blocks, said = self.listed("\n".join(f"In {n - 1}: {name}" for n, name in names))
        self.assertEqual(blocks[2], ("ADAT", 11, 18, 1))
        self.assertIn("counts from 0", said[0])

        blocks, said = self.listed("Mic 0\nMic 1\nADAT 0\nADAT 1")
        self.assertEqual((blocks, len(said)), ([("Mic", 1, 2, 1), ("ADAT", 3, 4, 1)], 1))

    def test_two_numbers_in_a_name_are_a_name_or_a_range(self):
        one_each = [("ADAT 1", 1, 2, 1), ("ADAT 2", 3, 3, 1)]
        for text, blocks in (
            ("ADAT 1-1\nADAT 1-2\nADAT 2-1", one_each),
            ("ADAT 1.1\nADAT 1.2\nADAT 2.1", one_each),
            ("ADAT1-1\nADAT1-2\nADAT2-1", [("ADAT1", 1, 2, 1), ("ADAT2", 3, 3, 1)]),
            ("ADAT 1-8\nADAT 9-16", [("ADAT", 1, 16, 1)]),
            ("Line1-2\nLine3-4", [("Line", 1, 4, 1)]),
            ("7 ADAT 1-8\n8 ADAT 1-9", [("not listed", 1, 6, 1), ("ADAT 1", 7, 8, 8)]),
        ):
            self.assertEqual(self.listed(text)[0], blocks, text)
        self.assertEqual(
            self.listed("ADAT1-3"), ([("ADAT1", 1, 1, 3)], ("“ADAT1-3” is taken as one name, not as a range.",))
        )

    def test_numbers_before_the_entries_are_kept_with_their_gaps(self):
        blocks, said = self.listed("1 Input 1\n2 Input 2\n13 ADAT 1\n14 ADAT 2")
        self.assertEqual(blocks, [("Input", 1, 2, 1), ("not listed", 3, 12, 1), ("ADAT", 13, 14, 1)])
        self.assertIn("3–12 stand not in the list: taken as channels without a socket", said[0])
        profile = describe_box(
            Answers("b", mics=2, optical="in", software_inputs="1 Input 1\n2 Input 2\n13 ADAT 1\n14 ADAT 2")
        ).profile
        view = view_unit(profile, Settings(), 48_000)
        self.assertEqual(
            [(c.index, c.port, c.lane) for c in view.inputs if c.port == "optical_in"][:2],
            [(13, "optical_in", 1), (14, "optical_in", 2)],
        )
        self.assertEqual(list(profile_faults(profile)), [])
        self.assertEqual(self.listed("3: Mic 1\n4: Mic 2")[0], [("not listed", 1, 2, 1), ("Mic", 3, 4, 1)])
        self.assertEqual(self.listed("1-8 Analogue\n9-10 S/PDIF\n15-22 ADAT")[0][-1], ("ADAT", 15, 22, 1))

    def test_numbers_that_do_not_rise_or_stand_before_few_are_not_trusted(self):
        for text in ("2 Mic 1\n1 Mic 2", "5 Mic\nLine\nTape", "1 Mic\n1 Line"):
            blocks, said = self.listed(text)
            self.assertEqual([b[1] for b in blocks], list(range(1, len(blocks) + 1)) if len(blocks) > 1 else [1], text)
            self.assertIn("counted in their order", said[0])
        self.assertEqual(self.listed("1 Mic\n2 Line\nTape")[1], ())

    def test_labels_keep_their_own_numbers(self):
        text = "\n".join([*(f"Mic {n}" for n in range(1, 5)), *(f"Line {n}" for n in range(5, 9))])
        profile = describe_box(Answers("b", mics=4, lines=4, software_inputs=text)).profile
        channels = view_unit(profile, Settings(), 48_000).inputs
        self.assertEqual(
            [(c.index, c.label, c.port) for c in channels][3:6],
            [(4, "Mic 4", "mic4"), (5, "Line 5", "line_in1"), (6, "Line 6", "line_in2")],
        )
        self.assertEqual(read_profile(profile_toml(profile), "again").driver_maps, profile.driver_maps)
        self.assertEqual(self.listed("Line 1\nLine 2\nLine 5")[0], [("Line", 1, 2, 1), ("Line", 3, 3, 5)])

    def test_outputs_are_pasted_as_well(self):
        text = "1 Main L\n2 Main R\n3 Line 3\n4 Line 4\n5 Phones L\n6 Phones R\n9 ADAT 1-8"
        profile = describe_box(Answers("b", line_outs=4, phones=1, optical="pair", software_outputs=text)).profile
        found = {(c.port, c.lane): c.index for c in view_unit(profile, Settings(), 48_000).outputs}
        self.assertEqual(
            [found[k] for k in (("line_out1", 1), ("line_out4", 1), ("phones1", 2), ("optical_out", 1))], [1, 4, 6, 9]
        )


class DescribedFurther(unittest.TestCase):
    def test_more_sockets_and_switches(self):
        box = describe_box(
            Answers(
                "b",
                mics=8,
                aes3="both",
                madi="in",
                phantom="fours",
                bus="USB",
                fastest_hz=96_000,
                optical="pair",
                optical_spdif=True,
                optical_apart=True,
            )
        )
        profile = box.profile
        self.assertEqual(list(profile_faults(profile)), [])
        self.assertEqual(
            [b.ports for b in profile.banks], [("mic1", "mic2", "mic3", "mic4"), ("mic5", "mic6", "mic7", "mic8")]
        )
        self.assertEqual((profile.bus, profile.rates_hz[-1], len(profile.rates_hz)), ("USB", 96_000, 4))
        self.assertEqual({m.key for m in profile.modes}, {"optical_in", "optical_out", "madi"})
        self.assertEqual(
            [p.key for p in profile.ports if p.key.startswith(("aes3", "madi"))], ["aes3_in", "aes3_out", "madi_in"]
        )
        view = view_unit(profile, Settings(modes={"optical_in": "spdif-optical"}), 48_000)
        self.assertEqual((view.formats["optical_in"], view.formats["optical_out"]), ("spdif-optical", "adat"))
        self.assertEqual(
            [len(describe_box(Answers("b", mics=8, phantom=p)).profile.banks) for p in ("all", "fours", "each")],
            [1, 2, 8],
        )

    def test_an_expander_s_headphones_and_outputs_nine_and_ten_hear_something(self):
        box = describe_box(Answers("e", mics=8, optical="pair", line_outs=10, phones=2, on_computer=False))
        view = view_unit(box.profile, Settings(), 48_000)
        self.assertEqual(
            view.inside["optical_in", 1], (("line_out1", 1), ("line_out9", 1), ("phones1", 1), ("phones2", 1))
        )
        self.assertEqual(view.inside["optical_in", 8], (("line_out8", 1),))
        self.assertTrue(any("9–10 are taken to repeat channels 1–2" in said for said in box.assumed))


class Wrong(unittest.TestCase):
    """Each thing wrong is found at its row, and a profile with it cannot be read from a file."""

    def rows(self):
        return profile_rows(shelf_profile(INTERFACE))

    def place(self, table, row, **cells):
        rows = self.rows()
        rows[table][row] |= cells
        _, faults = read_rows(rows)
        self.assertTrue(faults, cells)
        return [(*row_of(f, rows), f.what) for f in faults]

    def test_the_three_the_design_names(self):
        rows = self.rows()
        rows["blocks"][1]["ports"] = "mic3"
        _, (fault,) = read_rows(rows)
        self.assertEqual(row_of(fault, rows)[0], "blocks")
        self.assertIn("both number “mic3” at the same time", fault.what)
        (found,) = self.place("blocks", 0, ports="", channels="")
        self.assertEqual(found, ("blocks", 0, "the block has no port and no channels"))
        rows = self.rows()
        rows["clock_sources"] = []
        _, (fault,) = read_rows(rows)
        self.assertEqual(row_of(fault, rows), ("clock_sources", -1))
        self.assertIn("no clock source at all", fault.what)

    def test_others_at_their_rows(self):
        for table, row, cells, words in (
            ("ports", 0, {"connector": "plug"}, "not among its choices"),
            ("ports", 1, {"key": "mic1"}, "two ports share this key"),
            ("ports", 0, {"carries": ""}, "it carries nothing"),
            ("ports", 0, {"carries": "mic, adat"}, "analogue and digital"),
            ("ports", 0, {"channels": "two"}, "no whole number"),
            ("ports", 0, {"channels": "65"}, "cannot have 65 channels"),
            ("ports", 0, {"key": "mic{8-1}"}, "runs backwards"),
            ("ports", 0, {"levels": "line loud"}, "is no level"),
            ("ports", 0, {"format_mode": "lever"}, "a mode “lever”"),
            ("blocks", 0, {"map": "other"}, "a map that is not there"),
            ("blocks", 0, {"ports": "mic99"}, "there is no port “mic99”"),
            ("blocks", 0, {"way": "out"}, "is an input"),
            ("blocks", 0, {"when": "optical"}, "names no mode and position"),
            ("blocks", 0, {"when": "optical=blue"}, "cannot stand at “blue”"),
            ("clock_sources", 1, {"port": "nowhere"}, "there is no port “nowhere”"),
            ("banks", 0, {"ports": "mic99"}, "there is no port “mic99”"),
            ("facts", 0, {"ppm": "-1"}, "-1 cannot be"),
            ("facts", 0, {"ppm": "infinite"}, "is no number"),
            ("facts", 0, {"rates_hz": "50000"}, "not studio rates"),
            ("facts", 0, {"name": ""}, "has no name"),
        ):
            with self.subTest(cells):
                found = self.place(table, row, **cells)
                self.assertTrue(any(words in what for *_, what in found), found)
                if "share" not in words:
                    self.assertIn(table, {f[0] for f in found})
                if table in ("blocks", "banks") and "bank" not in words:
                    self.assertIn((table, row), {f[:2] for f in found})

    def test_nothing_typed_into_any_cell_breaks_the_reader(self):
        odd = (
            "\u202e<b>",
            "x" * 500,
            "{1-999}",
            "{5-1}",
            "9" * 400,
            "=1+1",
            "a=b=c",
            ";;",
            "\x00",
            "mic{1-8}, mic{1-8}",
        )
        for table, kept in self.rows().items():
            for row in range(len(kept)):
                for field in kept[row]:
                    rows = self.rows()
                    rows[table][row][field] = odd[(row + len(field)) % len(odd)]
                    profile, faults = read_rows(rows)
                    self.assertTrue(profile is not None or faults)
                    for fault in faults:
                        self.assertIn(row_of(fault, rows)[0], rows)
                        self.assertNotIn("\n", str(fault))


class UserShelf(unittest.TestCase):
    def test_kept_replaced_listed_dropped(self):
        with tempfile.TemporaryDirectory() as held:
            folder = Path(held) / "profiles"
            mine = replace(shelf_profile(INTERFACE), name="../my “box” <b>/é\u202e")
            path = keep_profile(folder, mine)
            self.assertEqual(path.parent, folder)
            self.assertEqual(user_profiles(folder), ((mine,), ()))
            other = replace(mine, name="..-my -box- -b--é-", summary="another name, the same file name")
            self.assertNotEqual(keep_profile(folder, other), path)
            self.assertEqual(keep_profile(folder, replace(mine, ppm=3.0)), path)
            (folder / "bad.toml").write_bytes(b"\xff\xfe")
            profiles, (trouble,) = user_profiles(folder)
            self.assertEqual({p.ppm for p in profiles if p.name == mine.name}, {3.0})
            self.assertIn("bad.toml", str(trouble))
            drop_profile(folder, mine)
            self.assertEqual([p.name for p in user_profiles(folder)[0]], [other.name])

    def test_profiles_from_hell_are_one_sentence(self):
        good = profile_toml(shelf_profile(INTERFACE))
        for text in (
            "",
            "ports = 3",
            "[[ports]]\n" * 10,
            "a" * 300_000,
            "[" * 5_000,
            good + "\nbanks = 1\n",
            good.replace("{1-8}", "{1-999}"),
            good.replace('direction = "in"', "direction = 1", 1),
            'name = """\n"""\nrole = "preamp"\nsummary = ""\nports = []',
            good.replace("inputs = [", "inputs = [3, ", 1),
            "ports = [[]]",
            "driver_maps = [1]",
            "banks = [{}]",
            "inner_paths = {}",
        ):
            with self.subTest(text[:30]), self.assertRaises(FileTrouble) as caught:
                read_profile(text, "hell.toml")
            self.assertEqual(str(caught.exception).count("\n"), 0)
            self.assertTrue(str(caught.exception).startswith("hell.toml: "))
            self.assertLess(len(str(caught.exception)), 600)


class Changed(unittest.TestCase):
    def test_all_units_of_it_change_and_settings_that_still_are_stay(self):
        studio = rig(INTERFACE, INTERFACE, EXPANDER)
        studio = connect(studio, end("U3", "optical_out"), end("U1", "optical_in"))
        studio = set_phantom(studio, "U1", studio.profile_of("U1").banks[0].key, on=True)
        profile = studio.profile_of("U1")
        slower = replace(profile, ppm=1.0, banks=profile.banks[:1], rates_hz=(48_000,))
        after = change_profile(studio, "U2", slower)
        self.assertEqual((after.profile_of("U1").ppm, after.profile_of("U2").ppm), (1.0, 1.0))
        self.assertEqual(after.settings_of("U1").phantom, studio.settings_of("U1").phantom)
        self.assertIs(after.units["U3"], studio.units["U3"])
        self.assertEqual(change_profile(after, "U1", profile), studio)

    def test_a_socket_with_a_cable_in_it_stays(self):
        studio = connect(rig(INTERFACE, EXPANDER), end("U2", "optical_out"), end("U1", "optical_in"))
        profile = studio.profile_of("U1")
        without = replace(profile, ports=tuple(p for p in profile.ports if p.key != "optical_in"))
        with self.assertRaises(BadValue) as caught:
            change_profile(studio, "U1", without)
        self.assertIn("A cable is in that socket", str(caught.exception))
        line: tuple[Signal, ...] = ("line",)
        other = replace(
            profile, ports=tuple(replace(p, carries=line) if p.key == "optical_in" else p for p in profile.ports)
        )
        with self.assertRaises(BadValue):
            change_profile(studio, "U1", other)
        studio = set_mode(studio, "U1", profile.modes[0].key, profile.modes[0].choices[1].key)
        after = change_profile(studio, "U1", replace(profile, modes=()))
        self.assertEqual(after.settings_of("U1").modes, {})


if __name__ == "__main__":
    unittest.main()
