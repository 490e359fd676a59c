"""The clock plan against brute force: trees within scarce sockets, leaders, policies."""

import random
import unittest
from dataclasses import replace
from itertools import product

import networkx as nx

from bench.clock_rigs import broken_promises, clock_rig
from ennead.edits.cables import connect
from ennead.edits.house import add_unit
from ennead.edits.settings import set_mode
from ennead.files.profiles import shelf_profile
from ennead.planning.clock.arborescence import Edge, cheapest_tree
from ennead.planning.clock.clock_plan import POLICIES, clock_change, consequences, forced, menus, plan_clock
from ennead.planning.clock.clock_ways import clock_ways
from ennead.planning.clock.tree_within_sockets import tree_within_sockets
from ennead.studio.profile import ClockSource
from ennead.survey.clock import Domain
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, end, findings, one_fibre, rig
from tests.test_clock import random_house
from tests.trials import few


def brute(nodes, root, edges, sockets, hops):
    """Try every choice of one entering edge a node; return the cost of the best that is a tree within the sockets."""
    entering = [[i for i, e in enumerate(edges) if e.end == v and e.start != v] for v in range(nodes) if v != root]
    best = None
    for chosen in product(*entering):
        used = [0] * len(sockets)
        into = {}
        for i in chosen:
            into[edges[i].end] = edges[i].start
            if edges[i].group >= 0:
                used[edges[i].group] += 1
        if any(u > s for u, s in zip(used, sockets, strict=True)):
            continue
        good = True
        for v in into:
            here, far = v, 0
            while here != root and far <= nodes:
                here, far = into[here], far + 1
            good = good and here == root and far <= (nodes if hops is None else hops)
        cost = sum(edges[i].cost for i in chosen)
        if good and (best is None or cost < best):
            best = cost
    return best


def random_case(dice):
    """Return a small random case: some ways that are there already, sockets that are scarce, costs often alike."""
    nodes = dice.randint(2, 6)
    sockets = [dice.choice((0, 1, 1, 2, 3)) for _ in range(dice.randint(1, 2 * nodes))]
    owner = [dice.randrange(nodes) for _ in sockets]
    edges = []
    for a, b in product(range(nodes), repeat=2):
        if a != b and dice.random() < 0.2:
            edges.append(Edge(a, b, dice.choice((0, 0, 1))))
    costs = (0, 0, 1, 10) if dice.random() < 0.3 else (10, 10, 11, 13, 20)
    for group, a in enumerate(owner):
        edges += [Edge(a, b, dice.choice(costs), group) for b in range(nodes) if b != a and dice.random() < 0.7]
    return nodes, edges, sockets, dice.choice((None, None, 1, 2, 3))


class Trees(unittest.TestCase):
    def test_the_cheapest_is_networkx_s(self):
        reached = 0
        for seed in range(300):
            dice = random.Random(seed)
            nodes = dice.randint(2, 9)
            edges = [
                (a, b, dice.randint(0, 9), 0)
                for a, b in product(range(nodes), repeat=2)
                if a != b and dice.random() < 0.45
            ]
            edges = [(a, b, c, i) for i, (a, b, c, _) in enumerate(edges)]
            found = cheapest_tree(nodes, 0, edges)
            graph = nx.DiGraph()
            graph.add_nodes_from(range(nodes))
            graph.add_weighted_edges_from((a, b, c) for a, b, c, _ in edges if b != 0)
            try:
                wanted = nx.minimum_spanning_arborescence(graph)
            except nx.NetworkXException:
                self.assertIsNone(found)
                continue
            reached += 1
            self.assertEqual(sum(edges[i][2] for i in found), wanted.size("weight"))
            self.assertEqual(sorted(edges[i][1] for i in found), list(range(1, nodes)))
        self.assertGreater(reached, 100)

    def test_within_sockets_and_hops_it_is_brute_force_s(self):
        found_some = scarce = 0
        for seed in range(700):
            nodes, edges, sockets, hops = random_case(random.Random(seed))
            wanted = brute(nodes, 0, edges, sockets, hops)
            found = tree_within_sockets(nodes, 0, edges, sockets, hops)
            with self.subTest(seed=seed):
                self.assertEqual(found is None, wanted is None)
                if found is None:
                    continue
                self.assertEqual((found.cost, found.proven), (wanted, True))
                self.assertLessEqual(found.plain, found.cost)
                # The tree is what it says: one edge into each, sockets and hops kept.
                self.assertEqual(brute(nodes, 0, [edges[i] for i in found.edges], sockets, hops), wanted)
                found_some += 1
                scarce += found.plain < found.cost
        self.assertGreater(found_some, 230)
        self.assertGreater(scarce, 35)


class Plans(unittest.TestCase):
    def test_every_alternative_taken_locks_everybody_in_so_many_hops(self):
        dice = random.Random(11)
        taken = added = 0
        for _ in range(60):
            studio = random_house(dice)
            survey = Survey(studio)
            for domain in survey.clocks.domains:
                policy = dice.choice(POLICIES)
                plan = plan_clock(survey, domain, policy)
                self.assertLessEqual(
                    set(domain.possible), {a.leader for a in plan.alternatives} | set(plan.cannot_lead)
                )
                for alternative in plan.alternatives:
                    after = clock_change(survey, alternative).apply(studio)
                    clocks = Survey(after).clocks
                    self.assertEqual({u: clocks.by_unit[u].hops for u in alternative.hops}, dict(alternative.hops))
                    self.assertEqual({clocks.by_unit[u].leader for u in plan.units}, {alternative.leader})
                    self.assertLessEqual(len(after.cables) - len(studio.cables), len(alternative.added))
                    # No output feeds more than it can, which connecting would have refused; the bound is below the cost.
                    self.assertLessEqual(alternative.tree.plain, alternative.tree.bound)
                    self.assertEqual(alternative.tree.bound, alternative.tree.cost)
                    taken += 1
                    added += len(alternative.added)
        self.assertGreater(taken, 100)
        self.assertGreater(added, 30)

    def test_who_can_lead_over_the_cables_that_are_there_needs_no_other(self):
        dice = random.Random(5)
        for _ in range(60):
            survey = Survey(random_house(dice))
            for domain in survey.clocks.domains:
                plan = plan_clock(survey, domain)
                free = {a.leader for a in plan.alternatives if not a.added}
                self.assertLessEqual(set(domain.possible), free)
                costs = [len(a.added) for a in plan.alternatives]
                self.assertEqual(costs, sorted(costs))

    def test_one_fibre_forces_the_expander_and_says_what_the_interface_would_need(self):
        survey = Survey(one_fibre())
        (domain,) = survey.clocks.domains
        plan = plan_clock(survey, domain)
        first, second = plan.alternatives
        self.assertEqual((first.leader, first.added), ("U2", ()))
        self.assertEqual((second.leader, [w.kind for w in second.added]), ("U1", ["adat"]))
        self.assertIn("set by hand on", consequences(survey, first)[0])
        self.assertIn("The rate follows the software", consequences(survey, second)[0])
        self.assertEqual([a.leader for a in plan_clock(survey, domain, "computer").alternatives], ["U1", "U2"])

    def test_a_star_goes_through_a_distributor_when_the_generator_has_too_few(self):
        # Eight interfaces on one computer meet there; only a clock cable keeps them in step.
        boxes = ["eight-preamp interface, two optical pairs"] * 8
        studio = rig("word-clock generator, six outputs", "word-clock distributor, one to eight", *boxes)
        survey = Survey(studio)
        big = max(survey.clocks.domains, key=lambda d: len(d.units))
        plan = plan_clock(survey, big, "star")
        star = plan.alternatives[0]
        self.assertEqual(star.leader, "U1")
        direct = sum(w.start.unit == "U1" for w in star.ways.values())
        self.assertLessEqual(direct, 6)
        self.assertGreater(len(big.units), 6)
        self.assertIn("U2", star.hops)
        after = clock_change(survey, star).apply(studio)
        self.assertEqual({Survey(after).clocks.by_unit[u].leader for u in big.units}, {"U1"})

    def test_t_pieces_go_onto_lines_that_have_room(self):
        # Six interfaces without a digital output, and a generator with two.
        two_out = replace(
            shelf_profile("word-clock generator, six outputs"),
            name="two outputs",
            ports=shelf_profile("word-clock generator, six outputs").ports[:2],
        )
        deaf = shelf_profile("eight-preamp interface, two optical pairs")
        deaf = replace(
            deaf,
            name="nothing out",
            ports=tuple(p for p in deaf.ports if p.direction == "in"),
            driver_maps=tuple(replace(m, outputs=()) for m in deaf.driver_maps),
        )
        studio = add_unit(rig(), two_out, "Beacon")
        for n in range(6):
            studio = add_unit(studio, deaf, f"Box {n}")
        survey = Survey(studio)
        domain = max(survey.clocks.domains, key=lambda d: len(d.units))
        plan = plan_clock(survey, domain, "star")
        star = next(a for a in plan.alternatives if a.leader == "U1")
        after = clock_change(survey, star).apply(studio)
        lines = {}
        for cable in after.cables.values():
            if cable.start.unit == "U1":
                lines.setdefault(cable.start.port, []).append(cable.end.unit)
        # Two outputs of three inputs each carry all six; of each line only the last input closes it.
        self.assertEqual(sorted(map(len, lines.values())), [3, 3])
        self.assertEqual([f for f in findings(after) if f.rule.startswith("word_line") and f.severity == "trouble"], [])
        self.assertEqual({Survey(after).clocks.by_unit[u].hops for u in domain.units}, {1})
        self.assertTrue(any("T-pieces share an output" in s for s in consequences(survey, star)))

    def test_glass_of_two_kinds_is_never_proposed(self):
        single = shelf_profile("MADI bridge, eight optical pairs")
        single = replace(
            single,
            name="single-mode",
            ports=tuple(replace(p, fibre="single-mode" if p.fibre else "") for p in single.ports),
        )
        studio = add_unit(rig("MADI bridge, eight optical pairs"), single, "Far")
        kinds = {w.kind for w in clock_ways(Survey(studio), ["U1", "U2"]).ways}
        self.assertEqual(kinds, {"word", "adat"})
        same = rig("MADI bridge, eight optical pairs", "MADI bridge, eight optical pairs")
        self.assertIn("madi", {w.kind for w in clock_ways(Survey(same), ["U1", "U2"]).ways})

    def test_a_switch_that_stands_in_the_way_is_part_of_the_plan(self):
        wrong = set_mode(one_fibre(), "U1", "optical", "spdif-optical")
        survey = Survey(wrong)
        plan = plan_clock(survey, Domain(("U1", "U2"), (), {}, False, -1))
        first = plan.alternatives[0]
        self.assertEqual((first.leader, first.added), ("U2", ()))
        self.assertIn("Optical in has to be set to ADAT.", " ".join(consequences(survey, first)))
        after = clock_change(survey, first).apply(wrong)
        self.assertEqual(Survey(after).clocks.by_unit["U1"].leader, "U2")

    def test_menus_of_an_alternative_are_those_the_change_sets(self):
        survey = Survey(one_fibre())
        plan = plan_clock(survey, survey.clocks.domains[0])
        for alternative in plan.alternatives:
            after = clock_change(survey, alternative).apply(survey.studio)
            for unit, menu in menus(survey, alternative).items():
                entry = after.profile_of(unit).clock_source(after.settings_of(unit).clock_source)
                self.assertEqual(entry.label, menu)
        self.assertIn("only Eight-preamp optical expander can lead", forced(survey, plan))

    def test_nobody_can_lead_is_said_with_the_units_that_stand_in_the_way(self):
        deaf = "two-preamp interface, optical in only"
        studio = rig(deaf)
        self.assertEqual(plan_clock(Survey(studio), Survey(studio).clocks.domains[0]).cannot_lead, {})
        mute = replace(
            shelf_profile("eight-preamp optical expander"),
            name="crystal only",
            clock_sources=(ClockSource("own", "Own"),),
        )
        studio = add_unit(add_unit(rig(INTERFACE), mute, "One"), mute, "Two")
        studio = connect(studio, end("U2", "optical_out"), end("U1", "optical_in"))
        studio = connect(studio, end("U1", "optical_out"), end("U3", "optical_in"))
        survey = Survey(studio)
        (domain,) = survey.clocks.domains
        plan = plan_clock(survey, domain)
        self.assertEqual((plan.alternatives, plan.without_source), ((), ("U2", "U3")))
        self.assertIn("One and Two cannot be brought any clock", plan.cannot_lead["U1"])

    def test_every_plan_carried_out_ends_what_it_promised_and_adds_nothing(self) -> None:
        # In 159 two inputs that cannot but close their line share an output of one generator.
        for seed in (*range(few(100, 2000)), 159):
            self.assertEqual(list(broken_promises(clock_rig(seed))), [], seed)
