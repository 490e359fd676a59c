"""Sessions off their rate, boxes beside a computer's interfaces, chains, ends of word-clock lines: through the verbs where they say it."""

from dataclasses import replace

from ennead.edits.cables import connect
from ennead.edits.computer import attach, chain, correct_drift, count_sockets, leave_computer, use_beside
from ennead.edits.session import set_pull, set_rate
from ennead.edits.settings import set_clock_source, set_mode, set_own_rate, set_termination
from ennead.planning.clock.clock_plan import clock_change, plan_clock
from ennead.standards.clock import PULL_DOWN_PPM, PULL_UP_PPM
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, one_fibre, plug, rig
from tests.verb_case import VerbCase

MADI, BRIDGE = "MADI interface, one optical and one coaxial pair", "MADI bridge, eight optical pairs"
MADI_IN = "madi_a_in"
BOTH, OLD = "eight-preamp interface or expander, by mode", "eight-preamp expander, 44.1 and 48 kHz only"


class Case(VerbCase):
    def speaks(self, rule, studio, *words):
        (found,) = findings(studio, rule)
        text = " ".join((found.message, found.why, *found.working))
        for wanted in words:
            self.assertIn(wanted, text)
        return found


class OffTheRate(Case):
    def madi(self):
        studio = connect(rig(MADI, BRIDGE), end("U2", "madi_out"), end("U1", MADI_IN))
        return set_clock_source(studio, "U1", MADI_IN[:-3])

    def links(self, pull, rate=48_000):
        return [
            row["channels_capacity"] for row in self.json("links", set_rate(set_pull(self.madi(), pull), rate))["links"]
        ]

    def test_sixty_four_channels_fit_as_long_as_the_line_carries_them(self):
        # 100 Mbit/s / (64 × 32 bit) = 48 828.125 Hz, that is 17 252.6 ppm above 48 kHz.
        self.assertEqual(
            [self.links(p) for p in (PULL_DOWN_PPM, 0, PULL_UP_PPM, 17_252.0, 17_253.0)], [[64], [64], [64], [64], [0]]
        )
        self.assertEqual([self.links(17_253.0, r) for r in (44_100, 96_000)], [[64], [0]])
        broken = set_pull(self.madi(), 20_000.0)
        found = self.speaks("madi_has_no_room", broken, "100.3 Mbit/s", "48 960 samples/s")
        self.assertEqual(findings(found.fixes[-1].does.apply(broken), "madi_has_no_room"), [])
        self.assertEqual(findings(set_pull(self.madi(), -20_000.0), "madi_has_no_room"), [])

    def test_a_receiver_made_for_less_does_not_lock(self):
        down = set_pull(set_clock_source(one_fibre(), "U1", "optical"), PULL_DOWN_PPM)
        self.assertTrue(self.json("clock", down)["locked"])
        tight = replace(down, profiles=down.profiles.put("F1", replace(down.profiles["F1"], lock_ppm=50.0)))
        self.assertFalse(self.json("clock", tight)["locked"])
        found = self.speaks("clock_off_its_range", tight, "47 952.048 samples/s", "±50 ppm", "IEC 60958 level II")
        self.assertEqual(findings(tight, "clock_does_not_arrive"), [])
        self.assertEqual(findings(found.fixes[0].does.apply(tight), "clock_off_its_range"), [])
        edge = replace(down, profiles=down.profiles.put("F1", replace(down.profiles["F1"], lock_ppm=-PULL_DOWN_PPM)))
        self.assertEqual([findings(s, "clock_off_its_range") for s in (down, edge)], [[], []])
        # No stated range reaches so far, but 56-channel MADI is made for it.
        self.assertTrue(findings(set_pull(down, 1_001.0), "clock_off_its_range"))
        fewer = set_mode(set_mode(set_pull(self.madi(), 120_000.0), "U1", "madi", "madi-56"), "U2", "madi", "madi-56")
        self.assertEqual([f.rule for f in findings(fewer) if f.severity == "trouble"], [])

    def test_the_leader_is_set_and_the_pull_has_bounds(self):
        down = set_pull(set_clock_source(one_fibre(), "U1", "optical"), PULL_DOWN_PPM)
        self.assertEqual(
            self.speaks("rate_pulled", down, "47 952.048 samples/s (48 kHz − 0.1 %)", "1 units follow").subject.key,
            "U2",
        )
        self.assertEqual(findings(set_pull(down, 0.0), "rate_pulled"), [])
        for wrong in (125_000.1, float("nan"), "x", True):
            self.assertRaises(BadValue, set_pull, down, wrong)


class RateNotOffered(Case):
    def test_nothing_sounds_at_a_rate_a_box_does_not_run_at_and_the_clock_still_arrives(self):
        studio = connect(rig(INTERFACE, OLD), end("U2", "optical_out"), end("U1", "optical_in"))
        studio = set_clock_source(plug(plug(studio, "Far", "U2", "mic1"), "Near", "U1", "mic1"), "U1", "optical")
        fast = set_rate(studio, 96_000)
        self.assertEqual([r["channels_capacity"] for r in self.json("links", fast)["links"]], [0])
        far, near = self.json("lines", fast)["runs"][:2]
        self.assertEqual((far["complete"], near["driver_number"]), (False, 1))
        self.assertIn("does not run at 96 kHz", far["problem"])
        self.assertTrue(self.json("clock", fast)["locked"])
        moved = self.json("allocate", fast)
        self.assertEqual(
            [r["port"].rsplit(" · ", 1)[0] for r in moved["placed"]], ["Eight-preamp interface, one optical pair"] * 2
        )
        self.assertEqual([f.rule for f in findings(fast) if f.rule == "run_ends_early"], [])
        slow = rig(INTERFACE)
        slow = replace(slow, profiles=slow.profiles.put("F1", replace(slow.profiles["F1"], rates_hz=(44_100, 48_000))))
        self.assertEqual([len(self.json("driver-map", set_rate(slow, r))["inputs"]) for r in (48_000, 96_000)], [22, 0])


class Beside(Case):
    def test_an_expander_off_the_computer_is_right_so_and_may_be_there_to_be_set_up(self):
        alone = set_mode(leave_computer(rig(INTERFACE, BOTH), "U2"), "U2", "role", "expander")
        self.assertEqual([f.rule for f in findings(alone) if "computer" in f.rule], [])
        on_it = set_mode(rig(INTERFACE, BOTH), "U2", "role", "expander")
        (found,) = findings(on_it, "expander_on_computer")
        for fix in found.fixes:
            after = fix.does.apply(on_it)
            self.assertEqual([f.rule for f in findings(after) if "computer" in f.rule], [], fix.text)
        self.assertEqual(dict(after.hosts["H1"].beside), {"U2": "setup"})
        self.assertEqual(len(findings(leave_computer(rig(INTERFACE, BOTH), "U2"), "interface_not_on_computer")), 1)

    def test_a_second_device_for_the_system_s_sound_is_no_trouble_and_has_no_numbers(self):
        two = rig(INTERFACE, "two-preamp interface, optical in only")
        self.assertEqual(len(findings(two, "two_leaders")), 1)
        sound = use_beside(two, "U2", "sound")
        self.assertEqual([f.rule for f in findings(sound) if f.severity != "note"], [])
        self.assertEqual(
            len(self.json("driver-map", sound)["inputs"]), len(self.json("driver-map", rig(INTERFACE))["inputs"])
        )
        counted = count_sockets(sound, "H1", "usb-a", 1)
        self.assertTrue(findings(attach(attach(counted, "U1", "usb-a"), "U2", "usb-a"), "interface_does_not_plug_in"))
        turns = attach(attach(use_beside(counted, "U2", "setup"), "U1", "usb-a"), "U2", "usb-a")
        self.assertEqual(findings(turns, "interface_does_not_plug_in"), [])

    def test_boxes_chain_on_one_socket(self):
        studio = count_sockets(rig(MADI, MADI, MADI), "H1", "thunderbolt-c", 1)
        for unit in ("U1", "U2", "U3"):
            studio = attach(studio, unit, "thunderbolt-c")
        (found,) = findings(studio, "interface_does_not_plug_in")
        self.assertTrue(any(f.text.startswith("Chain ") for f in found.fixes))
        chained = chain(chain(studio, "U2", "U1"), "U3", "U2")
        self.assertEqual(findings(chained, "interface_does_not_plug_in"), [])
        self.assertRaises(BadValue, chain, chained, "U1", "U3")
        moved = attach(count_sockets(chained, "H1", "thunderbolt-dp", 1), "U1", "thunderbolt-dp")
        self.assertEqual({a.socket for a in moved.hosts["H1"].attachments.values()}, {"thunderbolt-dp"})
        self.assertEqual(list(leave_computer(chained, "U1").hosts["H1"].attachments), [])
        usb = count_sockets(rig(INTERFACE, INTERFACE), "H1", "usb-a", 2)
        self.assertRaises(BadValue, chain, attach(usb, "U1", "usb-a"), "U2", "U1")

    def test_who_keeps_the_time_when_the_reference_leaves(self):
        three = rig(INTERFACE, INTERFACE, INTERFACE)
        studio = leave_computer(correct_drift(correct_drift(three, "U2", on=True), "U3", on=True), "U1")
        self.assertEqual(studio.hosts["H1"].corrected, ("U3",))
        self.assertTrue(findings(studio, "computer_resamples"))
        self.assertRaises(BadValue, set_termination, studio, "U1", "optical_in", on=True)
        self.assertRaises(BadValue, set_own_rate, studio, "U2", 1)


class OneFibre(Case):
    def test_both_on_their_own_crystal_is_trouble_with_one_fibre_as_with_two(self):
        found = self.json("check", one_fibre(), status=1)["findings"]
        said = next(f for f in found if f["rule"] == "one_fibre_expander_leads")
        self.assertEqual(said["severity"], "trouble")
        self.assertIn("do not appear at all, or stay silent", said["why"])


class DigitalSource(Case):
    def test_an_input_that_a_digital_source_holds_is_not_free_for_a_clock(self):
        studio = plug(one_fibre(), "Tape", "U1", "spdif_in", kind="digital")
        for policy in ("fewest", "computer", "star"):
            for row in self.json("clock", studio, "--policy", policy)["alternatives"]:
                self.assertNotIn(
                    "→ Eight-preamp interface, one optical pair · S/PDIF in", " ".join(row["cables_to_add"])
                )
        survey = Survey(studio)
        for domain in survey.clocks.domains:
            alternatives = plan_clock(survey, domain).alternatives
            self.assertTrue(alternatives)
            for alternative in alternatives:
                clock_change(survey, alternative).apply(studio)
