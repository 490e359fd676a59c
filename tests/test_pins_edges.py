"""Bounds, ends and small choices that planted faults once got past, each met at its edge."""

import unittest
from dataclasses import replace
from itertools import pairwise

from ennead.checks.leading import slip_working
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect, set_length
from ennead.edits.computer import add_computer, attach, count_sockets, join_computer, leave_computer, number_at
from ennead.edits.destinations import add_destination, change_destination, move_destination, send_out
from ennead.edits.house import add_place, add_unit, mark_fault
from ennead.edits.profiles import change_profile
from ennead.edits.scenes import add_scene, choose_scene, keep_for, lay_cord
from ennead.edits.session import add_source, add_sources, change_source, set_rate, set_spare
from ennead.edits.sessions import add_session
from ennead.edits.settings import set_clock_source, set_driver_map, set_pad
from ennead.files.profiles import shelf_profile
from ennead.planning.boxes.describing import Answers, describe_box
from ennead.planning.boxes.guessing import guess_destination
from ennead.planning.boxes.matching import match_blocks
from ennead.planning.boxes.software_list import MOST_CHANNELS, read_software_list
from ennead.planning.clock.clock_ways import clock_ways
from ennead.planning.growing.remedies import find_remedies
from ennead.planning.growing.unit_loss import lose_each
from ennead.planning.routing.partners import partners
from ennead.planning.seating.allocation import allocate
from ennead.studio.errors import BadValue
from ennead.studio.ids import SceneId
from ennead.survey.rehearsal import rehearse
from ennead.survey.skew import skew_of, skew_text
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, findings, plug, rig


class Lists(unittest.TestCase):
    def test_no_list_is_longer_than_any_driver_s(self):
        self.assertEqual(MOST_CHANNELS, 1_024)
        for many in (1_023, 1_024, 1_025):
            self.assertEqual(sum(b.channels for b in read_software_list("Mic\n" * many).blocks), min(many, 1_024))

    def test_an_entry_spans_up_to_128_channels(self):
        for last, channels in ((1, 1), (2, 2), (128, 128), (129, 1)):
            self.assertEqual([b.channels for b in read_software_list(f"MADI 1-{last}").blocks], [channels])
            self.assertEqual([b.channels for b in read_software_list(f"1-{last} MADI").blocks], [channels])

    def test_as_many_sockets_as_the_entry_has_channels_for(self):
        ports = describe_box(Answers("b", mics=0, lines=0, line_outs=0, phones=0, optical="two")).profile.ports
        for entry, sockets in (("ADAT 1-8", 1), ("ADAT 1-9", 2), ("ADAT 1-16", 2), ("ADAT 1", 1)):
            blocks, _ = match_blocks(read_software_list(entry).blocks, ports, "in")
            self.assertEqual([len(b.ports) for b in blocks if b.ports], [sockets], entry)


class Edits(unittest.TestCase):
    def test_a_place_is_taken_given_back_and_kept(self):
        studio = add_destination(add_source(add_place(rig(INTERFACE), "Hall"), "Fiddle"), "Click", "cue")
        for put, of in (
            (lambda s, p: change_source(s, "S1", place=p), lambda s: s.sources["S1"].place),
            (lambda s, p: change_destination(s, "D1", place=p), lambda s: s.destinations["D1"].place),
        ):
            there = put(studio, "P1")
            self.assertEqual(
                (of(there), of(put(there, "")), of(put(there, None)), of(put(there, "Attic"))), ("P1", None, None, "P2")
            )

    def test_a_destination_moves_to_both_ends(self):
        studio = rig(INTERFACE)
        for name in "ABC":
            studio = add_destination(studio, name, "cue")
        orders = [
            "".join(studio.destinations[d].name for d in move_destination(studio, "D3", to).current.destinations)
            for to in (-5, 0, 1, 2, 9)
        ]
        self.assertEqual(orders, ["CAB", "CAB", "ACB", "ABC", "ABC"])

    def test_a_changed_profile_keeps_the_map_it_still_has(self):
        studio = rig("eight-preamp interface, two optical pairs")
        profile = studio.profile_of("U1")
        for key, kept in (("class", "class"), ("standard", "standard")):
            chosen = set_driver_map(studio, "U1", key)
            after = change_profile(chosen, "U1", profile)
            self.assertEqual(after.settings_of("U1").driver_map, kept)

    def test_words_may_be_taken_back_but_a_name_may_not(self):
        studio = plug(rig(INTERFACE), "Fiddle", "U1", "mic3", group="Kit", track="Fid", note="loud")
        bare = change_source(studio, "S1", group="", track="", note="").source("S1")
        self.assertEqual((bare.group, bare.track, bare.note), ("", "", ""))
        self.assertRaises(BadValue, change_source, studio, "S1", name=" ")

    def test_a_profile_changes_under_the_cables_of_others(self):
        studio = connect(
            rig(INTERFACE, "eight-preamp optical expander"), end("U2", "optical_out"), end("U1", "optical_in")
        )
        profile = studio.profile_of("U2")
        less = replace(profile, ports=tuple(p for p in profile.ports if p.key != "mic8"))
        self.assertNotIn("mic8", change_profile(studio, "U2", less).profile_of("U2").port_by_key)
        gone = replace(profile, ports=tuple(p for p in profile.ports if p.key != "optical_out"))
        self.assertRaises(BadValue, change_profile, studio, "U2", gone)
        self.assertRaises(BadValue, change_profile, plug(studio, "Mic", "U2", "mic8"), "U2", less)

    def test_an_odd_fact_is_refused(self):
        self.assertRaises(BadValue, change_source, add_source(rig(INTERFACE), "x"), "S1", colour="red")


class Said(unittest.TestCase):
    def test_a_destination_s_kind_and_width_are_guessed(self):
        for name, kind, channels in (
            ("Mains", "mains", 2),
            ("Click", "click", 1),
            ("Singer", "cue", 2),
            ("Cue mono", "cue", 1),
            ("Nothing said", "cue", 2),
        ):
            guess = guess_destination(name)
            self.assertEqual((guess["kind"], guess["channels"]), (kind, channels), name)

    def test_notches_below_and_from_a_kilohertz(self):
        for samples, words in ((24.0, "1.0 kHz"), (24.1, "996 Hz"), (0.1, "240.0 kHz")):
            self.assertTrue(skew_text(skew_of(samples, 48_000)).endswith(f"first notch at {words}"), samples)

    def test_three_names_a_side_are_enough(self):
        studio = rig("split console, sixteen channels with direct outs", INTERFACE)
        for n in range(8):
            wish = {"kind": "condenser", "phantom": "needed"} if n % 2 else {"kind": "ribbon", "phantom": "forbidden"}
            studio = plug(studio, f"Mic {n}", "U1", f"mic{n + 1}", **wish)
        told = [f.message for f in findings(studio, "bank_wanted_both_ways")]
        self.assertTrue(
            any("on for Mic 1, Mic 3, Mic 5 and stay off for Mic 0, Mic 2, Mic 4." in m for m in told), told
        )

    def test_what_never_came_back_is_not_rehearsed_and_mono_has_no_side(self):
        studio = send_out(
            add_destination(rig(INTERFACE, "eight-channel preamp, line outputs"), "Squash", "loop", channels=1),
            "D1",
            (end("U1", "line_out3"),),
            (end("U2", "mic1"),),
        )
        told = rehearse(Survey(studio), Survey(set_rate(studio, 96_000)))
        self.assertEqual([h.name for h in told.heard], ["Squash"])

    def test_a_described_interface_adds_twenty_samples_and_a_preamp_none(self):
        late = [
            {p.latency_samples for p in describe_box(a).profile.ports if p.key == "mic1"}
            for a in (Answers("a", mics=2), Answers("b", mics=2, line_outs=2, phones=0, on_computer=False))
        ]
        self.assertEqual(late[0], {20.0})
        self.assertNotEqual(late[1], {20.0})


class Chosen(unittest.TestCase):
    def test_a_box_joins_the_computer_it_is_given(self):
        studio = leave_computer(add_unit(add_computer(rig(INTERFACE), "Second"), shelf_profile(INTERFACE)), "U2")
        self.assertEqual(join_computer(studio, "U2", "H2").hosts["H2"].interfaces, ("U2",))
        self.assertEqual(join_computer(studio, "U2").hosts["H1"].interfaces, ("U1", "U2"))

    def test_every_place_in_the_numbering_can_be_had(self):
        studio = rig(INTERFACE, INTERFACE, INTERFACE)
        for place in (1, 2, 3):
            self.assertEqual(number_at(studio, "U1", place).hosts["H1"].interfaces.index("U1"), place - 1)

    def test_a_new_description_keeps_the_pads_it_has(self):
        studio = rig(INTERFACE)
        padded = next(p.key for p in studio.profile_of("U1").ports if p.pad_db is not None)
        studio = set_pad(studio, "U1", padded, on=True)
        same = replace(studio.profile_of("U1"), summary="Another word.")
        self.assertEqual(change_profile(studio, "U1", same).settings_of("U1").pads, (padded,))
        bare = replace(same, ports=tuple(replace(p, pad_db=None) for p in same.ports))
        self.assertEqual(change_profile(studio, "U1", bare).settings_of("U1").pads, ())

    def test_wishes_for_spare_inputs_stand_beside_each_other(self):
        studio = set_spare(set_spare(rig(INTERFACE), "mic", 2), "line", 1)
        self.assertEqual(dict(studio.current.spare), {"mic": 2, "line": 1})
        self.assertEqual(dict(set_spare(studio, "mic", 0).current.spare), {"line": 1})

    def test_two_optical_pairs_are_two_clocks_and_a_second_pair_for_speed_is_none(self):
        for optical, clocks in (("pair", 1), ("two", 2), ("two-fast", 1)):
            box = describe_box(Answers("b", optical=optical)).profile
            self.assertEqual(sum((c.port or "").startswith("optical") for c in box.clock_sources), clocks, optical)

    def test_a_search_over_many_tells_how_many_are_done(self):
        told = []
        lose_each(Survey(rig(INTERFACE, EXPANDER)), lambda part: told.append(part) or True)
        self.assertEqual((told[0], max(told), sorted(told)), (0.0, 0.5, told))

    def test_a_return_wants_a_line_socket_and_no_digital_one(self):
        loop = add_destination(rig(INTERFACE), "Squash", "loop", channels=1)
        ends = [e.port for e in allocate(Survey(loop)).outs[0].returns]
        self.assertTrue(all("line" in loop.port(end("U1", e)).carries for e in ends))

    def test_two_that_want_one_socket_of_the_computer_are_named(self):
        studio = count_sockets(count_sockets(rig(INTERFACE, INTERFACE, INTERFACE), "H1", "usb-c", 1), "H1", "usb-a", 1)
        for unit, socket in (("U1", "usb-c"), ("U2", "usb-c"), ("U3", "usb-a")):
            studio = attach(studio, unit, socket)
        (found,) = [f for f in findings(studio, "interface_does_not_plug_in") if "2 interfaces want it" in f.message]
        self.assertEqual(found.subject.key, "U2")

    def test_three_lines_over_a_dead_port_are_all_named(self):
        studio = rig(INTERFACE, EXPANDER)
        studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        for n, name in enumerate(("Fiddle", "Viola", "Bass"), start=1):
            studio = plug(studio, name, "U2", f"mic{n}")
        (found,) = findings(mark_fault(studio, end("U1", "optical_in"), "dull"), "faulty_port_used")
        self.assertIn("Fiddle, Viola and Bass are planned", found.why)

    def test_a_connection_is_named_from_the_output_to_the_input(self):
        studio = rig(INTERFACE, EXPANDER)
        label = next(
            p.change.label
            for p in partners(Survey(studio), end("U2", "optical_out"))
            if p.end == end("U1", "optical_in")
        )
        self.assertEqual(label, f"Connect {studio.units['U2'].name} to {studio.units['U1'].name}")

    def test_a_cable_is_late_by_more_than_a_receiver_accepts(self):
        studio = connect(rig(INTERFACE, EXPANDER), end("U2", "optical_out"), end("U1", "optical_in"))
        # A quarter of a frame less the 5 % an output may use: 20 % of 1 / 48 kHz = 4.17 µs, at 5 ns/m 833 m (AES11).
        for metres, late in ((100.0, 0), (833.0, 0), (834.0, 1)):
            self.assertEqual(len(findings(set_length(studio, "C1", metres), "clock_arrives_late")), late, metres)

    def test_no_slip_is_worked_out_of_two_clocks_that_do_not_differ(self):
        studio = rig(INTERFACE, EXPANDER)
        exact = studio
        for unit in ("U1", "U2"):
            exact = change_profile(exact, unit, replace(exact.profile_of(unit), ppm=0.0))
        self.assertEqual([len(slip_working(Survey(s), "U1", "U2")) for s in (studio, exact)], [3, 2])

    def test_ids_go_on_from_the_last_one_given_out(self):
        studio = add_sources(rig(INTERFACE), [{"name": n} for n in ("Fiddle", "Viola", "Bass")])
        self.assertEqual((list(studio.sources), studio.counters["S"]), (["S1", "S2", "S3"], 3))
        self.assertEqual(add_source(studio, "Choir").current.sources[-1], "S4")

    def test_a_proposal_knows_the_numbers_of_each(self):
        studio = add_source(add_source(rig(INTERFACE), "Fiddle"), "Viola")
        proposal = allocate(Survey(studio))
        self.assertEqual([proposal.numbers_of(s) for s in ("S1", "S2", "S9")], [(1,), (2,), ()])

    def test_a_loop_that_comes_back_within_a_sample_is_not_late(self):
        studio = send_out(
            add_destination(rig(INTERFACE), "Squash", "loop", channels=1),
            "D1",
            [end("U1", "line_out1")],
            [end("U1", "mic1")],
        )
        profile = studio.profile_of("U1")
        for samples, late in ((0.0, 0), (0.4, 0), (0.5, 1)):
            quick = replace(
                profile, ports=tuple(replace(p, latency_samples=samples, latency_at={}) for p in profile.ports)
            )
            self.assertEqual(len(findings(change_profile(studio, "U1", quick), "loop_comes_back_late")), late, samples)

    def test_a_loop_comes_back_by_a_line_input_or_not_at_all(self):
        studio = add_destination(rig(INTERFACE), "Squash", "loop", channels=1)
        profile = studio.profile_of("U1")
        for carries, placed in ((("mic", "line"), True), (("mic",), False)):
            ports = tuple(
                replace(p, carries=carries) if p.direction == "in" and "mic" in p.carries else p for p in profile.ports
            )
            proposal = allocate(Survey(change_profile(studio, "U1", replace(profile, ports=ports))))
            self.assertEqual(bool(proposal.outs), placed, carries)

    def test_a_pinned_pair_of_which_one_side_is_plugged_keeps_its_socket(self):
        studio = change_source(plug(rig(INTERFACE), "Pair", "U1", "mic1"), "S1", channels=2, pinned=True)
        for n in range(8):
            studio = add_source(studio, f"Mic {n}")
        taken = {point.port.key for placement in allocate(Survey(studio)).placements for point in placement.points}
        self.assertEqual(taken, {f"mic{n}" for n in range(2, 9)})

    def test_what_helps_with_inputs_is_no_second_interface(self):
        crowd = rig(INTERFACE)
        for n in range(12):
            crowd = add_source(crowd, f"Mic {n}")
        for name, helps in ((EXPANDER, True), (INTERFACE, False)):
            found = find_remedies(Survey(crowd), [shelf_profile(name)])
            self.assertEqual(any(r.label.startswith("Add ") for r in found), helps, name)

    def test_a_t_line_has_room_for_what_its_output_still_drives(self):
        studio = rig("word-clock generator, six outputs", *["eight-preamp interface, two optical pairs"] * 3)
        word = next(p.key for p in studio.profile_of("U2").ports if p.direction == "in" and p.carries[0] == "word")
        outs = [p.key for p in studio.profile_of("U1").ports if p.direction == "out"]
        rooms = []
        for unit in ("U2", "U3", "U4"):
            studio = connect(studio, end("U1", outs[0]), end(unit, word))
            room = clock_ways(Survey(studio), ["U1"]).room
            rooms.append(next(n for group, n in room.items() if group[0] == "U1" and group[1].endswith("+")))
        # Five outputs are bare: each could drive a line of that many but its first. The sixth has one less with every input on it.
        self.assertEqual([a - b for a, b in pairwise(rooms)], [1, 1])

    def test_what_is_sent_out_is_proposed_with_its_numbers(self):
        (cue,) = allocate(Survey(add_destination(rig(INTERFACE), "Cue", "cue"))).outs
        self.assertEqual((cue.numbers, cue.return_numbers), ((9, 10), ()))
        (loop,) = allocate(Survey(add_destination(rig(INTERFACE), "Squash", "loop", channels=1))).outs
        self.assertEqual(loop.numbers, loop.return_numbers)


class Planted(unittest.TestCase):
    """Faults that were planted in the core and that nothing saw."""

    def test_what_passes_a_closed_insert_jack_is_as_late_as_both_its_sides(self):
        late = []
        for here, there in ((0.0, 0.0), (5.0, 3.0)):
            studio = rig(INTERFACE, "two-channel preamp with insert jacks")
            studio = plug(connect(studio, end("U2", "line_out1"), end("U1", "mic1")), "Voice", "U2", "mic1")
            for unit, port, samples in (("U2", "mic1", here), ("U1", "mic1", there)):
                profile = studio.profile_of(unit)
                ports = tuple(replace(p, latency_samples=samples) if p.key == port else p for p in profile.ports)
                studio = replace(studio, profiles=studio.profiles.put(profile.id, replace(profile, ports=ports)))
            (run,) = Survey(studio).signal_paths
            late.append(run.way.delay)
        self.assertEqual(late[1] - late[0], 8.0)

    def test_a_sender_without_a_clock_is_not_said_to_be_set_otherwise(self):
        studio = rig(INTERFACE, EXPANDER)
        studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        studio = set_clock_source(studio, "U1", "optical")
        profile = studio.profile_of("U2")
        unit = studio.units["U2"]
        studio = replace(
            studio,
            profiles=studio.profiles.put(profile.id, replace(profile, clock_sources=())),
            units=studio.units.put("U2", replace(unit, settings=replace(unit.settings, clock_source=""))),
        )
        (found,) = findings(studio, "clock_does_not_arrive")
        self.assertIn("ADAT arrives there which brings no clock", found.message)

    def test_a_cord_that_was_laid_for_another_evening_is_seen_at_its_first_point(self):
        studio = rig(INTERFACE)
        studio = lay_cord(
            add_scene(add_bay(studio, "A", 4), "Tonight"), end("U2", "a1"), end("U2", "b2"), unbalanced=True
        )
        kept = add_session(keep_for(studio, studio.scene, studio.session), "Tomorrow")
        self.assertEqual((kept.scene, add_session(studio, "Tomorrow").scene), ("", "K1"))
        studio = choose_scene(kept, SceneId("K1"))
        (found,) = findings(studio, "scene_of_another_evening")
        self.assertEqual((found.subject.key, found.concerns), ("W1", ("U2",)))
