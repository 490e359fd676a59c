"""Allocation against brute force on small cases, and its hard rules judged by an independent reading."""

import itertools
import random
import unittest

from ennead.edits.cables import connect
from ennead.edits.destinations import add_destination
from ennead.edits.house import mark_fault
from ennead.edits.session import add_source, change_source, set_loop_numbers, set_rate
from ennead.edits.settings import set_phantom
from ennead.planning.routing.partners import partners
from ennead.planning.routing.placing import NoPlace, place_anew, place_at_number, place_at_port
from ennead.planning.seating.allocation import allocate
from ennead.planning.seating.options import options_for
from ennead.planning.seating.proposal_change import take
from ennead.reports.next_step import next_step
from ennead.studio.document import empty_studio
from ennead.studio.house import SourceEnd
from ennead.studio.session import DESTINATION_KINDS
from ennead.survey.balance import balance
from ennead.survey.survey import Survey, survey_of
from tests.builders import ELEVEN, INTERFACE, end, findings, one_fibre, plug, random_studio, rig
from tests.trials import few

SMALL = "two-preamp interface, optical in only"
KINDS = (
    {"kind": "dynamic"},
    {"kind": "condenser", "phantom": "needed"},
    {"kind": "ribbon", "phantom": "forbidden"},
    {"kind": "line"},
    {"kind": "line", "phantom": "forbidden"},
    {"kind": "instrument"},
    {"kind": "instrument", "di": "active", "phantom": "needed"},
    {"kind": "digital"},
)


def with_sources(studio, *facts):
    for n, fact in enumerate(facts, start=1):
        studio = add_source(studio, f"Source {n}", **fact)
    return studio


def carried_out(studio):
    survey = Survey(studio)
    proposal = allocate(survey)
    return take(survey, proposal).apply(studio), proposal


def seat_rules(studio, source, port_key):
    """Say whether a source may sit in a port, read afresh from the profile: no code of the rules is used."""
    port = studio.profile_of("U1").port_by_key[port_key]
    banked = any(port_key in b.ports for b in studio.profile_of("U1").banks)
    if source.kind == "digital":
        return port.carries[0] in ("adat", "spdif", "spdif-optical")
    wanted = {"line": "line", "instrument": "mic" if source.di else "hiz"}.get(source.kind, "mic")
    return wanted in port.carries and (banked or source.phantom != "needed")


def voltage(source):
    """Return 1 for must be on, -1 for must be off, 0 for no matter, at an XLR; jacks of a combo never matter."""
    at_xlr = source.kind in ("dynamic", "condenser", "ribbon") or (source.kind == "instrument" and source.di)
    return {"needed": 1, "forbidden": -1, "tolerated": 0}[source.phantom] if at_xlr else 0


def most_placed(studio):
    """Try every way to point mono sources on one interface; return the most that find a place."""
    ports = [p.key for p in studio.profile_of("U1").ports if p.direction == "in" and p.key != "optical_in"]
    ports += ["optical_in"]
    bank_of = {p: b.key for b in studio.profile_of("U1").banks for p in b.ports}
    sources = studio.session_sources
    best = 0
    for choice in itertools.product([None, *ports], repeat=len(sources)):
        used = [c for c in choice if c]
        if len(used) <= best or len(set(used)) != len(used):
            continue
        if not all(c is None or seat_rules(studio, s, c) for s, c in zip(sources, choice, strict=True)):
            continue
        wishes = {}
        for s, c in zip(sources, choice, strict=True):
            if c in bank_of and voltage(s):
                wishes.setdefault(bank_of[c], set()).add(voltage(s))
        if all(len(w) == 1 for w in wishes.values()):
            best = len(used)
    return best


class AgainstBruteForce(unittest.TestCase):
    def test_as_many_mono_sources_are_placed_as_can_be(self):
        dice = random.Random(3)
        for _ in range(60):
            studio = with_sources(rig(SMALL), *dice.choices(KINDS, k=dice.randint(1, 5)))
            after, proposal = carried_out(studio)
            placed = len(proposal.placements)
            self.assertEqual(placed, most_placed(studio), [s.kind + s.phantom for s in studio.session_sources])
            self.assertEqual(placed + len(proposal.unplaced), len(studio.session_sources))
            self.assert_obeys(after)

    def test_hard_rules_hold_in_larger_random_sessions(self):
        dice = random.Random(4)
        for _ in range(40):
            facts = [{**f, "channels": dice.choice((1, 1, 1, 2))} for f in dice.choices(KINDS, k=dice.randint(3, 22))]
            studio = with_sources(one_fibre(), *facts)
            studio = mark_fault(studio, end("U1", dice.choice(("mic1", "mic2", "mic6"))), "dead")
            after, _ = carried_out(set_rate(studio, dice.choice((48_000, 96_000))))
            self.assert_obeys(after)

    def assert_obeys(self, studio):
        """Judge the outcome by the rules as findings see them, apart from what found no place."""
        quiet = {
            "one_fibre_expander_leads",
            "outputs_have_no_way_back",
            "source_not_plugged_in",
            "not_enough_inputs",
            "digital_source_keeps_time",
        }
        loud = [f.message for f in findings(studio) if f.rule not in quiet]
        self.assertEqual(loud, [])


class Behaviour(unittest.TestCase):
    def test_eleven_go_in_order_and_the_ninth_arrives_at_fifteen(self):
        studio = one_fibre()
        for name in ELEVEN:
            studio = add_source(studio, name)
        after, proposal = carried_out(studio)
        numbers = [r.driver.number for r in Survey(after).signal_paths]
        self.assertEqual(numbers, [1, 2, 3, 4, 5, 6, 7, 8, 15, 16, 17])
        self.assertEqual((proposal.moves, proposal.unplaced), (0, {}))

    def test_nothing_moves_when_nothing_has_changed_and_one_more_moves_nobody(self):
        studio, _ = carried_out(with_sources(one_fibre(), *KINDS[:6], *KINDS[:5]))
        again = allocate(Survey(studio))
        self.assertEqual((again.placements, again.moves, again.unplaced), ((), 0, {}))
        more = allocate(Survey(add_source(studio, "One more")))
        self.assertEqual([p.source for p in more.placements], ["S12"])

    def test_late_instrument_still_gets_its_hi_z_input(self):
        studio, proposal = carried_out(with_sources(rig(INTERFACE), *[{"kind": "dynamic"}] * 7, {"kind": "instrument"}))
        self.assertEqual(proposal.unplaced, {})
        self.assertIn(Survey(studio).signal_paths[7].driver.number, (1, 2))

    def test_ribbon_keeps_out_of_a_live_bank_and_banks_are_switched(self):
        studio, _ = carried_out(with_sources(rig(INTERFACE), KINDS[1], KINDS[2], KINDS[1]))
        self.assertEqual([r.driver.number for r in Survey(studio).signal_paths], [1, 5, 2])
        self.assertEqual(studio.settings_of("U1").phantom, ("a",))
        live = set_phantom(with_sources(rig(INTERFACE), KINDS[2]), "U1", "a", on=True)
        kept = carried_out(live)[0]
        self.assertEqual((kept.settings_of("U1").phantom, Survey(kept).signal_paths[0].driver.number), (("a",), 5))
        full = with_sources(live, *[KINDS[1]] * 7)
        self.assertEqual(list(carried_out(full)[1].unplaced), ["S1"])

    def test_pairs_sit_odd_even_on_one_unit(self):
        facts = [
            {"kind": "dynamic"},
            {"kind": "dynamic", "channels": 2},
            {"kind": "condenser", "phantom": "needed", "channels": 2},
        ]
        studio, _ = carried_out(with_sources(one_fibre(), *facts))
        self.assertEqual([r.driver.number for r in Survey(studio).signal_paths], [3, 5, 6, 1, 2])

    def test_neighbours_in_the_room_are_neighbours_on_the_strip(self):
        full = one_fibre()
        for n in range(1, 8):
            full = plug(full, f"Pinned {n}", "U1", f"mic{n}", kind="dynamic", pinned=True)
        apart = with_sources(full, {"kind": "dynamic"}, {"kind": "dynamic"})
        beside = with_sources(full, {"kind": "dynamic", "place": "Hall"}, {"kind": "dynamic", "place": "Hall"})
        elsewhere = with_sources(full, {"kind": "dynamic", "place": "Hall"}, {"kind": "dynamic", "place": "Booth"})
        numbers = [
            [r.driver.number for r in Survey(carried_out(s)[0]).signal_paths][7:] for s in (apart, beside, elsewhere)
        ]
        self.assertEqual(numbers, [[8, 15], [15, 16], [8, 15]])

    def test_placed_sources_that_do_not_work_are_moved_but_pinned_ones_stay(self):
        studio = plug(rig(INTERFACE), "Bass", "U1", "mic5", kind="instrument")
        proposal = allocate(Survey(studio))
        self.assertEqual((proposal.moves, proposal.placements[0].numbers), (1, (1,)))
        self.assertEqual(allocate(Survey(change_source(studio, "S1", pinned=True))).placements, ())

    def test_only_a_part_is_taken_and_a_stopped_search_says_so(self):
        studio = with_sources(rig(INTERFACE), *KINDS[:1] * 3)
        survey = Survey(studio)
        after = take(survey, allocate(survey), ["S2"]).apply(studio)
        self.assertEqual([r.driver is not None for r in Survey(after).signal_paths], [False, True, False])
        stopped = allocate(survey, keep_going=lambda _: False)
        self.assertEqual((stopped.placements, stopped.proven), ((), False))
        self.assertEqual(set(stopped.unplaced.values()), {"the search was stopped"})

    def test_shortage_names_what_is_missing(self):
        _, proposal = carried_out(with_sources(rig(SMALL), *[KINDS[1]] * 3))
        self.assertEqual(
            list(proposal.unplaced.values()),
            ["no microphone input with 48 V is left at 48 kHz; 2 could serve and all are taken"],
        )
        _, proposal = carried_out(with_sources(rig("active loudspeaker"), KINDS[0]))
        self.assertEqual(list(proposal.unplaced.values()), ["there is no microphone input at 48 kHz"])


class AnyStudio(unittest.TestCase):
    """Whatever a studio is like: what is proposed can be taken, whole or in part, and then nothing moves."""

    def crowd(self, seed):
        dice = random.Random(seed)
        studio = set_loop_numbers(random_studio(seed), dice.choice(("paired", "always", "free")))
        for n in range(dice.randint(2, 8)):
            facts = {
                "kind": dice.choice(KINDS)["kind"],
                "channels": dice.choice((1, 2)),
                "phantom": dice.choice(("needed", "forbidden", "tolerated")),
            }
            studio = add_source(studio, f"More {n}", place=dice.choice((None, "Hall", "Booth")), **facts)
        for n in range(dice.randint(1, 5)):
            studio = add_destination(studio, f"Out {n}", dice.choice(DESTINATION_KINDS), channels=dice.choice((1, 2)))
        return studio, dice

    def test_taken_whole_nothing_moves_and_any_part_can_be_taken(self):
        taken = parts = 0
        for seed in range(few(60, 180)):
            studio, dice = self.crowd(seed)
            survey = Survey(studio)
            proposal = allocate(survey)
            if not proposal.count:
                continue
            after = take(survey, proposal).apply(studio)
            again = allocate(Survey(after))
            self.assertEqual((again.count, again.moves), (0, 0), seed)
            placed = {run.source for run in Survey(after).signal_paths if run.into is not None}
            self.assertFalse(placed & set(proposal.unplaced) - {s for s, _ in survey.leads}, seed)
            sat = [e for d in survey_of(after).destinations for e in d.outputs if not d.tap]
            self.assertTrue(all(sat.count(e) <= after.port(e).channels for e in sat), seed)
            taken += 1
            if proposal.count > 1:
                part = dice.sample(sorted(proposal.keys), dice.randint(1, proposal.count - 1))
                some = take(survey, proposal, part).apply(studio)
                for placement in proposal.placements:
                    if placement.source in part:
                        ends = {
                            c.end for c in some.cables.values() if getattr(c.start, "source", None) == placement.source
                        }
                        self.assertEqual(ends, {point.end for point in placement.points}, seed)
                for out in proposal.outs:
                    if out.destination in part:
                        self.assertEqual(
                            (
                                survey_of(some).placed(out.destination).outputs,
                                survey_of(some).placed(out.destination).returns,
                            ),
                            (out.outputs, out.returns),
                            seed,
                        )
                parts += 1
        self.assertGreater(min(taken, parts), few(8, 30))


class ByHand(unittest.TestCase):
    def test_a_number_brings_the_source_there(self):
        studio = add_source(one_fibre(), "Fiddle")
        after = place_at_number(Survey(studio), "S1", 22).apply(studio)
        self.assertEqual(after.cables["C2"].end, end("U2", "mic8"))
        again = place_at_number(Survey(after), "S1", 3).apply(after)
        self.assertEqual([c.end for c in again.cables.values() if isinstance(c.start, SourceEnd)], [end("U1", "mic3")])

    def test_refusals_say_why(self):
        studio = plug(one_fibre(), "Whistle", "U1", "mic3")
        studio = add_source(add_source(studio, "Keys", kind="line"), "Choir", channels=2)
        studio = mark_fault(studio, end("U1", "mic4"), "dead")
        cases = (
            ("S2", 11, "no free-standing socket leads to driver input 11"),
            ("S2", 3, "taken by Whistle"),
            ("S2", 9, "analogue and S/PDIF in is digital"),
            ("S3", 2, "no pair begins at"),
            ("S2", 4, "out of service"),
        )
        for source, number, words in cases:
            with self.assertRaises(NoPlace) as caught:
                place_at_number(Survey(studio), source, number)
            self.assertIn(words, str(caught.exception))
        with self.assertRaises(NoPlace) as caught:
            place_at_port(Survey(studio), "S2", end("U1", "optical_in"))
        self.assertIn("digital", str(caught.exception))

    def test_another_place_is_really_another(self):
        studio = plug(plug(one_fibre(), "Fiddle", "U1", "mic1"), "Whistle", "U1", "mic2")
        after = place_anew(Survey(studio), "S1").apply(studio)
        self.assertEqual([r.driver.number for r in Survey(after).signal_paths], [3, 2])
        full = with_sources(rig("two-preamp interface, optical in only"))
        full = plug(plug(full, "A", "U1", "mic1"), "B", "U1", "mic2")
        self.assertRaises(NoPlace, place_anew, Survey(full), "S1")

    def test_options_of_a_pair_begin_on_odd_sockets(self):
        survey = Survey(add_source(one_fibre(), "Choir", channels=2))
        firsts = [o[0].number for o in options_for(survey, survey.studio.source("S1"))]
        self.assertEqual(firsts, [1, 3, 5, 7, 15, 17, 19, 21])

    def test_partners_are_free_legal_and_agreeing_first(self):
        studio = add_source(rig(INTERFACE, "eight-preamp optical expander"), "Fiddle")
        found = partners(Survey(studio), end("U2", "optical_out"))
        self.assertEqual(found[0].end, end("U1", "optical_in"))
        for partner in found:
            partner.change.apply(studio)
        self.assertEqual(partners(Survey(studio), end("U1", "mic3"))[0].text, "Fiddle  ·  source")
        tape = add_source(studio, "Tape", kind="digital", channels=2)
        self.assertEqual(
            [p.text for p in partners(Survey(tape), end("U1", "spdif_in")) if p.end is None], ["Tape L  ·  source"]
        )
        pair = add_source(studio, "Choir", channels=2)
        sources = [p.text for p in partners(Survey(pair), end("U1", "mic3")) if p.end is None]
        self.assertEqual(sources, ["Fiddle  ·  source", "Choir L  ·  source", "Choir R  ·  source"])
        # An analogue output in use may feed one more; a digital one is full.
        split = connect(studio, end("U1", "line_out1"), end("U2", "mic1"))
        self.assertIn(end("U1", "line_out1"), [p.end for p in partners(Survey(split), end("U2", "mic2"))])
        taken = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        self.assertNotIn(end("U1", "optical_in"), [p.end for p in partners(Survey(taken), end("U2", "optical_out"))])


class BalanceAndNext(unittest.TestCase):
    def test_balance_counts_channels_at_the_rate(self):
        studio = with_sources(
            one_fibre(), KINDS[1], {**KINDS[0], "channels": 2}, KINDS[3], KINDS[5], {**KINDS[7], "channels": 2}
        )
        rows = {n.key: (n.needed, n.available) for n in balance(Survey(studio))}
        self.assertEqual(
            rows,
            {"phantom": (1, 16), "mic": (3, 16), "line": (1, 16), "hiz": (1, 2), "digital": (2, 2), "all": (7, 18)},
        )
        at_96 = {n.key: n.available for n in balance(Survey(set_rate(studio, 96_000)))}
        self.assertEqual((at_96["mic"], at_96["all"]), (12, 14))
        faulty = mark_fault(studio, end("U1", "mic1"), "dead")
        self.assertEqual({n.key: n.available for n in balance(Survey(faulty))}["hiz"], 1)

    def test_next_step_leads_to_the_first_number(self):
        steps = []
        studio = empty_studio()
        steps.append(next_step(Survey(studio)))
        studio = add_source(studio, "Fiddle")
        steps.append(next_step(Survey(studio)))
        bare = add_source(rig(INTERFACE), "Fiddle")
        steps.append(next_step(Survey(bare)))
        self.assertEqual([s.step for s in steps], ["list", "shelf", "allocate"])
        self.assertIsNone(next_step(Survey(carried_out(bare)[0])))
