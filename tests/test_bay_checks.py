"""What the rules about bays say, one small arrangement each, and that what they offer mends it."""

import unittest

from ennead.checks.all_checks import CHECKS
from ennead.demo.skerry import skerry
from ennead.edits.bays import add_bay, describe_bay, label_point, set_normal
from ennead.edits.cables import connect
from ennead.edits.house import add_unit, mark_fault
from ennead.edits.scenes import add_scene, choose_scene, keep_for, lay_cord, set_stock, stand_cord
from ennead.edits.session import change_source
from ennead.edits.sessions import add_session
from ennead.edits.settings import set_phantom, switch_off
from ennead.files.profiles import shelf_profile
from ennead.planning.fixing import change_of
from ennead.reports.sheet_of import sheet_of
from ennead.studio.bays import CordStock
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import Cable
from ennead.studio.ids import CableId, SceneId, UnitId
from ennead.studio.profile import Level
from ennead.studio.record import replace
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, plug


def house() -> Studio:
    """Return Pier (U1), the bay A (U2) whose first eight pairs lead to Pier's inputs, and a voice at its third upper point."""
    studio = add_bay(add_unit(empty_studio("Test"), shelf_profile(INTERFACE), "Pier"), "A", 24)
    for n in range(1, 9):
        studio = connect(studio, end("U2", f"b{n}"), end("U1", f"mic{n}"))
    return add_scene(plug(studio, "Voice", "U2", "a3", kind="dynamic"), "Tonight")


class BayRules(unittest.TestCase):
    def one(self, studio: Studio, rule: str, severity: str, *words: str) -> Studio:
        """Return the studio mended by the first fix of the one finding of a rule."""
        (found,) = findings(studio, rule)
        self.assertEqual((found.severity, sheet_of(found)), (severity, "Bays"))
        for word in words:
            self.assertIn(word, f"{found.message} {found.why} {' '.join(found.working)}")
        if found.fixes:
            studio = change_of(Survey(studio), found.fixes[0]).apply(studio)
            self.assertEqual(findings(studio, rule), [])
        return studio

    def test_back_to_normals_the_voice_arrives_and_nothing_is_said(self) -> None:
        studio = choose_scene(house(), SceneId(""))
        self.assertEqual(Survey(studio).signal_paths[0].driver.number, 3)  # type: ignore[union-attr]
        self.assertEqual([f.rule for check in CHECKS["bays"] for f in check(Survey(studio))], [])

    def test_signal_orphaned(self) -> None:
        studio = lay_cord(house(), end("U2", "a9"), end("U2", "b3"))
        self.assertEqual(findings(studio, "run_ends_early"), [])
        mended = self.one(
            studio,
            "signal_orphaned",
            "trouble",
            "Voice ends at A · 3 above: a plug breaks its normal to A · 3 below",
            "a plug there breaks it",
        )
        self.assertEqual(Survey(mended).signal_paths[0].driver.number, 3)  # type: ignore[union-attr]
        tapped = lay_cord(house(), end("U2", "a3"), end("U2", "b12"))
        self.assertEqual(findings(tapped, "signal_orphaned"), [])
        full = set_normal(lay_cord(house(), end("U2", "a3"), None), end("U2", "a3"), "full")
        self.one(full, "signal_orphaned", "trouble", "a plug in either breaks it")

    def test_two_outputs_joined(self) -> None:
        studio = plug(house(), "Fiddle", "U2", "a5", kind="dynamic")
        studio = lay_cord(set_normal(studio, end("U2", "a3"), "parallel"), end("U2", "a5"), end("U2", "b3"))
        (found,) = findings(studio, "two_outputs_joined")
        self.assertEqual(
            (sheet_of(found), found.subject.key, found.fixes[0].text),
            ("Bays", "W1", "Pull cord W1 from A · 5 above to A · 3 below"),
        )
        self.assertEqual(findings(change_of(Survey(studio), found.fixes[0]).apply(studio), "two_outputs_joined"), [])

    def test_cord_hangs_loose(self) -> None:
        self.one(
            lay_cord(house(), end("U2", "a9"), None), "cord_hangs_loose", "note", "Cord W1 is in A · 9 above alone"
        )

    def test_cord_joins_nothing(self) -> None:
        self.one(
            lay_cord(house(), end("U2", "a9"), end("U2", "b9")), "cord_joins_nothing", "caution", "nothing drives it"
        )
        half = set_normal(lay_cord(house(), end("U2", "a3"), end("U2", "b12")), end("U2", "a3"), "")
        self.one(half, "cord_joins_nothing", "caution", "nothing listens to it")

    def test_mult_loads_output(self) -> None:
        studio = change_source(lay_cord(house(), end("U2", "a3"), end("U2", "b7")), "S1", impedance_ohm=600.0)
        profile = studio.profile_of(UnitId("U1"))
        levels = {"mic": Level(10.0, None, 2000.0)}
        ports = tuple(replace(p, levels=levels) if p.key in ("mic3", "mic7") else p for p in profile.ports)
        studio = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
        # 2 kΩ twice is 1 kΩ; 20 log10(1000 / 1600) = −4.08 dB.
        self.one(studio, "mult_loads_output", "caution", "Voice feeds 2 inputs at once and loses 4.1 dB", "= -4.08 dB")
        light = change_source(studio, "S1", impedance_ohm=50.0)
        self.assertEqual(findings(light, "mult_loads_output"), [])

    def test_speaker_level_on_bay(self) -> None:
        studio = add_unit(house(), shelf_profile("two-channel power amplifier"), "Engine")
        out = next(p.key for p in studio.profile_of(UnitId("U3")).ports if p.direction == "out")
        laid = Cable(CableId("C90"), (end("U3", out), end("U2", "a20")))
        studio = replace(studio, cables=studio.cables.put(laid.id, laid), counters=studio.counters.put("C", 90))
        self.one(studio, "speaker_level_on_bay", "trouble", "puts loudspeaker level on A · 20 above")

    def test_phantom_through_bay(self) -> None:
        bank = house().profile_of(UnitId("U1")).bank_of_port["mic1"]
        studio = set_phantom(house(), UnitId("U1"), bank.key, on=True)
        self.one(studio, "phantom_through_bay", "note", "1 above", "let it fall")

    def test_mic_beside_line(self) -> None:
        studio = plug(house(), "Tape", "U2", "a4", kind="line")
        self.one(studio, "mic_beside_line", "note", "A · 3 above and A · 4 above stand side by side")
        # A combo socket takes either: line inputs beside it are no danger to a microphone that is not there.
        studio = add_unit(house(), shelf_profile("eight-channel line converter, two optical pairs"), "Converter")
        studio = connect(studio, end("U2", "b9"), end("U3", "line1"))
        self.assertEqual(findings(studio, "mic_beside_line"), [])

    def test_unbalanced_plug(self) -> None:
        studio = connect(house(), end("U1", "line_out1"), end("U2", "a9"))
        studio = lay_cord(studio, end("U2", "a9"), end("U2", "b7"), unbalanced=True)
        profile = studio.profile_of(UnitId("U1"))
        said = {}
        for stage in ("", "symmetrical", "transformer"):
            ports = tuple(replace(p, stage=stage) if p.key == "line_out1" else p for p in profile.ports)
            there = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
            said[stage] = [(f.severity, "6 dB" in f.message) for f in findings(there, "unbalanced_plug")]
        self.assertEqual(said, {"": [("note", False)], "symmetrical": [("caution", True)], "transformer": []})

    def test_unbalanced_tail(self) -> None:
        studio = house()
        profile = studio.profile_of(UnitId("U1"))
        ports = tuple(replace(p, connector="rca") if p.key == "mic5" else p for p in profile.ports)
        studio = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
        self.one(studio, "unbalanced_tail", "note", "Pier · Mic 5 is unbalanced", "6 dB less")

    def test_pair_upside_down_and_row_convention(self) -> None:
        studio = connect(house(), end("U1", "line_out1"), end("U2", "b9"))
        studio = (
            connect(studio, end("U2", "a9"), end("U1", "line_in1"))
            if "line_in1" in studio.profile_of(UnitId("U1")).port_by_key
            else studio
        )
        processor = add_unit(studio, shelf_profile("mono equaliser"), "Tiller")
        studio = connect(processor, end("U2", "a9"), end("U3", "line1"))
        self.one(studio, "pair_upside_down", "caution", "A · 9 above and A · 9 below are wired upside down")
        self.one(studio, "row_convention", "note", "9 above, 9 below", "9 points keep to it, 2 do not")
        self.assertEqual(findings(set_normal(studio, end("U2", "a9"), ""), "pair_upside_down"), [])

    def test_point_wired_twice(self) -> None:
        twice = Cable(CableId("C90"), (end("U1", "line_out1"), end("U2", "b3")))
        studio = replace(house(), cables=house().cables.put(twice.id, twice))
        self.one(
            replace(studio, counters=studio.counters.put("C", 90)),
            "point_wired_twice",
            "trouble",
            "A · 3 below is wired twice: C3 and C90",
        )

    def test_loop_points_apart(self) -> None:
        for at, said in ((11, 0), (12, 1)):
            studio = add_unit(house(), shelf_profile("mono equaliser"), "Tiller")
            studio = connect(
                connect(studio, end("U3", "line_out1"), end("U2", "a9")), end("U2", f"b{at}"), end("U3", "line1")
            )
            self.assertEqual(len(findings(studio, "loop_points_apart")), said, at)
        studio = add_unit(studio, shelf_profile("eight-channel line converter, two optical pairs"), "Converter")
        # Where normals bring the send and take the return no cord is needed, however far apart they are.
        studio = connect(connect(studio, end("U1", "line_out1"), end("U2", "a12")), end("U2", "b9"), end("U4", "line1"))
        self.assertEqual(findings(studio, "loop_points_apart"), [])

    def test_rows_by_function_with_normals_are_a_school_of_their_own(self) -> None:
        studio = add_unit(house(), shelf_profile("eight-channel line converter, two optical pairs"), "Converter")
        for n in (9, 10):
            studio = connect(studio, end("U3", f"line_out{n - 8}"), end("U2", f"b{n}"))
            studio = connect(studio, end("U2", f"a{n}"), end("U3", f"line{n - 8}"))
            against = studio
            studio = set_normal(set_normal(studio, end("U2", f"a{n}"), ""), end("U2", f"b{n}"), "half", f"a{n}")
        self.assertEqual((len(findings(against, "row_convention")), findings(studio, "row_convention")), (1, []))

    def test_cords_beyond_stock(self) -> None:
        studio = set_stock(
            lay_cord(house(), end("U2", "a3"), end("U2", "b7"), colour="red"),
            [CordStock(0.9, 3), CordStock(0.9, 1, "red")],
        )
        self.assertEqual(findings(studio, "cords_beyond_stock"), [])
        studio = lay_cord(studio, end("U2", "a4"), end("U2", "b6"), colour="red")
        self.one(studio, "cords_beyond_stock", "trouble", "Tonight wants 2 red cords, and there are 1")

    def test_cord_too_short(self) -> None:
        # 20 points of 17.9 mm and 0.15 m: 0.508 m.
        for length, said in ((0.5, 1), (0.51, 0)):
            studio = lay_cord(house(), end("U2", "a3"), end("U2", "b23"), length_m=length)
            self.assertEqual(len(findings(studio, "cord_too_short")), said, length)

    def test_cord_left_over(self) -> None:
        studio = lay_cord(house(), end("U2", "a3"), end("U2", "b7"))
        studio = stand_cord(studio, studio.cords[0])
        self.assertEqual(findings(studio, "cord_left_over"), [])
        self.one(
            choose_scene(studio, SceneId("")),
            "cord_left_over",
            "note",
            "1 cord still stands that “back to normals” does not have",
        )

    def test_label_too_long(self) -> None:
        studio = label_point(house(), end("U2", "a3"), first="Voice")
        # 17.9 mm hold 13 letters of 1.3 mm.
        self.assertEqual(findings(label_point(studio, end("U2", "a3"), second="x" * 13), "label_too_long"), [])
        self.one(
            label_point(studio, end("U2", "a3"), second="x" * 14),
            "label_too_long",
            "caution",
            "17.9 mm a point hold 13 letters",
        )
        narrow = describe_bay(studio, UnitId("U2"), pitch_mm=6.0)
        self.one(narrow, "label_too_long", "caution", "“Voice” at 3 above")

    def test_cord_connectors_differ(self) -> None:
        studio = lay_cord(add_bay(house(), "B", 48, connector="tt"), end("U2", "a3"), end("U3", "b7"))
        self.one(studio, "cord_connectors_differ", "trouble", "needs a TRS jack at one end and a TT jack at the other")
        plain = lay_cord(add_bay(house(), "B", 48, connector="ts"), end("U2", "a3"), end("U3", "b7"))
        self.assertEqual(findings(plain, "cord_connectors_differ"), [])

    def test_normal_feeds_off(self) -> None:
        studio = add_unit(house(), shelf_profile("mono equaliser"), "Tiller")
        studio = connect(connect(studio, end("U1", "line_out1"), end("U2", "a9")), end("U2", "b9"), end("U3", "line1"))
        self.assertEqual(findings(studio, "normal_feeds_off"), [])
        off = switch_off(studio, UnitId("U3"), off=True)
        self.one(off, "normal_feeds_off", "note", "Tiller is switched off, and 1 normal still feeds it")
        self.assertEqual(findings(lay_cord(off, end("U2", "b9"), None), "normal_feeds_off"), [])

    def test_cord_in_faulty_point(self) -> None:
        studio = mark_fault(lay_cord(house(), end("U2", "a3"), end("U2", "b7")), end("U2", "b7"), "scratchy")
        self.one(
            studio, "cord_in_faulty_point", "caution", "Cord W1 is in A · 7 below, which is out of service: scratchy"
        )

    def test_scene_of_another_evening(self) -> None:
        studio = keep_for(lay_cord(house(), end("U2", "a3"), end("U2", "b7")), SceneId("K1"), house().session)
        self.assertEqual(findings(studio, "scene_of_another_evening"), [])
        self.one(
            choose_scene(add_session(studio, "Tomorrow"), SceneId("K1")),
            "scene_of_another_evening",
            "note",
            "“Tonight” is the scene of another evening",
        )

    def test_the_demo_s_mistake_is_told_in_its_scene_and_gone_in_the_finished_form(self) -> None:
        for finished in (False, True):
            studio = skerry(finished=finished)
            scene = next(s.id for s in studio.scenes.values() if s.name == "Quartet in the hall")
            there = [
                f.message
                for f in findings(choose_scene(studio, scene))
                if f.severity == "trouble" and "Fiddle" in f.message
            ]
            self.assertEqual(there, [] if finished else ["48 V would reach Fiddle, which forbids it."])
            for each in studio.scenes:
                bays = [
                    f for f in findings(choose_scene(studio, each)) if sheet_of(f) == "Bays" and f.severity == "trouble"
                ]
                self.assertEqual(bays, [], each)
