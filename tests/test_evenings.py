"""Evenings: lists, cables and switches of their own over one house, and what has to be done between two of them."""

import json
import random
import tempfile
import unittest
from collections import Counter
from dataclasses import replace
from pathlib import Path

from bench.changeovers import faults_of, pair
from bench.verbs import run
from ennead.checks.all_checks import find_all
from ennead.edits.as_built import tick_cable
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect, disconnect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import remove_unit
from ennead.edits.profiles import change_profile
from ennead.edits.scenes import add_scene, choose_scene, lay_cord
from ennead.edits.session import add_source, remove_source, rename_session, set_rate
from ennead.edits.sessions import (
    add_session,
    choose_session,
    copy_session,
    pair_of,
    remove_session,
    session_named,
    take_in,
    take_in_outputs,
)
from ennead.edits.settings import set_clock_source, set_mode, set_phantom
from ennead.files.interchange import from_json, to_json
from ennead.files.references import check_references
from ennead.files.studio_path import write_studio
from ennead.planning.moves.step_order import ORDER
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.reports.changeover import changeover
from ennead.studio.errors import BadValue, EnneadError
from ennead.studio.house import SourceEnd
from ennead.survey.survey import Survey, survey_of
from ennead.survey.wiring import FIELDS
from tests.builders import EXPANDER, INTERFACE, end, evening_edit, plug, random_edit, random_studio, read_back, rig
from tests.trials import few


def quartet():
    studio = rename_session(
        plug(plug(rig(INTERFACE, EXPANDER), "Fiddle", "U1", "mic1"), "Viola", "U1", "mic2"), "Quartet"
    )
    studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
    return send_out(add_destination(studio, "Cue", "cue", channels=1), "D1", [end("U1", "line_out3")])


class Evenings(unittest.TestCase):
    def test_a_copy_shares_all_until_one_of_them_changes(self):
        one = quartet()
        two = copy_session(one, "Choir")
        self.assertEqual(
            (two.current.name, two.current.sources, len(two.cables)), ("Choir", one.current.sources, len(one.cables))
        )
        self.assertEqual(Survey(two).signal_paths, Survey(one).signal_paths)
        fiddle = Survey(two).leads["S1", 1].id
        moved = connect(disconnect(two, fiddle), SourceEnd("S1"), end("U1", "mic5"))
        moved = set_phantom(send_out(moved, "D1", [end("U1", "line_out4")]), "U1", "a", on=True)
        back = choose_session(moved, one.session)
        self.assertEqual([r.driver.number for r in Survey(back).signal_paths], [1, 2])
        where = [{k: c.end for k, c in Survey(s).leads.items()} for s in (back, one)]
        self.assertEqual(*where)
        self.assertEqual(
            (survey_of(back).placed("D1").outputs, back.units), (survey_of(one).placed("D1").outputs, one.units)
        )
        self.assertEqual([r.driver.number for r in Survey(choose_session(back, moved.session)).signal_paths], [5, 2])
        self.assertEqual(choose_session(back, moved.session).units, moved.units)
        for studio in (two, moved, back):
            check_references(studio)
            self.assertEqual(from_json(to_json(studio).encode()), studio)

    def test_what_is_on_another_list_stays_and_what_is_on_none_goes(self):
        studio = remove_source(copy_session(quartet(), "Choir"), "S1")
        self.assertEqual((studio.current.sources, set(studio.sources)), (("S2",), {"S1", "S2"}))
        self.assertEqual([r.signal for r in Survey(choose_session(studio, "N1")).signal_paths], ["Fiddle", "Viola"])
        taken = take_in(studio, "S1")
        self.assertEqual((taken.current.sources, Survey(taken).signal_paths[1].driver), (("S2", "S1"), None))
        self.assertRaises(BadValue, take_in, taken, "S1")
        gone = remove_session(studio, "N1")
        self.assertEqual(
            (set(gone.sources), [c.id for c in gone.cables.values()], gone.session), ({"S2"}, ["C2", "C3", "C4"], "N2")
        )
        self.assertEqual(gone.cables["C2"].sessions, ("N2",))
        self.assertRaises(BadValue, remove_session, gone, "N2")
        check_references(gone)

    def test_names_tell_evenings_apart_and_boxes_keep_what_is_theirs(self):
        studio = quartet()
        self.assertRaises(BadValue, add_session, studio, " quartet ")
        two = add_session(studio, "Choir")
        self.assertRaises(BadValue, rename_session, two, "Quartet")
        self.assertEqual(
            (session_named(two, "QUARTET"), session_named(two, "N2"), Survey(two).signal_paths), ("N1", "N2", ())
        )
        self.assertRaises(EnneadError, session_named, two, "Band")
        # Twice the same name in a file is mended in a sentence.
        form = json.loads(to_json(two))
        form["sessions"][1]["name"] = "Quartet"
        self.assertEqual(
            [s.name for s in from_json(json.dumps(form).encode()).sessions.values()], ["Quartet", "Quartet (2)"]
        )
        self.assertEqual(choose_session(choose_session(two, "N1"), "N2").units, two.units)

    def test_a_box_described_anew_meanwhile_is_set_only_as_it_can_be(self):
        studio = set_mode(
            copy_session(set_mode(quartet(), "U1", "optical", "spdif-optical"), "Choir"), "U1", "optical", "adat"
        )
        old = studio.profile_of("U1")
        plain = replace(
            old,
            modes=(),
            banks=old.banks[1:],
            ports=tuple(replace(p, format_mode=None, carries=p.carries[:1]) for p in old.ports),
            driver_maps=tuple(
                replace(
                    m,
                    inputs=tuple(replace(b, when={}) for b in m.inputs),
                    outputs=tuple(replace(b, when={}) for b in m.outputs),
                )
                for m in old.driver_maps
            ),
        )
        back = choose_session(change_profile(studio, "U1", plain), "N1")
        self.assertEqual(dict(back.settings_of("U1").modes), {})
        check_references(back)

    def test_random_edits_of_one_evening_leave_another_as_it_was(self):
        changed = 0
        for seed in range(8):
            dice, studio = random.Random(seed), random_studio(seed, 25)
            before = Survey(studio)
            other = copy_session(studio, "Other")
            for _ in range(15):
                try:
                    after = random_edit(other, dice)[1](other)
                except EnneadError:
                    continue
                # What is done to the house, or to the thing itself that is on both lists, is done to all sessions.
                shared = [
                    (
                        s.units.keys(),
                        s.profiles,
                        s.hosts,
                        {k: c for k, c in s.cables.items() if not c.sessions},
                        [s.sources[k] for k in studio.sources],
                        [s.destinations[k] for k in studio.destinations],
                    )
                    for s in (other, after)
                    if s.sources.keys() >= studio.sources.keys() and s.destinations.keys() >= studio.destinations.keys()
                ]
                if len(shared) == 2 and shared[0] == shared[1]:
                    other = after
                    changed += 1
            back = choose_session(other, studio.session)
            self.assertEqual(
                {k: c.plugs for k, c in Survey(back).wiring.in_use.items()},
                {k: c.plugs for k, c in before.wiring.in_use.items()},
                seed,
            )
            self.assertEqual(
                [(r.channel, r.driver) for r in Survey(back).signal_paths],
                [(r.channel, r.driver) for r in before.signal_paths],
                seed,
            )
        self.assertGreater(changed, 20)


class StandsWired(unittest.TestCase):
    def test_an_instrument_and_a_panel_line_are_taken_in_with_their_cables(self):
        studio = rig(INTERFACE, "stereo synthesiser", EXPANDER)
        studio = set_clock_source(connect(studio, end("U3", "optical_out"), end("U1", "optical_in")), "U1", "optical")
        outs = [p.key for p in studio.profile_of("U2").ports if p.direction == "out" and not p.is_digital]
        for n, out in enumerate(outs[:2], start=1):
            studio = connect(studio, end("U2", out), end("U3", f"mic{n + 4}"))
        taken = take_in_outputs(studio, pair_of(studio, end("U2", outs[0])))
        (source,) = taken.session_sources
        self.assertEqual(
            (source.name, source.channels, len(source.at), taken.cables), (studio.units["U2"].name, 2, 2, studio.cables)
        )
        self.assertEqual([r.driver.number for r in Survey(taken).signal_paths], [19, 20])
        self.assertRaises(BadValue, take_in_outputs, taken, source.at)
        # Allocate leaves it on its cable, and gives others other sockets.
        for n in range(4):
            taken = add_source(taken, f"Mic {n}", kind="condenser", phantom="needed")
        proposal = allocate(Survey(taken))
        self.assertNotIn(source.id, [p.source for p in proposal.placements] + list(proposal.unplaced))
        after = take(Survey(taken), proposal).apply(taken)
        self.assertEqual({k: after.cables[k] for k in studio.cables}, dict(studio.cables))
        self.assertEqual([f.message for f in find_all(Survey(after)) if f.severity == "trouble"], [])
        self.assertEqual(take(Survey(after), allocate(Survey(after))).steps, ())
        check_references(after)
        self.assertEqual(from_json(to_json(after).encode()), after)
        # A box that goes takes the wiring along; the source stays on the list.
        gone = remove_unit(after, "U2")
        self.assertEqual((gone.sources[source.id].at, Survey(gone).signal_paths[0].driver), ((), None))
        check_references(gone)
        # Removed from the list, its cable is the house's still.
        self.assertEqual(remove_source(taken, source.id).cables, studio.cables)


class Between(unittest.TestCase):
    def test_what_to_switch_pull_and_plug_in_a_safe_order(self):
        one = set_phantom(quartet(), "U1", "a", on=True)
        two = set_rate(copy_session(one, "Choir"), 96_000)
        two = set_phantom(set_phantom(two, "U1", "a", on=False), "U2", "a", on=True)
        two = connect(disconnect(two, Survey(two).leads["S1", 1].id), SourceEnd("S1"), end("U2", "mic1"))
        two = connect(add_source(two, "Choir", kind="condenser", phantom="needed"), SourceEnd("S3"), end("U2", "mic2"))
        found = changeover(two, "N1", "N2")
        self.assertEqual(
            [(m.action, m.start, m.end) for m in found.moves],
            [
                ("turn the monitors and headphones down", "", ""),
                (f"set {one.units['U1'].name}'s 48 V 1–4", "on", "off"),
                ("wait some seconds, until the 48 V has fallen", "", ""),
                ("pull C1", "Fiddle", f"{one.units['U1'].name} · Mic 1"),
                ("plug C5", "Fiddle", f"{one.units['U2'].name} · Mic 1"),
                ("plug C6", "Choir", f"{one.units['U2'].name} · Mic 2"),
                ("set the sample rate", "48 kHz", "96 kHz"),
                (f"set {one.units['U2'].name}'s 48 V 1–4", "off", "on"),
                ("turn the monitors and headphones up again", "", ""),
            ],
        )
        self.assertEqual([(r.track, r.before, r.after) for r in found.renumbered], [("Fiddle", 1, 15)])
        self.assertEqual(
            (changeover(two, "N2", "N2").moves, changeover(copy_session(one, "Same"), "N1", "N2").moves), ((), ())
        )
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "two.json"
            write_studio(path, two)
            status, out, _ = run("changeover", path, "--from", "quartet", "--to", "N2", "--json")
            said = json.loads(out)
            self.assertEqual(
                (status, said["steps"][3]),
                (0, {"n": 4, "action": "pull C1", "from": "Fiddle", "to": f"{one.units['U1'].name} · Mic 1"}),
            )
            self.assertEqual(said["renumbered"], [{"track": "Fiddle", "from": 1, "to": 15}])
            for name, numbers in (("Quartet", [1, 2]), ("Choir", [15, 2, 16])):
                status, out, _ = run("lines", path, "--session", name, "--json")
                self.assertEqual([r["driver_number"] for r in json.loads(out)["runs"]], numbers)
            status, _, err = run("lines", path, "--session", "Band")
            self.assertEqual((status, "Band" in err), (2, True))

    def test_any_two_evenings_turn_into_each_other(self):
        """Against a model that reads the interchange form alone and carries out step by step."""
        kinds = Counter()
        for seed in (*range(10), 12, 52):
            studio = pair(seed)
            one, *_, other = studio.sessions
            for start, end_ in ((one, other), (other, one)):
                self.assertEqual(list(faults_of(studio, start, end_)), [], (seed, start))
                kinds.update(m.step.kind for m in changeover(studio, start, end_).moves)
            self.assertEqual(changeover(studio, one, one).moves, ())
        self.assertEqual(set(kinds), set(ORDER))

    def test_48_v_that_stays_on_goes_off_while_a_plug_behind_it_moves_and_scenes_come_along(self):
        one = set_phantom(plug(add_bay(rig(INTERFACE), "A", 4), "Fiddle", "U1", "mic1"), "U1", "a", on=True)
        one = connect(connect(one, end("U1", "line_out3"), end("U2", "a1")), end("U2", "b2"), end("U1", "mic6"))
        two = copy_session(choose_scene(add_scene(one, "Dry"), ""), "Choir")
        two = lay_cord(choose_scene(two, "K1"), end("U2", "a1"), end("U2", "b2"))
        found = changeover(two, "N1", "N2")
        # The cord's points lead to mic 6, of the other bank, which is off: nothing is switched.
        self.assertEqual([m.step.kind for m in found.moves], ["mute", "cord", "cord", "unmute"])
        self.assertEqual([m.action for m in found.moves[1:3]], ["plug cord W1"] * 2)
        hot = connect(disconnect(two, Survey(two).leads["S1", 1].id), SourceEnd("S1"), end("U1", "mic2"))
        kinds = [m.step.kind for m in changeover(hot, "N1", "N2").moves]
        self.assertEqual(kinds, ["mute", "48 V off", "wait", "pull", "cord", "cord", "plug", "48 V on", "unmute"])
        self.assertEqual((hot.scene, choose_session(hot, "N1").scene), ("K1", ""))
        # Where it would come on again at a ribbon that forbids it, that is said.
        self.assertEqual(changeover(hot, "N1", "N2").notes, ())
        ribbon = plug(hot, "Ribbon", "U1", "mic3", kind="ribbon", phantom="forbidden")
        (note,) = changeover(ribbon, "N1", "N2").notes
        self.assertRegex(note, "^48 V of .* would reach Ribbon, which forbids it: leave it off")

    def test_after_any_edit_all_is_as_made_anew_and_read_back(self):
        done = Counter()
        for seed in range(few(8, 40)):
            self.walk(seed, 50, done)
        self.assertGreater(
            min(done[k] for k in ("choose_session", "set_gain", "set_output", "set_missing", "set_track", "settle")),
            few(0, 4),
        )

    def walk(self, seed, steps, done):
        dice, studio = random.Random(seed), random_studio(seed, 30)
        survey = Survey(studio)
        find_all(survey)
        for _ in range(steps):
            edit = evening_edit(studio, dice) if dice.random() < 0.7 else random_edit(studio, dice)[1]
            try:
                after = read_back(edit(studio))
            except EnneadError:
                continue
            done[getattr(getattr(edit, "func", edit), "__name__", "")] += 1
            survey, anew = Survey(after, survey), Survey(after)
            said = [
                [(f.rule, f.subject, f.message, f.why, f.working, [x.text for x in f.fixes]) for f in find_all(s)]
                for s in (survey, anew)
            ]
            self.assertEqual(*said, (seed, edit))
            for part in (*FIELDS, "nets", "paths_onward", "outward", "clocks"):
                self.assertEqual(survey.named(part), anew.named(part), (seed, part, edit))
            self.assertEqual(
                (survey.signal_paths, survey.output_paths, survey.destinations),
                (anew.signal_paths, anew.output_paths, anew.destinations),
            )
            missing = set(after.current.missing)
            gone = [
                p
                for r in (*survey.signal_paths, *survey.output_paths)
                for p in r.way.passes
                if r.way.lands and p in missing
            ]
            self.assertEqual(gone, [], (seed, edit))
            studio = after

    def test_a_tick_is_of_the_cable_whichever_evening_it_serves(self):
        studio = tick_cable(quartet(), "C1")
        two = copy_session(studio, "Choir")
        self.assertIn("C1", choose_session(disconnect(two, "C1"), "N1").as_built.cables)


if __name__ == "__main__":
    unittest.main()
