"""What stands after a proposal was taken, through the verbs: 48 V switches, who is left out, and what a part of it takes along."""

from bench.evenings import evening, faults_of, wired_evening, with_leads
from ennead.edits.cables import connect
from ennead.edits.session import add_source, change_source
from ennead.edits.settings import set_phantom
from ennead.files.studio_path import read_studio
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.proposal_change import take
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, plug, rig
from tests.trials import few
from tests.verb_case import VerbCase

NEEDS, FORBIDS = {"kind": "condenser", "phantom": "needed"}, {"kind": "ribbon", "phantom": "forbidden"}
VOLTS = {"phantom_missing", "phantom_reaches_forbidden", "bank_wanted_both_ways", "unit_lacks_phantom"}


class AfterTaking(VerbCase):
    def taken(self, studio):
        """Return what the verb said and the studio it wrote."""
        after = self.folder / "after.json"
        return self.json("allocate", studio, "--output", after), read_studio(after)

    def test_no_48_v_trouble_is_caused_and_nothing_moves_again(self):
        for seed in range(few(1, 6)):
            studio = evening(seed) if seed % 2 else with_leads(wired_evening(seed), seed)
            self.assertEqual(list(faults_of(studio, self.folder)), [], f"evening {seed}")
        # An output that runs to some lines of a multipin alone: what is placed there would hang on others of its lines.
        # One output that feeds two boxes is one loop's, a line over a splitter begins at its direct leg, and a 48 V switch that what stays
        # wants both ways is nobody's who cares for it.
        seeds = ((75, True), (447, True), (743, False), (138, True), (581, False), (915, True))
        for seed, leads in few(seeds[:3], seeds):
            studio = (wired_evening if seed % 2 else evening)(seed)
            self.assertEqual(list(faults_of(with_leads(studio, seed) if leads else studio, self.folder)), [], seed)

    def test_a_switch_is_set_for_those_who_stay(self):
        # The ribbon need not move, but its switch must go off; the condenser finds the other bank.
        studio = set_phantom(plug(rig(INTERFACE), "Ribbon", "U1", "mic1", **FORBIDS), "U1", "a", on=True)
        said, after = self.taken(studio)
        self.assertEqual(
            ([r["moves"] for r in said["placed"]], said["switches"]),
            ([False], [{"unit": after.units["U1"].name, "bank": "48 V 1–4", "on": False}]),
        )
        self.assertEqual(after.settings_of("U1").phantom, ())

    def test_who_is_left_out_is_unplugged_where_the_48_v_would_harm_and_stays_where_it_does_not(self):
        studio = rig(INTERFACE)
        for n in range(1, 9):
            studio = (
                plug(studio, f"Condenser {n}", "U1", f"mic{n}", **NEEDS)
                if n != 2
                else plug(studio, "Ribbon", "U1", "mic2", **FORBIDS)
            )
        studio = change_source(add_source(studio, "Late", priority="must", **NEEDS), "S1", priority="must")
        said, after = self.taken(studio)
        self.assertEqual(said["unplugged"], ["Ribbon"])
        self.assertIn("it is unplugged from", next(r["why"] for r in said["unplaced"] if r["source"] == "Ribbon"))
        self.assertEqual([f.message for f in findings(after) if f.rule in VOLTS], [])
        far = plug(rig(INTERFACE, "eight-preamp optical expander"), "Far", "U2", "mic1", **NEEDS)
        said, after = self.taken(set_phantom(far, "U2", "a", on=True))
        self.assertEqual((said["unplugged"], [r["source"] for r in said["placed"]]), ([], ["Far"]))

    def test_pinned_where_nothing_arrives_keeps_its_switch_and_its_socket(self):
        studio = plug(
            rig(INTERFACE, "eight-channel preamp, line outputs"), "Pinned", "U1", "mic1", "mic4", pinned=True, **NEEDS
        )
        said, after = self.taken(add_source(set_phantom(studio, "U1", "a", on=True), "Ribbon", **FORBIDS))
        self.assertEqual([c.end for c in after.cables.values()][:2], [end("U1", "mic1"), end("U1", "mic4")])
        self.assertEqual((after.settings_of("U1").phantom, said["placed"][-1]["driver_number"]), (("a",), 5))

    def test_a_box_that_runs_on_48_v_keeps_it(self):
        studio = connect(rig(INTERFACE, "active DI box"), end("U2", "output"), end("U1", "mic1"))
        studio = add_source(set_phantom(studio, "U1", "a", on=True), "Ribbon", **FORBIDS)
        _, after = self.taken(studio)
        self.assertEqual(after.settings_of("U1").phantom, ("a",))
        self.assertEqual(findings(after, "unit_lacks_phantom"), [])

    def test_a_part_takes_along_who_shares_its_switch(self):
        studio = plug(rig(INTERFACE), "Ribbon", "U1", "mic2", **FORBIDS)
        studio = plug(studio, "Kept", "U1", "mic5", pinned=True, **FORBIDS)
        studio = plug(plug(studio, "Clash", "U1", "mic1", **NEEDS), "Other", "U1", "mic3", **NEEDS)
        survey = Survey(set_phantom(studio, "U1", "a", on=True))
        proposal = allocate(survey)
        self.assertEqual(proposal.keys, {"S1"})
        for part in ([], ["S1"], ["S4"]):
            after = take(survey, proposal, part).apply(survey.studio)
            self.assertEqual(
                bool(part and part[0] in proposal.keys), not [f for f in findings(after) if f.rule in VOLTS]
            )

    def test_a_search_that_is_stopped_leaves_things_as_they_are(self):
        studio = plug(plug(rig(INTERFACE), "A", "U1", "mic1", **NEEDS), "B", "U1", "mic7", **FORBIDS)
        proposal = allocate(Survey(set_phantom(studio, "U1", "a", on=True)), keep_going=lambda _: False)
        self.assertEqual(
            (proposal.placements, proposal.unplaced, proposal.changes, proposal.proven), ((), {}, False, False)
        )
