"""Edits: each broken rule raises its own sentence; nothing is changed in place; ids are never used twice."""

import random
import unittest

from ennead.edits.as_built import tick_cable, untick_cable
from ennead.edits.cables import connect, disconnect, misfit, set_length
from ennead.edits.change import Change, change, step
from ennead.edits.computer import join_computer
from ennead.edits.house import (
    add_unit,
    clear_fault,
    mark_fault,
    remove_unit,
    rename_unit,
)
from ennead.edits.names import clean_name
from ennead.edits.session import add_source, change_source, move_source, remove_source, set_rate
from ennead.edits.settings import set_clock_source, set_driver_map, set_mode, set_phantom
from ennead.files.interchange import to_json
from ennead.files.profiles import shelf_profile
from ennead.files.references import check_references
from ennead.reports.cable_schedule import cable_rows
from ennead.studio.errors import EnneadError, NoSuchPort, SocketsDoNotFit, SocketTaken, UnknownObject
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import SourceEnd
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, plug, random_edit, random_studio, rig


class Refusals(unittest.TestCase):
    def assert_refused(self, kind, words, edit, *args, **kwargs):
        with self.assertRaises(kind) as caught:
            edit(*args, **kwargs)
        self.assertIn(words, str(caught.exception))

    def test_sockets(self):
        studio = rig(
            INTERFACE,
            EXPANDER,
            "active loudspeaker",
            "word-clock generator, six outputs",
            "eight-preamp interface, two optical pairs",
        )
        for start, into, words in (
            (end("U2", "optical_out"), end("U1", "optical_out"), "is an output too"),
            (end("U1", "optical_in"), end("U2", "optical_in"), "is an input"),
            (end("U2", "optical_out"), end("U1", "spdif_in"), "share no format"),
            (end("U1", "optical_out"), end("U5", "spdif_in"), "share no format"),
            (end("U1", "line_out1"), end("U2", "optical_in"), "do not join"),
            (end("U4", "word_out1"), end("U1", "spdif_in"), "share no format"),
        ):
            with self.subTest(words=words, into=into):
                self.assert_refused(SocketsDoNotFit, words, connect, studio, start, into)
        fitted = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        self.assert_refused(
            SocketTaken, "already holds cable C1", connect, fitted, end("U1", "optical_out"), end("U1", "optical_in")
        )
        self.assert_refused(
            SocketTaken, "already holds cable C1", connect, fitted, end("U2", "optical_out"), end("U5", "optical_a_in")
        )
        self.assert_refused(NoSuchPort, "has no port called", connect, studio, end("U2", "nowhere"), end("U1", "mic1"))
        self.assert_refused(UnknownObject, "no unit U9", connect, studio, end("U9", "x"), end("U1", "mic1"))
        media = misfit(studio.port(end("U1", "spdif_out")), studio.port(end("U1", "optical_in")))
        self.assertIn("share no format", media)

    def test_an_analogue_output_may_feed_several_but_an_input_takes_one(self):
        studio = connect(rig(INTERFACE, EXPANDER), end("U1", "line_out1"), end("U2", "mic1"))
        studio = connect(studio, end("U1", "line_out1"), end("U2", "mic2"))
        self.assertEqual(len(studio.cables), 2)

    def test_values(self):
        studio = plug(one_fibre(), "Fiddle", "U1", "mic1")
        for edit, args, words in (
            (set_rate, (47_999,), "cannot be a sample rate"),
            (set_mode, ("U1", "optical", "aes"), "It offers: ADAT, S/PDIF"),
            (set_mode, ("U2", "optical", "adat"), "cannot be a mode"),
            (set_clock_source, ("U1", "word"), "It offers: Internal, Optical, S/PDIF"),
            (set_driver_map, ("U2", "standard"), "It offers: none"),
            (set_phantom, ("U1", "c", True), "phantom bank"),
            (join_computer, ("U1",), "twice"),
            (join_computer, ("U2",), "no driver map"),
            (set_length, ("C1", 0.0), "Give metres"),
            (set_length, ("C1", float("nan")), "Give metres"),
            (rename_unit, ("U1", " \n\t "), "at least one letter"),
            (rename_unit, ("U1", "x" * 501), "500 characters"),
            (clear_fault, (end("U1", "mic1"),), "mic1"),
            (disconnect, ("C7",), "no cable C7"),
            (untick_cable, ("C1",), "no ticked cable C1"),
            (move_source, ("S9", 0), "no source in this session S9"),
        ):
            with self.subTest(edit=edit.__name__, args=args):
                self.assert_refused(EnneadError, words, edit, studio, *args)
        with self.assertRaisesRegex(EnneadError, "kind of a source"):
            change_source(studio, "S1", kind="kazoo")
        self.assert_refused(EnneadError, "1 or 2", add_source, studio, "Octet", channels=8)
        self.assert_refused(EnneadError, "a fact of a source", change_source, studio, "S1", colour="red")

    def test_names_keep_every_script_and_lose_only_what_breaks_a_line(self):
        self.assertEqual(clean_name("  <b>Ж\u202e字\nالعود\t1\x00 "), "<b>Ж\u202e字 العود 1")


class Consequences(unittest.TestCase):
    def test_removing_a_unit_takes_its_cables_and_numbers_and_leaves_what_stood(self):
        studio = tick_cable(plug(one_fibre(), "Fiddle", "U1", "mic1"), "C1")
        after = remove_unit(studio, "U1")
        self.assertEqual((dict(after.cables), after.hosts["H1"].interfaces), ({}, ()))
        self.assertEqual([w.split(" · ")[1] for w in after.as_built.cables["C1"].words], ["Optical out", "Optical in"])
        check_references(after)

    def test_ids_are_never_used_twice(self):
        studio = disconnect(one_fibre(), "C1")
        self.assertEqual(list(connect(studio, end("U2", "optical_out"), end("U1", "optical_in")).cables), ["C2"])
        again = add_unit(remove_unit(studio, "U2"), shelf_profile(EXPANDER))
        self.assertEqual((list(again.units), len(again.profiles)), (["U1", "U3"], 2))

    def test_a_source_made_mono_loses_its_second_cable(self):
        studio = change_source(plug(rig(INTERFACE), "Choir", "U1", "mic1", "mic2"), "S1", channels=1)
        self.assertEqual(list(studio.cables), ["C1"])
        gone = remove_source(studio, "S1")
        self.assertEqual((dict(gone.cables), gone.current.sources), ({}, ()))

    def test_a_guess_ends_when_somebody_says_so(self):
        studio = add_source(rig(INTERFACE), "OH", kind="condenser", phantom="needed", guessed=("kind", "phantom"))
        self.assertEqual(change_source(studio, "S1", kind="ribbon").sources["S1"].guessed, ("phantom",))

    def test_as_built_stays_when_the_plan_changes(self):
        studio = tick_cable(one_fibre(), "C1")
        self.assertEqual(cable_rows(Survey(studio))[0]["state"], "as built")
        elsewhere = connect(disconnect(studio, "C1"), end("U2", "optical_out"), end("U1", "optical_in"))
        self.assertEqual(cable_rows(Survey(elsewhere))[0]["state"], "planned")
        self.assertIn("C1", elsewhere.as_built.cables)

    def test_a_change_that_fails_half_way_changes_nothing(self):
        studio = one_fibre()
        both = Change("Two", (step(set_rate, 96_000), step(set_rate, 1)))
        self.assertRaises(EnneadError, both.apply, studio)
        self.assertEqual(studio.rate_hz, 48_000)
        self.assertEqual(change("One", set_rate, 96_000).apply(studio).rate_hz, 96_000)

    def test_half_a_metre_is_a_length_and_twenty_kilometres_the_longest(self):
        for length in (0.5, 1.0, 20_000.0, None):
            self.assertEqual(set_length(one_fibre(), "C1", length).cables["C1"].length_m, length)
        self.assertRaises(EnneadError, set_length, one_fibre(), "C1", 20_000.1)

    def test_fault_is_kept_with_its_note(self):
        studio = mark_fault(rig(INTERFACE), end("U1", "mic1"), " crackles\n")
        self.assertEqual(studio.units["U1"].faults["mic1"], "crackles")
        self.assertEqual(clear_fault(studio, end("U1", "mic1")).units["U1"].faults, {})


class Frozen(unittest.TestCase):
    def test_a_map_cannot_be_changed_in_place(self):
        held = FrozenMap({1: 2})
        for call in (
            lambda: held.__setitem__(1, 3),
            lambda: held.pop(1),
            held.clear,
            lambda: held.update({2: 3}),
            lambda: held.setdefault(2, 1),
            lambda: held.__ior__({2: 3}),
            held.popitem,
            lambda: held.__delitem__(1),
        ):
            self.assertRaises(TypeError, call)
        self.assertEqual((held, held.put(3, 4), held.without(1)), ({1: 2}, {1: 2, 3: 4}, {}))

    def test_unticking_one_cable_leaves_the_others_ticked(self):
        studio = plug(plug(rig(INTERFACE), "Fiddle", "U1", "mic1"), "Whistle", "U1", "mic2")
        studio = tick_cable(tick_cable(studio, "C1"), "C2")
        self.assertEqual(list(untick_cable(studio, "C1").as_built.cables), ["C2"])

    def test_random_edits_touch_nothing_they_do_not_replace_and_keep_the_document_whole(self):
        for seed in range(15):
            dice, studio = random.Random(seed), random_studio(seed, 20)
            for _ in range(25):
                before = to_json(studio)
                try:
                    after = random_edit(studio, dice)[1](studio)
                except EnneadError as error:
                    self.assertTrue(str(error).endswith("."), str(error))
                else:
                    check_references(after)
                    same = sum(after.units.get(u) is studio.units[u] for u in studio.units)
                    self.assertGreaterEqual(same, len(studio.units) - 1)
                    self.assertEqual(to_json(studio), before)
                    studio = after

    def test_source_ends_name_their_side(self):
        studio = plug(rig(INTERFACE), "Choir", "U1", "mic1", "mic2")
        self.assertEqual(studio.end_text(SourceEnd("S1", 2)), "Choir R")
