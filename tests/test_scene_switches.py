"""Switches of scenes, looms and their drawer, kept revisions: against what choosing a scene really does, and through files."""

import random
import unittest
from collections.abc import Mapping
from itertools import product

from ennead.demo.skerry import skerry
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect, make_up
from ennead.edits.house import add_unit, remove_unit
from ennead.edits.looms import add_spare, is_loom, lines_of, put_away, set_loom, take_spare
from ennead.edits.profiles import change_profile
from ennead.edits.revisions import MOST_REVISIONS, free_name, keep_revision, remove_revision
from ennead.edits.scene_switches import set_apart, settings_in, stand_switch
from ennead.edits.scenes import add_scene, choose_scene, lay_cord, remove_scene, scene_named
from ennead.edits.sessions import add_session, choose_session, copy_session
from ennead.edits.settings import (
    set_gain,
    set_mode,
    set_output,
    set_own_rate,
    set_pad,
    set_phantom,
    set_switch,
    settle,
    switch_off,
)
from ennead.files.interchange import from_json, to_json
from ennead.files.profiles import shelf_profile
from ennead.planning.moves.scene_moves import scene_moves
from ennead.reports.move_rows import move_rows, sum_text
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import BadValue, UnknownObject
from ennead.studio.house import Settings, Wire
from ennead.studio.ids import CableId, ProfileId, RevisionId, SceneId, UnitId
from ennead.studio.looms import Loom, SpareLoom
from ennead.studio.profile import Choice, InnerPath, Mode, Port, Profile
from ennead.studio.record import replace
from ennead.studio.switches import Switch, stated_of, switched, switches
from ennead.survey.survey import wiring
from ennead.survey.view import View
from tests.builders import EXPANDER, INTERFACE, end, plug, rig

U1 = UnitId("U1")

SELECTOR = Profile(
    ProfileId(""),
    "selector",
    "panel",
    "A passive switch.",
    (Port("in", "In", "in", "trs", ("line",)), Port("out", "Out", "out", "trs", ("line",))),
    (Mode("to", "To", (Choice("off", "off"), Choice("on", "on"))),),
    inner_paths=(InnerPath(("in",), ("out",), when={"to": "on"}),),
    supply="none",
)


def turned(studio: Studio, dice: random.Random) -> Studio:
    """Return the studio with one switch of some box set at random."""
    unit = dice.choice(list(studio.units))
    profile = studio.profile_of(unit)
    padded = [p.key for p in profile.ports if p.pad_db is not None]
    kind = dice.choice(("mode", "phantom", "pad", "rate", "off", "gain", "output"))
    ins, outs = ([p.key for p in profile.ports if p.direction == way and not p.is_digital] for way in ("in", "out"))
    if kind == "gain" and ins:
        return set_gain(studio, unit, dice.choice(ins), dice.choice((None, -6.0, 32.5, 60.0)))
    if kind == "output" and outs and profile.driver_maps:
        return set_output(studio, unit, dice.choice(outs), dice.choice(("on", "off", "fixed")))
    if kind == "mode" and profile.modes:
        mode = dice.choice(profile.modes)
        return set_mode(studio, unit, mode.key, dice.choice(mode.choices).key)
    if kind == "phantom" and profile.banks:
        return set_phantom(studio, unit, dice.choice(profile.banks).key, dice.random() < 0.5)
    if kind == "pad" and padded:
        return set_pad(studio, unit, dice.choice(padded), on=dice.random() < 0.5)
    if kind == "rate" and profile.is_digital:
        return set_own_rate(studio, unit, dice.choice((None, 48_000)))
    return switch_off(studio, unit, off=dice.random() < 0.3)


def _stated(studio: Studio, settings: Mapping[UnitId, Settings]) -> dict[tuple[str, str, str], str]:
    return {(u, s.what, s.key): s.value for u in settings for s in stated_of(studio.profile_of(u), settings[u])}


def _all(studio: Studio) -> dict[tuple[str, str, str], str]:
    return _stated(studio, studio.in_force)


def _another(studio: Studio, key: tuple[str, str, str], dice: random.Random) -> str:
    """Return a position at random of a switch: box, kind, and which of its kind."""
    profile = studio.profile_of(UnitId(key[0]))
    if key[1] == "mode":
        return dice.choice([c.key for mode in profile.modes if mode.key == key[2] for c in mode.choices])
    if key[1] == "clock":
        return dice.choice(profile.clock_sources).key
    return dice.choice({"rate": ("", "48000", "96000"), "gain": ("", "20", "-3.5")}.get(key[1], ("on", "off")))


class Scenes(unittest.TestCase):
    def test_a_box_set_apart_stands_as_each_scene_has_it_and_as_before_without_any(self) -> None:
        """Against a plain model: one map of settings a scene, one for all the rest."""
        moved = 0
        for seed in range(40):
            dice = random.Random(seed)
            studio = rig(INTERFACE, EXPANDER, INTERFACE)
            studio = add_scene(add_scene(studio, "One"), "Two")
            rest = {u: studio.settings_of(u) for u in studio.units}
            own: dict[str, dict[str, object]] = {s: {} for s in studio.scenes}
            for _ in range(40):
                deed = dice.random()
                unit = dice.choice(list(studio.units))
                if deed < 0.2:
                    studio = choose_scene(studio, dice.choice([SceneId(""), *studio.scenes]))
                elif deed < 0.4 and studio.scene:
                    apart = dice.random() < 0.7
                    studio = set_apart(studio, unit, apart)
                    if apart:
                        own[studio.scene].setdefault(unit, studio.settings_of(unit))
                    else:
                        own[studio.scene].pop(unit, None)
                elif deed < 0.45:
                    before = studio
                    studio = choose_session(copy_session(studio, f"Evening {_}"), studio.session)
                    self.assertEqual(studio.units, before.units)
                else:
                    studio = turned(studio, dice)
                    for key in studio.units:
                        there = own.get(studio.scene, {})
                        if key in there:
                            there[key] = studio.settings_of(key)
                        else:
                            rest[key] = studio.settings_of(key)
                now = {u: own.get(studio.scene, {}).get(u, rest[u]) for u in studio.units}
                self.assertEqual({u: studio.settings_of(u) for u in studio.units}, now, seed)
                for scene in ("", *studio.scenes):
                    said = settings_in(studio, SceneId(scene))
                    self.assertEqual(said, {u: own.get(scene, {}).get(u, rest[u]) for u in said})
                    self.assertEqual(set(said), {u for s in own.values() for u in s})
            self.assertEqual(from_json(to_json(studio).encode()), studio)
            # All switches of the moves, set one by one, lead from one scene to the other.
            start, goal = (dice.choice([SceneId(""), *studio.scenes]) for _ in range(2))
            standing, wanted = settings_in(studio, start), settings_in(studio, goal)
            for step in scene_moves(studio, start, goal).steps:
                if step.turn is not None:
                    profile, unit = studio.profile_of(step.turn[0].unit), step.turn[0].unit
                    self.assertEqual(
                        switched(switched(standing[unit], profile, step.turn[0]), profile, step.turn[1]), standing[unit]
                    )
                    standing[unit] = switched(standing[unit], profile, step.turn[0])
                    moved += 1
            self.assertEqual(
                [switches(u, studio.profile_of(u), standing[u], wanted[u]) for u in wanted], [[]] * len(wanted)
            )
            gone = remove_unit(remove_scene(studio, SceneId("K1")), U1)
            self.assertEqual(from_json(to_json(gone).encode()), gone)
            self.assertNotIn(U1, settings_in(gone, SceneId("")))
        self.assertGreater(moved, 60)
        # A box described anew while a scene is not current stands there as choosing the scene would have it.
        studio = set_apart(add_scene(rig(INTERFACE), "One"), U1, True)
        bank = studio.profile_of(U1).banks[0].key
        studio = choose_scene(set_phantom(studio, U1, bank, True), SceneId(""))
        studio = change_profile(studio, U1, replace(studio.profile_of(U1), banks=()))
        self.assertEqual(settings_in(studio, SceneId("K1"))[U1], choose_scene(studio, SceneId("K1")).settings_of(U1))
        with self.assertRaisesRegex(BadValue, "Choose a scene first"):
            set_apart(rig(INTERFACE), U1, True)

    def test_a_switch_is_set_where_it_is_stated_and_reaches_no_other_session(self) -> None:
        """Against a model of plain maps: what the boxes say, what each session says above them, and each scene above that."""
        masked = 0
        for seed in range(20):
            dice = random.Random(seed)
            studio = add_scene(add_scene(rig(INTERFACE, EXPANDER), "One"), "Two")
            units = list(studio.units)
            levels: dict[str, dict[tuple[str, str, str], str]] = {"box": _all(studio)}
            scene_of: dict[str, str] = {studio.session: studio.scene}
            for n in range(50):
                before, deed = studio, dice.random()
                if deed < 0.08 and len(studio.sessions) < 4:
                    studio = (copy_session if (copied := dice.random() < 0.7) else add_session)(studio, f"Evening {n}")
                    levels[studio.session] = dict(levels.get(before.session, {})) if copied else {}
                    scene_of[studio.session] = before.scene
                elif deed < 0.2:
                    studio = choose_session(studio, dice.choice(list(studio.sessions)))
                elif deed < 0.32:
                    studio = choose_scene(studio, dice.choice([SceneId(""), *studio.scenes]))
                    scene_of[studio.session] = studio.scene
                elif deed < 0.4 and studio.scene:
                    unit, apart = dice.choice(units), dice.random() < 0.7
                    own, now = levels.setdefault(studio.scene, {}), _all(studio)
                    if apart != any(key[0] == unit for key in own):
                        levels[studio.scene] = {k: v for k, v in own.items() if k[0] != unit}
                        levels[studio.scene] |= {k: v for k, v in now.items() if k[0] == unit} if apart else {}
                    studio = set_apart(studio, unit, apart)
                elif deed < 0.45:
                    unit = dice.choice(units)
                    said = {k for s in studio.sessions for k in levels.get(s, {}) if k[0] == unit}
                    levels["box"] |= {k: levels.get(studio.session, {}).get(k, levels["box"][k]) for k in said}
                    for session in studio.sessions:
                        levels[session] = {k: v for k, v in levels.get(session, {}).items() if k not in said}
                    studio = settle(studio, unit)
                else:
                    key = dice.choice([*levels["box"]])
                    switch = Switch(UnitId(key[0]), key[1], key[2], _another(studio, key, dice))  # type: ignore[arg-type]
                    mine = (studio.scene, studio.session)
                    level = next((at for at in mine if at and key in levels.get(at, {})), "")
                    level = level or (studio.session if len(studio.sessions) > 1 else "box")
                    levels.setdefault(level, {})[key] = switch.value
                    studio = set_switch(studio, switch)
                self.assertEqual({s.id: s.scene for s in studio.sessions.values()}, scene_of)
                for session, scene in product(studio.sessions, ("", *studio.scenes)):
                    wanted = {**levels["box"], **levels.get(session, {}), **levels.get(scene, {})}
                    view = View(session=session, scene=SceneId(scene))
                    self.assertEqual(_stated(studio, wiring(studio, view).settings), wanted, (seed, n, session, scene))
                    masked += levels.get(session, {}).keys() & levels.get(scene, {}).keys() != set()
            self.assertEqual(from_json(to_json(studio).encode()), studio)
        self.assertGreater(masked, 100)

    def test_switches_come_in_a_safe_order_and_are_ticked(self) -> None:
        studio = add_unit(add_bay(rig(INTERFACE), "A", 8), shelf_profile("active loudspeaker"), "Tower")
        for n in (1, 2, 3):
            studio = connect(studio, end("U2", f"b{n}"), end("U1", f"mic{n}"))
        studio = plug(studio, "Voice", "U2", "a1", kind="condenser")
        bank = studio.profile_of(U1).bank_of_port["mic1"].key
        studio = add_scene(set_phantom(studio, U1, bank, True), "Dry")
        studio = lay_cord(studio, end("U2", "a2"), end("U2", "b3"))
        studio = set_phantom(switch_off(set_apart(studio, U1, True), U1, off=True), U1, bank, False)
        there = scene_moves(studio, SceneId(""), SceneId("K1"))
        words = [(r["action"], r["to"]) for r in move_rows(studio, there)]
        self.assertEqual([w for w, _ in words], ["mute", "phantom-off", "wait", "plug", "plug", "switch", "unmute"])
        self.assertEqual(words[5][1], f"{studio.units[U1].name}: off")
        back = scene_moves(studio, SceneId("K1"), SceneId(""))
        self.assertEqual([s.action for s in back.steps], ["mute", "pull", "pull", "switch", "phantom-on", "unmute"])
        # As ticked they stand, and there is nothing more to set.
        for step in there.steps:
            studio = stand_switch(studio, step.turn[0]) if step.turn else studio
        self.assertEqual(studio.as_built.settings[U1], studio.settings_of(U1))
        self.assertEqual([s.action for s in scene_moves(studio, None, SceneId("K1")).steps], ["plug", "plug"])

    def test_48_v_that_a_source_forbids_stays_off_and_that_is_said(self) -> None:
        demo, mended = skerry(), skerry(finished=True)
        for studio, scene, on, said in (
            (demo, "Quartet in the hall", 0, ("48 V of Winch stays off: it would reach Fiddle, which forbids it.",)),
            (demo, "Drama in the booth", 1, ()),
            (mended, "Quartet in the hall", 0, ()),
            (mended, "Drama in the booth", 1, ()),
        ):
            plan = scene_moves(studio, None, scene_named(studio, scene))
            self.assertEqual((sum(s.action == "phantom-on" for s in plan.steps), plan.stays_off), (on, said), scene)
            self.assertEqual("stays off" in sum_text(plan), bool(said))

    def test_a_switch_by_which_outputs_would_meet_is_set_where_they_do_not(self) -> None:
        """Two selectors of copper, each joined to a point on which a cord lays another source: in every order the contacts are flooded."""
        studio = empty_studio("Test")
        for _ in range(2):
            studio = add_unit(studio, SELECTOR)
        studio = add_bay(studio, "A", 4, mode="")
        for n, unit in enumerate(("U1", "U2"), start=1):
            studio = plug(connect(studio, end(unit, "out"), end("U3", f"b{n}")), f"Line {n}", unit, "in")
            studio = plug(studio, f"Voice {n}", "U3", f"a{n}")
        kinds: set[tuple[str, ...]] = set()
        for states in product((0, 1), repeat=8):
            (one, two), there = (states[:4], states[4:]), studio
            for name, state in (("One", one), ("Two", two)):
                there = add_scene(choose_scene(there, SceneId("")), name)
                for n, unit in enumerate((U1, UnitId("U2"))):
                    there = set_apart(there, unit, True)
                    there = set_mode(there, unit, "to", "on" if state[n] else "off")
                    there = lay_cord(there, end("U3", f"a{n + 1}"), end("U3", f"b{n + 1}")) if state[2 + n] else there
            allowed = [state[n] and state[2 + n] for n in range(2) for state in (one, two)]
            plan = scene_moves(there, SceneId("K1"), SceneId("K2"))
            on, cords = [bool(s) for s in one[:2]], {f"{n + 1}" for n in range(2) if one[2 + n]}
            half: dict[str, int] = dict.fromkeys(cords, 2)
            for step in plan.steps:
                if step.turn is not None:
                    on[int(step.turn[0].unit[1:]) - 1] = step.turn[0].value == "on"
                elif step.point is not None:
                    key = step.point.port[1:]
                    half[key] = half.get(key, 0) + (1 if step.action == "plug" else -1)
                for n in range(2):
                    met = on[n] and half.get(f"{n + 1}", 0) == 2
                    self.assertLessEqual(met, any(allowed[2 * n : 2 * n + 2]), (states, plan.steps))
            self.assertEqual(
                (on, [half.get("1", 0) // 2, half.get("2", 0) // 2]), ([bool(s) for s in two[:2]], list(two[2:]))
            )
            self.assertEqual((plan.proven, plan.movements), (True, plan.bound), states)
            kinds.add(tuple("switch" if s.turn else "plug" for s in plan.steps if s.turn or s.point))
        self.assertIn(("switch", "plug", "plug"), kinds)
        self.assertIn(("plug", "plug", "switch"), kinds)
        self.assertIn(("plug", "plug", "switch", "switch", "plug", "plug"), kinds)


class Looms(unittest.TestCase):
    def studio(self) -> Studio:
        studio = add_bay(rig("stage box, eight ways to a multipin"), "A", 8)
        plugs = (end("U1", "multipin"), *[end("U2", f"a{n}") for n in range(1, 7)])
        return make_up(studio, plugs, [Wire(0, n, n, 1) for n in range(1, 7)], 12.0)

    def test_a_loom_goes_to_the_drawer_with_what_is_known_of_it_and_comes_out_again(self) -> None:
        studio, made = self.studio(), Loom(" Stage  loom ", "aes59", "inch", ("brown", "red", ""))
        cable = CableId("C1")
        self.assertEqual((lines_of(studio, studio.cables[cable]), is_loom(studio, studio.cables[cable])), (6, True))
        studio = set_loom(studio, cable, made)
        self.assertEqual(studio.cables[cable].loom, Loom("Stage loom", "aes59", "inch", ("brown", "red")))
        away = put_away(studio, cable)
        self.assertEqual(away.spares, (SpareLoom(6, ("multipin", "6 × TRS jack"), studio.cables[cable].loom, 12.0),))
        self.assertNotIn(cable, away.cables)
        self.assertEqual(from_json(to_json(away).encode()), away)
        plugs = (end("U1", "multipin"), end("U2", "a1"))
        again = take_spare(make_up(away, plugs, [Wire(0, 1, 1, 1)]), 0, CableId("C2"))
        self.assertEqual(
            (again.spares, again.cables["C2"].loom, again.cables["C2"].length_m), ((), studio.cables[cable].loom, 12.0)
        )
        narrow = add_spare(studio, SpareLoom(5, ("db25", "plugs")))
        with self.assertRaisesRegex(BadValue, "C1 needs 6"):
            take_spare(narrow, 0, cable)
        for wrong in (SpareLoom(0, ()), SpareLoom(8, (), length_m=-1.0), SpareLoom(8, (), Loom(marks=("x",) * 70))):
            with self.assertRaises(BadValue):
                add_spare(studio, wrong)
        with self.assertRaises(BadValue):
            take_spare(studio, 0, cable)


class Revisions(unittest.TestCase):
    def test_what_is_kept_is_read_again_and_outlives_what_comes_after(self) -> None:
        studio = rig(INTERFACE)
        kept = keep_revision(studio, free_name(studio, "Layout"), "2026-11-27 05:12", to_json(studio))
        later = add_bay(kept, "A", 24)
        self.assertEqual(from_json(later.revisions[RevisionId("R1")].body.encode()), studio)
        self.assertEqual(from_json(to_json(later).encode()), later)
        self.assertEqual(free_name(later, "Layout"), "Layout 2")
        full = later
        for n in range(MOST_REVISIONS - 1):
            full = keep_revision(full, f"More {n}", "", "")
        self.assertEqual(len(full.revisions), MOST_REVISIONS)
        with self.assertRaisesRegex(BadValue, "Keep them to 200"):
            keep_revision(full, "One more", "", "")
        with self.assertRaisesRegex(BadValue, "Another revision has it"):
            keep_revision(later, "LAYOUT 1", "", "")
        self.assertEqual(remove_revision(later, RevisionId("R1")).revisions, {})
        with self.assertRaises(UnknownObject):
            remove_revision(studio, RevisionId("R1"))


if __name__ == "__main__":
    unittest.main()
