"""Every rule: a studio that breaks it, the same studio mended, and fixes that really mend it."""

import importlib
import pkgutil
import random
import re
import unittest
from dataclasses import replace
from pathlib import Path

import ennead.checks
from ennead.checks.all_checks import CHECKS, find_all
from ennead.checks.finding import Request
from ennead.edits.cables import connect, disconnect, set_length
from ennead.edits.computer import attach, correct_drift, count_sockets, describe_computer, leave_computer
from ennead.edits.house import add_unit, clear_fault, mark_fault
from ennead.edits.session import add_source, change_source, set_rate
from ennead.edits.settings import set_clock_source, set_mode, set_phantom
from ennead.files.profiles import shelf, shelf_profile
from ennead.planning.fixing import change_of
from ennead.planning.seating.allocation import allocate
from ennead.reports.sheet_of import sheet_of
from ennead.studio.errors import BadValue, EnneadError
from ennead.studio.house import Attachment, Cable
from ennead.survey.survey import Survey
from ennead.survey.traces import legs
from tests.builders import EXPANDER, INTERFACE, end, findings, one_fibre, plug, random_studio, rig
from tests.trials import few

NO_SMUX = "eight-preamp expander, 44.1 and 48 kHz only"
FIREWIRE = "eight-preamp interface, second optical pair above 48 kHz only"
MADI = "MADI interface, one optical and one coaxial pair"
VALVE = "two-channel valve preamp"
COND = {"kind": "condenser", "phantom": "needed"}
RIBBON = {"kind": "ribbon", "phantom": "forbidden"}


def led(studio=None):
    """Return one fibre with its clock as it must be."""
    studio = studio or one_fibre()
    return set_clock_source(studio, "U1", "optical")


def carry_out(studio, fix):
    try:
        return change_of(Survey(studio), fix, [p for p in shelf() if p.name in (EXPANDER, VALVE)]).apply(studio)
    except BadValue:
        return studio


class EachRule(unittest.TestCase):
    """`broken` studios have exactly the finding; the first fix, or `mended`, takes it away."""

    def assert_found(self, rule, broken, severity, mended=None, *, about=(), fixes=1):
        (found,) = findings(broken, rule)
        self.assertEqual(found.severity, severity)
        self.assertGreaterEqual(set(found.concerns), set(about))
        self.assertTrue(found.message.endswith(".") and found.why.endswith("."), found.message)
        self.assertEqual(len(found.fixes), fixes, [f.text for f in found.fixes])
        self.assertTrue(found.fixes and found.working, rule)
        for fix in found.fixes:
            self.assertEqual(findings(carry_out(broken, fix), rule), [], fix.text)
        if mended is not None:
            self.assertEqual(findings(mended, rule), [])
        return found

    def test_one_fibre_expander_leads(self):
        found = self.assert_found(
            "one_fibre_expander_leads", one_fibre(), "trouble", led(), about=("U1", "U2"), fixes=2
        )
        # ±25 ppm stated and ±50 ppm by default: 1 / (48 000 × 75e-6) s.
        self.assertIn("0.278 s", found.working[-1])
        self.assertTrue(found.working[-3].endswith("±50 ppm (house default, not stated)"))
        self.assertTrue(found.working[-2].endswith("±25 ppm (stated)"))
        self.assertIn("C1 carries clock", found.working[0])

    def test_two_leaders(self):
        both_ways = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        self.assert_found("two_leaders", both_ways, "trouble", led(both_ways), fixes=2)
        apart = rig(INTERFACE, "two-preamp interface, optical in only")
        found = self.assert_found("two_leaders", apart, "trouble", leave_computer(apart, "U2"), fixes=3)
        self.assertIn("no cable brings", found.message)
        self.assertEqual(Survey(carry_out(apart, found.fixes[0])).clocks.by_unit["U2"].state, "locked")
        resampled = carry_out(apart, found.fixes[1])
        self.assertEqual(findings(resampled, "two_leaders"), [])
        self.assertEqual(Survey(resampled).clocks.by_unit["U2"].state, "leads")

    def test_computer_resamples(self):
        apart = correct_drift(rig(INTERFACE, "two-preamp interface, optical in only"), "U2", on=True)
        (found,) = findings(apart, "computer_resamples")
        self.assertEqual((found.severity, found.subject.key, found.fixes), ("caution", "U2", ()))
        # ±25 ppm stated and the house's ±50 ppm: 1 / (48 000 × 75e-6) s.
        self.assertIn("1 / (48 kHz × 75 ppm) = 0.278 s", found.working[-1])
        locked = set_clock_source(connect(apart, end("U1", "optical_out"), end("U2", "optical_in")), "U2", "optical")
        found = self.assert_found("computer_resamples", locked, "caution", correct_drift(locked, "U2", on=False))
        self.assertIn("locked to", found.message)

    def test_interface_does_not_plug_in(self):
        lone = rig(INTERFACE, MADI)
        self.assertEqual(findings(lone, "interface_does_not_plug_in"), [])  # nobody has counted the sockets
        counted = count_sockets(lone, "H1", "usb-c", 1)
        kinds = {f.subject.key: f.severity for f in findings(counted, "interface_does_not_plug_in")}
        self.assertEqual(kinds, {"U1": "note", "U2": "trouble"})
        counted = count_sockets(counted, "H1", "thunderbolt-c", 1)
        crowded = attach(attach(counted, "U1", "thunderbolt-c"), "U2", "thunderbolt-c")
        found = self.assert_found("interface_does_not_plug_in", crowded, "trouble", attach(crowded, "U1", "usb-c"))
        self.assertIn("1 × Thunderbolt on USB-C, and 2 interfaces", found.message)
        old = count_sockets(rig(FIREWIRE), "H1", "thunderbolt-c", 1)
        (found,) = findings(old, "interface_does_not_plug_in")
        plugged = carry_out(old, found.fixes[0])
        self.assertEqual(plugged.hosts["H1"].attachments["U1"].adapters, ("firewire-thunderbolt", "thunderbolt-shape"))
        self.assertEqual(findings(plugged, "interface_does_not_plug_in"), [])
        with self.assertRaisesRegex(BadValue, "does not go into"):
            attach(old, "U1", "thunderbolt-c")
        # A file from elsewhere may say what no edit would.
        wrong = replace(plugged.hosts["H1"], attachments={"U1": Attachment("usb-c")}, sockets={"usb-c": 1})
        elsewhere = replace(plugged, hosts=plugged.hosts.put("H1", wrong))
        self.assertIn("cannot be plugged into", findings(elsewhere, "interface_does_not_plug_in")[0].message)

    def test_driver_out_of_support(self):
        for system, worse in (
            ("11.6", False),
            ("11.6.8", False),
            ("11.7", True),
            ("12", True),
            ("9.9", False),
            ("none", False),
        ):
            stated = describe_computer(rig(FIREWIRE), "H1", system=system)
            self.assertEqual(bool(findings(stated, "driver_out_of_support")), worse, system)
        self.assertIn(
            "11.7 is later than 11.6",
            findings(describe_computer(rig(FIREWIRE), "H1", system="11.7"), "driver_out_of_support")[0].working,
        )

    def test_power_down_first(self):
        (found,) = findings(rig(FIREWIRE), "power_down_first")
        self.assertIn("Power both ends down", found.message)
        self.assertEqual(findings(leave_computer(rig(FIREWIRE), "U1"), "power_down_first"), [])

    def test_unit_lacks_phantom(self):
        wired = connect(rig(INTERFACE, "active DI box"), end("U2", "output"), end("U1", "mic3"))
        found = self.assert_found("unit_lacks_phantom", wired, "trouble", set_phantom(wired, "U1", "a", on=True))
        self.assertEqual(found.subject.key, "U2")
        self.assertEqual(len(findings(set_phantom(wired, "U1", "b", on=True), "unit_lacks_phantom")), 1)
        passive = connect(rig(INTERFACE, "passive DI box"), end("U2", "output"), end("U1", "mic3"))
        self.assertEqual(findings(passive, "unit_lacks_phantom"), [])

    def test_clock_does_not_arrive(self):
        silent = set_clock_source(rig(INTERFACE), "U1", "optical")
        found = self.assert_found("clock_does_not_arrive", silent, "trouble", rig(INTERFACE), about=("U1",))
        self.assertEqual([f.text for f in found.fixes], ["Let Eight-preamp interface, one optical pair lead"])
        wrong = set_mode(led(), "U1", "optical", "spdif-optical")
        found = self.assert_found("clock_does_not_arrive", wrong, "trouble", led())
        self.assertIn("ADAT arrives there and the port is set to S/PDIF", found.message)

    def test_clock_runs_in_ring(self):
        both_ways = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        ring = set_clock_source(led(both_ways), "U2", "optical")
        self.assert_found("clock_runs_in_ring", ring, "trouble", led(both_ways), about=("U1", "U2"), fixes=2)

    def test_rate_not_offered(self):
        old = rig(NO_SMUX)
        self.assert_found("rate_not_offered", set_rate(old, 88_200), "trouble", set_rate(old, 44_100))
        self.assertIn("48 kHz", findings(set_rate(old, 96_000), "rate_not_offered")[0].fixes[0].text)

    def test_formats_disagree(self):
        studio = plug(led(), "Mic", "U2", "mic1")
        self.assert_found(
            "formats_disagree",
            set_mode(studio, "U1", "optical", "spdif-optical"),
            "trouble",
            studio,
            about=("U1", "U2", "C1", "S1"),
        )

    def test_lanes_lost(self):
        studio = plug(led(), "Mic", "U2", "mic5")
        self.assert_found("lanes_lost", set_rate(studio, 96_000), "trouble", studio, about=("S1",), fixes=2)
        self.assertEqual(findings(set_rate(plug(led(), "Mic", "U2", "mic4"), 96_000), "lanes_lost"), [])

    def test_cable_too_long(self):
        self.assert_found("cable_too_long", set_length(led(), "C1", 5.1), "caution", set_length(led(), "C1", 5.0))
        coax = connect(rig(INTERFACE, INTERFACE), end("U1", "spdif_out"), end("U2", "spdif_in"), 10.5)
        self.assert_found("cable_too_long", coax, "caution", set_length(coax, "C1", 10.0))

    def test_two_outputs_joined(self):
        # A cable beside them, into an input of its own, is no part of it.
        studio = plug(plug(rig(INTERFACE), "Fiddle", "U1", "mic1"), "Beside", "U1", "mic2")
        studio = add_source(studio, "Whistle")
        # No edit makes this; a file from elsewhere can.
        from dataclasses import replace

        from ennead.studio.house import SourceEnd, two_plugs

        cable = Cable("C9", **two_plugs(SourceEnd("S3"), end("U1", "mic1")))
        joined = replace(studio, cables=studio.cables.put("C9", cable), counters=studio.counters.put("C", 9))
        self.assert_found(
            "two_outputs_joined", joined, "trouble", studio, about=("U1", "C1", "C9", "S1", "S3"), fixes=2
        )

    def test_outputs_have_no_way_back(self):
        back = connect(led(), end("U1", "optical_out"), end("U2", "optical_in"))
        self.assert_found("outputs_have_no_way_back", led(), "note", back)
        self.assertEqual(findings(rig(INTERFACE, EXPANDER), "outputs_have_no_way_back"), [])

    def test_interface_not_on_computer(self):
        self.assert_found("interface_not_on_computer", leave_computer(rig(INTERFACE), "U1"), "caution", rig(INTERFACE))

    def test_run_ends_early(self):
        lost = plug(rig(INTERFACE, EXPANDER), "Mic", "U2", "mic1")
        self.assert_found("run_ends_early", lost, "trouble", plug(led(), "Mic", "U2", "mic1"), about=("S1", "U2"))

    def test_source_does_not_fit(self):
        for bad, good, facts in (
            ("mic3", "mic2", {"kind": "instrument"}),
            ("mic3", "mic3", {"kind": "instrument", "di": "passive"}),
        ):
            studio = plug(rig(INTERFACE), "Bass", "U1", good, **facts)
            self.assertEqual(findings(studio, "source_does_not_fit"), [])
            if bad != good:
                self.assert_found("source_does_not_fit", plug(rig(INTERFACE), "Bass", "U1", bad, **facts), "trouble")
        line_in = rig("eight-channel line converter, two optical pairs", INTERFACE)
        line_in = connect(line_in, end("U1", "optical_a_out"), end("U2", "optical_in"))
        self.assert_found(
            "source_does_not_fit",
            plug(line_in, "Vox", "U1", "line1"),
            "trouble",
            plug(line_in, "Keys", "U1", "line1", kind="line"),
        )
        xlr = connect(rig(VALVE, INTERFACE), end("U1", "line_out1"), end("U2", "mic1"))
        self.assert_found("source_does_not_fit", plug(xlr, "Keys", "U1", "mic1", kind="line"), "trouble")

    def test_phantom_reaches_forbidden(self):
        calm = plug(rig(INTERFACE), "Fiddle", "U1", "mic3", **RIBBON)
        live = set_phantom(calm, "U1", "a", on=True)
        self.assert_found(
            "phantom_reaches_forbidden",
            live,
            "trouble",
            set_phantom(calm, "U1", "b", on=True),
            about=("S1", "U1"),
            fixes=2,
        )
        needed = plug(live, "Narrator", "U1", "mic4", **COND)
        found = self.assert_found("phantom_reaches_forbidden", needed, "trouble")
        self.assertIn("Narrator in the same bank needs it", found.why)
        # A line source in the jack of a combo socket is safe whatever it forbids.
        jack = set_phantom(
            plug(rig(INTERFACE), "Keys", "U1", "mic3", kind="line", phantom="forbidden"), "U1", "a", on=True
        )
        self.assertEqual(findings(jack, "phantom_reaches_forbidden"), [])

    def test_phantom_missing(self):
        off = plug(rig(INTERFACE), "Narrator", "U1", "mic5", **COND)
        mended = set_phantom(off, "U1", "b", on=True)
        found = findings(off, "phantom_missing")[0]
        self.assertEqual((found.severity, len(found.fixes)), ("trouble", 2))
        self.assertEqual(findings(found.fixes[0].does.apply(off), "phantom_missing"), [])
        self.assertEqual(findings(mended, "phantom_missing"), [])
        self.assertEqual(len(findings(set_phantom(off, "U1", "a", on=True), "phantom_missing")), 1)
        none = plug(rig("eight-channel line converter, two optical pairs"), "Narrator", "U1", "line1", **COND)
        self.assertEqual(findings(none, "phantom_missing")[0].severity, "trouble")

    def test_faulty_port_used(self):
        good = plug(rig(INTERFACE), "Fiddle", "U1", "mic3")
        self.assert_found("faulty_port_used", mark_fault(good, end("U1", "mic3"), "crackles"), "trouble", good, fixes=2)
        cabled = mark_fault(led(), end("U1", "optical_in"), "loose")
        self.assert_found("faulty_port_used", cabled, "note", clear_fault(cabled, end("U1", "optical_in")))

    def test_pair_split(self):
        pair = plug(rig(INTERFACE), "Choir", "U1", "mic3", "mic4")
        self.assertEqual(findings(pair, "pair_split"), [])
        self.assert_found("pair_split", plug(rig(INTERFACE), "Choir", "U1", "mic2", "mic3"), "note")
        self.assert_found("pair_split", plug(rig(INTERFACE), "Choir", "U1", "mic4", "mic3"), "note")
        split = connect(add_source(led(), "Choir", channels=2), *_side(1, "U1", "mic7"))
        self.assert_found("pair_split", connect(split, *_side(2, "U2", "mic2")), "caution", pair)

    def test_source_not_plugged_in(self):
        one = add_source(rig(INTERFACE), "Fiddle")
        self.assert_found("source_not_plugged_in", one, "caution", plug(rig(INTERFACE), "Fiddle", "U1", "mic1"))
        self.assert_found("source_not_plugged_in", add_source(one, "Whistle"), "caution", about=("S1", "S2"))

    def test_not_enough_inputs(self):
        def kit(count):
            studio = rig("two-preamp interface, optical in only")
            for n in range(count):
                studio = add_source(studio, f"Mic {n}", **COND)
            return studio

        self.assertEqual(findings(kit(2), "not_enough_inputs"), [])
        short = findings(kit(3), "not_enough_inputs")
        self.assertEqual({f.subject.key for f in short}, {"phantom", "mic"})
        self.assertIn("needed 3 − available 2 = 1 short", short[0].working[0])
        self.assertTrue(short[0].why.startswith("1 would have nowhere to go."))
        asks = "See what binds and what helps"
        self.assertEqual([f.text for f in short[0].fixes], ["Leave out Mic 2", asks])
        self.assertEqual(findings(carry_out(kit(3), short[0].fixes[1]), "not_enough_inputs"), [])
        self.assertEqual(findings(carry_out(kit(3), short[0].fixes[0]), "not_enough_inputs"), [])
        fast = set_rate(
            plug(add_source(kit(0), "Choir", channels=2), "Tape", "U1", "optical_in", kind="digital"), 96_000
        )
        fast = add_source(fast, "Bell", **COND)
        self.assertEqual(
            [f.text for f in findings(fast, "not_enough_inputs")[0].fixes], ["Go to 48 kHz", "Leave out Bell", asks]
        )

    def test_names_alike(self):
        studio = add_source(add_source(rig(INTERFACE), "Vox"), "vox")
        self.assert_found("names_alike", studio, "note", change_source(studio, "S2", track="Vox 2"), about=("S1", "S2"))


def one_fibre_with_panel():
    return add_unit(one_fibre(), shelf_profile("microphone panel, twelve ways"))


def seat_of(survey, unit, port):
    return survey.numbering.input_at(survey.way(unit, port).lands).number


def _side(channel, unit, port):
    from ennead.studio.house import SourceEnd

    return SourceEnd("S1", channel), end(unit, port)


class AllRules(unittest.TestCase):
    def test_48_v_passes_a_panel(self):
        panel = connect(rig(INTERFACE, "microphone panel, twelve ways"), end("U2", "tail2"), end("U1", "mic5"))
        needy = plug(panel, "Choir", "U2", "wall2", **COND)
        (found,) = findings(needy, "phantom_missing")
        self.assertIn("48 V 5–8 of", found.message)
        self.assertEqual(findings(carry_out(needy, found.fixes[0]), "phantom_missing"), [])
        wary = set_phantom(plug(panel, "Ribbon", "U2", "wall2", **RIBBON), "U1", "b", on=True)
        self.assertEqual(len(findings(wary, "phantom_reaches_forbidden")), 1)
        # Behind an expander it is the expander's, not that of the interface the fibre runs to.
        far = connect(one_fibre_with_panel(), end("U3", "tail1"), end("U2", "mic5"))
        (found,) = findings(plug(far, "Choir", "U3", "wall1", **COND), "phantom_missing")
        self.assertEqual(found.concerns[1], "U2")
        # The allocation knows whose 48 V it is, too.
        proposal = allocate(Survey(add_source(panel, "Choir", kind="condenser", phantom="needed")))
        self.assertEqual(proposal.unplaced, {})

    def test_48_v_passes_the_direct_leg_of_a_splitter_only(self):
        split = rig(INTERFACE, "microphone splitter, eight ways", INTERFACE)
        split = connect(split, end("U2", "isolated3"), end("U1", "mic5"))
        with_source = plug(split, "Narrator", "U2", "input3", **COND)
        # Without its direct leg nothing feeds the microphone, whatever is switched on behind the transformer.
        lonely = set_phantom(with_source, "U1", "b", on=True)
        (found,) = findings(lonely, "phantom_missing")
        self.assertEqual(found.severity, "trouble")
        self.assertIn("direct leg", found.working[1])
        # It is heard all the same: its line takes the leg that arrives.
        self.assertEqual(Survey(lonely).signal_paths[0].driver.number, seat_of(Survey(lonely), "U1", "mic5"))
        both = connect(lonely, end("U2", "direct3"), end("U3", "mic2"))
        (found,) = findings(both, "phantom_missing")
        self.assertEqual(found.fixes[0].text.split(" of ")[1], f"{both.units['U3'].name} on")
        fed = carry_out(both, found.fixes[0])
        self.assertEqual(findings(fed, "phantom_missing"), [])
        # A ribbon minds the direct leg's 48 V and not the other's.
        ribbon = connect(plug(split, "Ribbon", "U2", "input3", **RIBBON), end("U2", "direct3"), end("U3", "mic2"))
        self.assertEqual(findings(set_phantom(ribbon, "U1", "b", on=True), "phantom_reaches_forbidden"), [])
        self.assertEqual(len(findings(set_phantom(ribbon, "U3", "a", on=True), "phantom_reaches_forbidden")), 1)
        # Its line ends at the first leg that arrives, and says where else it does.
        survey = Survey(fed)
        (run,) = survey.signal_paths
        numbers = {run.driver.number, *(r.driver.number for r in legs(survey, run))}
        ends = {seat_of(survey, "U3", "mic2"), seat_of(survey, "U1", "mic5")}
        self.assertEqual((len(numbers), numbers), (2, ends))

    def test_every_module_with_a_check_is_registered_and_tested(self):
        modules = {
            m.name
            for m in pkgutil.iter_modules(ennead.checks.__path__)
            if hasattr(importlib.import_module(f"ennead.checks.{m.name}"), "check")
        }
        registered = {c.__module__.rsplit(".", 1)[1] for group in CHECKS.values() for c in group}
        tested = {name.removeprefix("test_") for name in dir(EachRule) if name.startswith("test_")}
        for name in (
            "test_links_and_clock.py",
            "test_sources_and_outputs.py",
            "test_off_rate_and_beside.py",
            "test_advice_and_faults.py",
            "test_loops.py",
            "test_leads.py",
            "test_bay_checks.py",
            "test_faults.py",
            "test_live.py",
            "test_delays.py",
            "test_wide_loops.py",
        ):
            beside = Path(__file__).with_name(name).read_text(encoding="utf-8")
            tested |= set(re.findall(r'(?:self\.speaks|findings)\(\s*(?:\w+,\s+)?"(\w+)"', beside))
            tested |= set(re.findall(r'"(\w+)",\s+"(?:note|caution|trouble)"', beside))
        loops = Path(__file__).with_name("test_loop_checks.py").read_text(encoding="utf-8")
        tested |= set(re.findall(r'\bsaid\([^"\n]*(?:"[^"\n]*"[^"\n]*)*"(\w+)"\)', loops))
        self.assertEqual(modules, registered)
        self.assertEqual(modules, tested)
        self.assertGreaterEqual(len(modules), 12)

    def test_random_houses_never_upset_a_rule_and_every_fix_can_be_carried_out(self):
        mended = 0
        for seed in range(few(50, 80)):
            studio = random_studio(seed)
            for found in find_all(Survey(studio)):
                self.assertTrue(
                    found.message
                    and found.why
                    and sheet_of(found) in ("Session", "Rig", "Links", "Clock", "Lines", "Bays")
                )
                for fix in found.fixes:
                    try:
                        after = carry_out(studio, fix)
                    except EnneadError as error:
                        # Only a search may come back without a place, and it says why.
                        self.assertIsInstance(fix.does, Request)
                        self.assertRegex(str(error), "cannot be placed|Nobody can lead them all")
                        continue
                    mended += found.key not in {f.key for f in find_all(Survey(after))}
        self.assertGreater(mended, few(35, 60))

    def test_findings_come_worst_first(self):
        order = ["trouble", "caution", "note"]
        for seed in random.Random(1).sample(range(1000), 20):
            ranks = [order.index(f.severity) for f in find_all(Survey(random_studio(seed)))]
            self.assertEqual(ranks, sorted(ranks))

    def test_demo_has_three_mistakes_and_its_finished_form_none(self):
        from ennead.demo.skerry import skerry

        loud = [f for f in find_all(Survey(skerry())) if f.severity != "note"]
        self.assertEqual(
            {f.rule for f in loud},
            {
                "phantom_reaches_forbidden",
                "formats_disagree",
                "clock_does_not_arrive",
                "two_leaders",
                "destination_not_placed",
            },
        )
        self.assertEqual([f for f in find_all(Survey(skerry(finished=True))) if f.severity != "note"], [])
        self.assertTrue(all(r.complete for r in Survey(skerry(finished=True)).signal_paths))

    def test_disconnected_units_are_domains_of_their_own(self):
        apart = disconnect(one_fibre(), "C1")
        self.assertEqual([len(d.units) for d in Survey(apart).clocks.domains], [1, 1])
        self.assertEqual(findings(apart, "two_leaders"), [])
