"""The clock plan against brute force: trees within scarce sockets, leaders, policies."""

import random
import unittest
from itertools import product

import networkx as nx

from ennead.planning.arborescence import Edge, cheapest_tree, tree_within_sockets


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
    for group, a in enumerate(owner):
        for b in range(nodes):
            if b != a and dice.random() < 0.7:
                edges.append(Edge(a, b, dice.choice((10, 10, 11, 13, 20)), group))
    return nodes, edges, sockets, dice.choice((None, None, 1, 2, 3))


class Trees(unittest.TestCase):
    def test_the_cheapest_is_networkx_s(self):
        reached = 0
        for seed in range(300):
            dice = random.Random(seed)
            nodes = dice.randint(2, 9)
            edges = [(a, b, dice.randint(0, 9), 0) for a, b in product(range(nodes), repeat=2) if a != b and dice.random() < 0.45]
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
        for seed in range(1_200):
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
        self.assertGreater(found_some, 400)
        self.assertGreater(scarce, 60)
