"""Faults laid over a house: who arrives, at which number, locked, heard, with the answers worked out by hand."""

import random
import unittest

from bench.outcomes_cost import any_fault
from ennead.demo.skerry import skerry
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect
from ennead.edits.computer import set_times
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import add_unit, remove_unit
from ennead.edits.scenes import add_scene, choose_scene, lay_cord
from ennead.edits.session import remove_source, set_missing
from ennead.edits.sessions import choose_session, copy_session
from ennead.edits.settings import set_clock_source, set_gain, set_output
from ennead.edits.tracks import set_track
from ennead.files.profiles import shelf_profile
from ennead.planning.seating.allocation import allocate
from ennead.reports.changeover import changeover
from ennead.reports.computers import time_rows
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import PortEnd
from ennead.studio.ids import CableId, CordId, SceneId, SourceId, UnitId
from ennead.studio.switches import Switch
from ennead.survey.faults import (
    DeadCable,
    DeadContact,
    DeadCord,
    DeadLane,
    DeadPort,
    DriverMissing,
    Fault,
    Muted,
    NormalOpen,
    NormalStuck,
    OneSocketOff,
    PlugsExchanged,
    UnitOff,
    WrongNumber,
    WrongSwitch,
)
from ennead.survey.outcome import Outcome, outcome
from ennead.survey.survey import Survey, wiring
from ennead.survey.view import View
from ennead.survey.wiring import FIELDS
from tests.builders import end, findings, one_fibre, plug, random_edit, random_studio

U1, U2, U3, U4, U5 = (UnitId(f"U{n}") for n in range(1, 6))
#: By letter: Fiddle on the interface, Viola on the expander, Voice and Oboe over the bay, a piano in stereo.
_LINES = {"F": ("S1", 1), "V": ("S2", 1), "W": ("S3", 1), "O": ("S4", 1), "L": ("S5", 1), "R": ("S5", 2)}
_ALL = {"F": 1, "V": 15, "W": 3, "O": 4, "L": 5, "R": 6}


def house() -> Studio:
    """Return an interface that follows its expander, a bay of four pairs, a loudspeaker, a compressor in a loop, a cue."""
    studio = set_clock_source(one_fibre(), U1, "optical")
    studio = add_unit(add_bay(studio, "A", 4), shelf_profile("active loudspeaker"), "Tower")
    studio = add_unit(studio, shelf_profile("mono compressor"), "Press")
    studio = plug(plug(studio, "Fiddle", "U1", "mic1"), "Viola", "U2", "mic1")
    for n, name in ((1, "Voice"), (2, "Oboe")):
        studio = plug(studio, name, "U3", f"a{n}")
        studio = connect(studio, end("U3", f"b{n}"), end("U1", f"mic{n + 2}"))
    studio = plug(studio, "Piano", "U1", "mic5", "mic6")
    ins, outs = ([p.key for p in studio.profile_of(U5).ports if p.direction == way] for way in ("in", "out"))
    for start, to in (
        (end("U1", "line_out1"), end("U4", "line_in")),
        (end("U1", "line_out4"), end("U5", ins[0])),
        (end("U5", outs[0]), end("U1", "mic7")),
    ):
        studio = connect(studio, start, to)
    for name, kind, out in (("Main", "mains", "line_out1"), ("Cue", "cue", "line_out3")):
        studio = send_out(
            add_destination(studio, name, kind, channels=1), f"D{1 + len(studio.destinations)}", [end("U1", out)]
        )
    # In the scene the Oboe's cord takes the Voice's place.
    studio = lay_cord(add_scene(studio, "Oboe"), end("U3", "a2"), end("U3", "b1"))
    return choose_scene(studio, SceneId(""))


def cable(studio: Studio, plugged: PortEnd) -> CableId:
    (found,) = studio.plugged(plugged)
    return found.id


class EachKind(unittest.TestCase):
    def setUp(self) -> None:
        self.studio = house()
        self.plan = Survey(self.studio)

    def look(self, *faults: Fault, scene: str = "") -> Outcome:
        view = View(scene=SceneId(scene), faults=faults)
        there = outcome(Survey(self.studio, self.plan, view), self.plan)
        self.assertEqual(outcome(Survey(self.studio, view=view), self.plan), there, faults)
        return there

    def arrive(self, seen: Outcome, **numbers: int | None) -> None:
        """Of all lines, those named arrive at these numbers, all others where they were planned."""
        self.assertEqual(dict(seen.arrives), {_LINES[k]: n for k, n in {**_ALL, **numbers}.items()})

    def test_as_planned(self) -> None:
        seen = self.look()
        self.arrive(seen)
        self.assertEqual(dict(seen.recorded), {line: (line,) for line in _LINES.values()})
        self.assertEqual({u: seen.locked[u] for u in (U1, U2)}, {U1: "locked", U2: "leads"})
        self.assertEqual((dict(seen.heard), dict(seen.back)), ({"D1": (1,), "D2": (3,)}, {4: 7}))

    def test_what_no_longer_passes(self) -> None:
        fiddle, fibre = cable(self.studio, end("U1", "mic1")), cable(self.studio, end("U1", "optical_in"))
        tower = cable(self.studio, end("U4", "line_in"))
        seen = self.look(DeadCable(fiddle))
        self.arrive(seen, F=None)
        self.assertEqual(seen.recorded[_LINES["F"]], ())
        self.arrive(self.look(DeadLane(fiddle, 1)), F=None)
        self.arrive(self.look(DeadContact(end("U1", "mic1"))), F=None)
        self.arrive(self.look(DeadContact(end("U3", "b1"))), W=None)
        seen = self.look(DeadCable(fibre))
        self.arrive(seen, V=None)
        self.assertEqual((seen.locked[U1], seen.locked[U2]), ("silent", "leads"))
        # A dead socket takes the clock with it, a muted one and a dead lane do not.
        for fault, state in (
            (DeadPort(end("U1", "optical_in")), "silent"),
            (DeadPort(end("U2", "optical_out")), "silent"),
            (Muted(end("U2", "optical_out")), "locked"),
            (DeadContact(end("U1", "optical_in"), 1), "locked"),
        ):
            seen = self.look(fault)
            self.arrive(seen, V=None)
            self.assertEqual(seen.locked[U1], state, fault)
        # The Viola is the first of eight on the fibre.
        self.arrive(self.look(DeadContact(end("U1", "optical_in"), 2)))
        for fault in (DeadCable(tower), Muted(end("U4", "line_in")), DeadPort(end("U1", "line_out1"))):
            self.assertEqual(self.look(fault).heard["D1"], (None,), fault)
        self.assertEqual(dict(self.look(UnitOff(U5)).back), {})
        seen = self.look(UnitOff(U2))
        self.arrive(seen, V=None)
        self.assertEqual(seen.locked[U1], "silent")
        self.assertNotIn(U2, seen.locked)

    def test_what_is_plugged_elsewhere(self) -> None:
        fiddle, left = cable(self.studio, end("U1", "mic1")), cable(self.studio, end("U1", "mic5"))
        ends = {
            key: self.studio.cables[key].plugs.index(end("U1", port))
            for key, port in ((fiddle, "mic1"), (left, "mic5"))
        }
        seen = self.look(PlugsExchanged((fiddle, ends[fiddle]), (left, ends[left])))
        self.arrive(seen, F=5, L=1)
        self.assertEqual((seen.recorded[_LINES["F"]], seen.recorded[_LINES["L"]]), ((_LINES["L"],), (_LINES["F"],)))
        seen = self.look(OneSocketOff(fiddle, ends[fiddle], end("U1", "mic2")))
        self.arrive(seen, F=2)
        self.assertEqual(seen.recorded[_LINES["F"]], ())

    def test_normals_and_cords(self) -> None:
        scene = SceneId("K1")
        # A half normal holds while a plug is in its upper front: the Oboe is on both inputs, the Voice on none.
        seen = self.look(scene=scene)
        self.arrive(seen, W=None)
        self.assertEqual((seen.recorded[_LINES["W"]], seen.recorded[_LINES["O"]]), ((_LINES["O"],), (_LINES["O"],)))
        self.arrive(self.look(DeadCord(CordId("W1")), scene=scene))
        self.arrive(self.look(NormalOpen(U3, "a1", "b1")), W=None)
        seen = self.look(NormalStuck(U3, "a1", "b1"), scene=scene)
        self.arrive(seen)
        self.assertEqual(set(seen.recorded[_LINES["W"]]), {_LINES["W"], _LINES["O"]})
        # With nothing plugged a normal that cannot be broken is like any other.
        self.arrive(self.look(NormalStuck(U3, "a1", "b1")))

    def test_an_output_that_is_off_is_silent_and_a_gain_is_noted(self) -> None:
        off = set_output(self.studio, U1, "line_out4", "off")
        self.assertEqual((dict(outcome(Survey(off)).back), outcome(Survey(off)).heard["D1"]), ({}, (1,)))
        off = set_output(off, U1, "line_out1", "off")
        self.assertEqual(outcome(Survey(off, self.plan)).heard["D1"], (None,))
        (found,) = findings(off, "output_off")
        self.assertIn("Main is silent: ", found.message)
        self.assertEqual(findings(found.fixes[0].does.apply(off), "output_off"), [])
        fixed = set_output(off, U1, "line_out1", "fixed")
        self.assertEqual(outcome(Survey(fixed)).heard["D1"], (1,))
        for wrong in (("line_out1", "loud"), ("mic1", "off"), ("optical_out", "off")):
            with self.assertRaises(BadValue):
                set_output(off, U1, *wrong)
        one = set_gain(self.studio, U1, "mic1", 30.0)
        two = set_gain(copy_session(one, "Other"), U1, "mic1", 42.5)
        self.assertEqual(
            (two.settings_of(U1).gains, choose_session(two, "N1").settings_of(U1).gains),
            ({"mic1": 42.5}, {"mic1": 30.0}),
        )
        (move,) = [m for m in changeover(two, "N1", "N2").moves if m.step.kind == "switch"]
        self.assertEqual((move.action.split("set ")[1][:11], move.start, move.end), ("the gain of", "30 dB", "42.5 dB"))
        self.assertEqual(set_gain(one, U1, "mic1", None).settings_of(U1).gains, {})
        for port, gain in (("mic1", 91.0), ("line_out1", 0.0), ("mic1", float("nan"))):
            with self.assertRaises(BadValue):
                set_gain(one, U1, port, gain)

    def test_a_track_records_what_arrives_at_the_number_picked_for_it(self) -> None:
        # Nine was guessed where fifteen is true.
        guessed = set_track(self.studio, SourceId("S2"), picked=(9,), armed=True)
        self.assertEqual(outcome(Survey(guessed)).recorded[_LINES["V"]], ())
        (found,) = findings(guessed, "number_picked_otherwise")
        self.assertIn("Viola arrives at driver input 15, and the software records 9.", found.message)
        mended = found.fixes[0].does.apply(guessed)
        self.assertEqual((mended.current.tracks[0].picked, findings(mended, "number_picked_otherwise")), ((15,), []))
        swapped = set_track(self.studio, SourceId("S5"), picked=(6, 5))
        (found,) = findings(swapped, "number_picked_otherwise")
        self.assertIn("Piano arrives at driver inputs 5 and 6, and the software records 6 and 5.", found.message)
        self.assertEqual(found.why, "Left and right are exchanged.")
        # In a scene it may be otherwise; another session has its own.
        mixing = set_track(choose_scene(mended, SceneId("K1")), SourceId("S2"), in_scene=True, picked=())
        self.assertEqual(mixing.scenes["K1"].tracks[0].armed, True)
        self.assertEqual(wiring(mixing).picked, {})
        self.assertEqual(wiring(mixing, View(scene=SceneId(""))).picked, {("S2", 1): 15})
        other = set_track(copy_session(mended, "Other"), SourceId("S2"), picked=(1,))
        self.assertEqual(wiring(other, View(session=self.studio.session)).picked, {("S2", 1): 15})
        self.assertEqual(remove_source(other, SourceId("S2")).current.tracks, ())
        self.assertEqual(set_track(mended, SourceId("S2"), picked=(), armed=False), self.studio)
        for wrong in ({"picked": (1, 2)}, {"picked": (0,)}, {"insert": "D2"}, {"colour": "red"}):
            with self.assertRaises(BadValue):
                set_track(self.studio, SourceId("S2"), **wrong)

    def test_what_is_noted_of_a_computer_and_who_is_missing(self) -> None:
        (host,) = self.studio.hosts
        noted = set_times(set_times(self.studio, host, 48_000, buffer=128, reported_out=80), host, 96_000, safety_in=24)
        self.assertEqual(time_rows(Survey(noted))[0]["buffer_samples"], 128)
        self.assertEqual(time_rows(Survey(noted, view=View(rate_hz=96_000)))[0]["safety_in_samples"], 24)
        self.assertEqual(
            set_times(set_times(noted, host, 48_000, buffer=None, reported_out=None), host, 96_000, safety_in=None),
            self.studio,
        )
        for wrong in ({"buffer": -1}, {"buffers": 1}, {"buffer": 10**7}):
            with self.assertRaises(BadValue):
                set_times(noted, host, 48_000, **wrong)
        # The expander is missing: its line does not arrive, and the interface waits for its clock.
        gone = set_missing(copy_session(self.studio, "Other"), U2, True)
        seen = outcome(Survey(gone, self.plan), self.plan)
        self.arrive(seen, V=None)
        self.assertEqual((seen.locked[U1], seen.locked.get(U2)), ("silent", None))
        (found,) = findings(gone, "unit_missing")
        self.assertIn("and 2 cables to it hang loose", found.message)
        self.assertEqual(outcome(Survey(choose_session(gone, "N1"))), outcome(self.plan))
        placed = allocate(Survey(gone)).placements
        self.assertEqual({p.unit for one in placed for p in one.points}, {U1})
        # The interface is: nothing has a number.
        self.arrive(outcome(Survey(set_missing(self.studio, U1, True))), **dict.fromkeys(_LINES))
        self.assertEqual(remove_unit(gone, U2).sessions["N2"].missing, ())

    def test_what_stands_wrongly(self) -> None:
        seen = self.look(WrongSwitch(Switch(U1, "mode", "optical", "spdif-optical")))
        self.assertIsNone(seen.arrives[_LINES["V"]])
        self.assertEqual(self.look(WrongSwitch(Switch(U1, "clock", "", "internal"))).locked[U1], "leads")
        bank = self.studio.profile_of(U1).banks[0].key
        on = View(faults=(WrongSwitch(Switch(U1, "phantom", bank, "on")),))
        self.assertEqual((self.plan.phantom_on[U1], Survey(self.studio, view=on).phantom_on[U1]), ((), (bank,)))
        seen = self.look(WrongNumber(SourceId("S1"), 1, 15))
        self.arrive(seen)
        self.assertEqual(seen.recorded[_LINES["F"]], (_LINES["V"],))
        seen = self.look(DriverMissing(U1))
        self.arrive(seen, **dict.fromkeys(_LINES))
        self.assertEqual((dict(seen.heard), dict(seen.back)), ({"D1": (None,), "D2": (None,)}, {}))

    def test_several_faults_follow_one_another_and_nothing_is_kept_of_them(self) -> None:
        fiddle = cable(self.studio, end("U1", "mic1"))
        at = self.studio.cables[fiddle].plugs.index(end("U1", "mic1"))
        moved = OneSocketOff(fiddle, at, end("U1", "mic2"))
        self.arrive(self.look(moved, DeadContact(end("U1", "mic2"))), F=None)
        self.arrive(self.look(moved, OneSocketOff(fiddle, at, end("U1", "mic8"))), F=8)
        again = Survey(self.studio, Survey(self.studio, self.plan, View(faults=(moved,))))
        self.assertEqual((again.signal_paths, wiring(self.studio)), (self.plan.signal_paths, self.plan.wiring))
        self.assertEqual(wiring(self.studio, View(faults=(moved,)))._replace(in_use=self.plan.in_use), self.plan.wiring)
        for wrong in (
            DeadCable(CableId("C99")),
            DeadLane(fiddle, 2),
            DeadPort(end("U1", "x")),
            NormalOpen(U3, "a1", "b2"),
            DriverMissing(U2),
            UnitOff(UnitId("U9")),
            DeadCord(CordId("W1")),
        ):
            with self.assertRaises(UnknownObject, msg=wrong):
                self.look(wrong)


class Anywhere(unittest.TestCase):
    def test_a_fault_after_the_plan_is_as_one_made_anew_and_an_edit_after_it_as_well(self) -> None:
        changed, studios = 0, [skerry(finished=True), copy_session(house(), "Second"), *map(random_studio, range(6))]
        for seed, studio in enumerate(studios):
            dice, plan = random.Random(seed), Survey(studio)
            if not plan.in_use:
                continue
            was = outcome(plan)
            last = plan
            for _ in range(25):
                fault = any_fault(plan, dice)
                view = View(faults=(fault,))
                last = Survey(studio, dice.choice((plan, last)), view)
                seen = outcome(last, plan)
                self.assertEqual(seen, outcome(Survey(studio, view=view), plan), fault)
                anew = Survey(studio, view=view)
                self.assertEqual(
                    (last.wiring, last.nets, last.paths_onward), (anew.wiring, anew.nets, anew.paths_onward), fault
                )
                changed += seen != was
            back = Survey(studio, last)
            self.assertEqual([back.named(f) for f in FIELDS], [plan.named(f) for f in FIELDS])
            self.assertEqual(
                (outcome(back), back.signal_paths, back.output_paths), (was, plan.signal_paths, plan.output_paths)
            )
            try:
                after = random_edit(studio, dice)[1](studio)
            except Exception:  # noqa: BLE001 - a refused edit is none
                continue
            self.assertEqual(Survey(after, last).signal_paths, Survey(after).signal_paths)
        self.assertGreater(changed, 30)


if __name__ == "__main__":
    unittest.main()
