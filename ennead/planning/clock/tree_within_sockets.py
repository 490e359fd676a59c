"""Spanning trees within the sockets that exist: what a clock plan needs.

An output feeds as many as it has sockets for, and no path may be too long. Units that reach each other at no cost are one; the
rest is the search, bounded by the plain cheapest tree, which forgets about sockets.
"""

from collections.abc import Callable, Sequence
from typing import Final

from ennead.planning.clock.arborescence import Edge, Tree, cheapest_tree
from ennead.planning.clock.tree_search import TreeSearch

#: Steps of the search after which the best tree found so far is returned, said not to be proven. House default.
MOST_NODES: Final = 4_000


def tree_within_sockets(
    nodes: int,
    root: int,
    edges: Sequence[Edge],
    sockets: Sequence[int],
    hops: int | None = None,
    most: int = MOST_NODES,
    stop: Callable[[], bool] = lambda: False,
    grain: int = 0,
) -> Tree | None:
    """Return the cheapest tree from a root to all nodes that uses no more sockets than there are, or None.

    Parameters
    ----------
    edges : sequence of Edge
        Costs are whole and not negative.
    sockets : sequence of int
        How many edges of each group a tree may use.
    hops : int, optional
        The longest way from the root that is allowed.
    most : int
        Steps of the search; beyond them the best tree so far is returned with the bound that is proven.
    stop : callable
        Asked now and then whether to give up.
    grain : int
        What a tree costs is a multiple of this, or a little less to settle ties; what is proven is proven but for those.
        0 where there is nothing of the kind.
    """
    if hops is None and (free := FreeWays(nodes, root, edges)).helps:
        return free.solve(sockets, most, stop, grain)
    return search_tree(nodes, root, edges, sockets, hops, most, stop, grain)


class FreeWays:
    """Edges that cost nothing, contracted: units that reach each other freely, or are reached from the root, are one node."""

    def __init__(self, nodes: int, root: int, edges: Sequence[Edge]) -> None:
        self.nodes, self.root, self.edges = nodes, root, edges
        free: list[list[int]] = [[] for _ in range(nodes)]
        for edge in edges:
            if edge.group < 0 and edge.cost == 0:
                free[edge.start].append(edge.end)
        self.helps = any(free)
        if not self.helps:
            return
        reach = [_reach(node, free) for node in range(nodes)]
        #: By node, the number of those it is one with: 0 is the root.
        self.number = [0 if node in reach[root] else -1 for node in range(nodes)]
        self.count = 1
        for node in range(nodes):
            if self.number[node] < 0:
                for other in reach[node]:
                    if node in reach[other]:
                        self.number[other] = self.count
                self.count += 1

    def solve(self, sockets: Sequence[int], most: int, stop: Callable[[], bool], grain: int = 0) -> Tree | None:
        """Solve for those that are not one, then add the free ways."""
        kept: dict[tuple[int, int, int], tuple[int, int]] = {}
        for index, edge in enumerate(self.edges):
            start, end = self.number[edge.start], self.number[edge.end]
            if end in (0, start) or (edge.group >= 0 and sockets[edge.group] < 1):
                continue
            key = (start, end, edge.group)
            if key not in kept or edge.cost < kept[key][0]:
                kept[key] = edge.cost, index
        short = [Edge(start, end, cost, group) for (start, end, group), (cost, _) in kept.items()]
        names = [index for _, index in kept.values()]
        tree = search_tree(self.count, 0, short, sockets, None, most, stop, grain)
        if tree is None:
            return None
        chosen = {names[i] for i in tree.edges}
        return Tree(tuple(sorted(self._spread(chosen))), tree.cost, tree.bound, tree.plain)

    def _spread(self, chosen: set[int]) -> list[int]:
        """Return the tree of fewest hops over free and chosen ways."""
        leaving: list[list[int]] = [[] for _ in range(self.nodes)]
        for index, edge in enumerate(self.edges):
            if index in chosen or (edge.group < 0 and edge.cost == 0):
                leaving[edge.start].append(index)
        seen, queue, tree = {self.root}, [self.root], []
        for here in queue:
            for index in leaving[here]:
                there = self.edges[index].end
                if there not in seen:
                    seen.add(there)
                    queue.append(there)
                    tree.append(index)
        return tree


def search_tree(
    nodes: int,
    root: int,
    edges: Sequence[Edge],
    sockets: Sequence[int],
    hops: int | None,
    most: int,
    stop: Callable[[], bool],
    grain: int = 0,
) -> Tree | None:
    """Return the cheapest tree within the sockets, every way taken as it stands; see `tree_within_sockets`."""
    usable = [e if e.group < 0 or sockets[e.group] > 0 else None for e in edges]
    plain = cheapest_tree(nodes, root, [(e.start, e.end, e.cost, i) for i, e in enumerate(usable) if e is not None])
    if plain is None or not _enough(nodes, root, edges, sockets):
        return None
    search = TreeSearch(nodes, root, edges, sockets, hops, grain)
    lowest = search.real(plain)
    if not search.broken(plain):
        return Tree(tuple(sorted(plain)), lowest, lowest, lowest)
    search.mend(plain)
    proven = search.rounded(lowest)
    if not search.is_reached(proven):
        search.grow()
    if not search.is_reached(proven):
        proven = search.price_sockets(proven)
        if not search.is_reached(proven):
            proven = search.branch(proven, most, stop)
    if search.best is None:
        return None
    return Tree(tuple(sorted(search.best)), search.cost, min(proven, search.cost), lowest)


def _enough(nodes: int, root: int, edges: Sequence[Edge], sockets: Sequence[int]) -> bool:
    """Say whether every node without a free edge could get a socket of its own, from whatever feeder.

    Nodes that reach each other freely share one; whether the sockets suffice for all is a matching.
    """
    free: list[list[int]] = [[] for _ in range(nodes)]
    for edge in edges:
        if edge.group < 0:
            free[edge.start].append(edge.end)
    reach = [_reach(node, free) for node in range(nodes)]
    wanting = []
    done: set[int] = set()
    for node in range(nodes):
        if node in done:
            continue
        same = {other for other in reach[node] if node in reach[other]}
        done |= same
        fed = any(node in reach[other] for other in range(nodes) if other not in same)
        if root not in same and not fed:
            wanting.append(same)
    takers: list[set[int]] = [
        {e.group for e in edges if e.group >= 0 and e.end in some and e.start not in some} for some in wanting
    ]
    held: dict[int, list[int]] = {}

    def place(who: int, tried: set[int]) -> bool:
        for group in takers[who]:
            if group in tried or sockets[group] == 0:
                continue
            tried.add(group)
            sitting = held.setdefault(group, [])
            if len(sitting) < sockets[group]:
                sitting.append(who)
                return True
            for at, other in enumerate(sitting):
                if place(other, tried):
                    sitting[at] = who
                    return True
        return False

    return all(place(who, set()) for who in range(len(wanting)))


def _reach(start: int, onward: Sequence[Sequence[int]]) -> set[int]:
    seen, waiting = {start}, [start]
    while waiting:
        for there in onward[waiting.pop()]:
            if there not in seen:
                seen.add(there)
                waiting.append(there)
    return seen
