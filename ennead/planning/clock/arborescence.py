"""The minimum spanning arborescence, sockets left aside: the lower bound of every clock plan."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple


class Edge(NamedTuple):
    """A way from one node to another.

    Parameters
    ----------
    cost : int
    group : int
        The kind of socket it uses up at its start, an index of the capacities; -1 for none.
    """

    start: int
    end: int
    cost: int
    group: int = -1


@dataclass(frozen=True, slots=True)
class Tree:
    """A tree that has been found.

    Parameters
    ----------
    edges : tuple of int
        Indices of its edges.
    bound : int
        No tree that respects the sockets is cheaper than this.
    plain : int
        Cost of the cheapest tree that forgets about sockets and hops.
    """

    edges: tuple[int, ...]
    cost: int
    bound: int
    plain: int

    @property
    def proven(self) -> bool:
        """Whether nothing can be cheaper."""
        return self.bound >= self.cost


def cheapest_tree(nodes: int, root: int, edges: Sequence[tuple[int, int, int, int]]) -> list[int] | None:
    """Return the edges of the cheapest tree from a root to all nodes, or None where a node cannot be reached.

    Parameters
    ----------
    edges : sequence of (start, end, cost, name)
        The names of the chosen ones are returned.

    References
    ----------
    Chu and Liu 1965; Edmonds 1967: contract each cycle of cheapest entering edges, solve, expand.

    Examples
    --------
    >>> edges = [(0, 1, 5, 0), (0, 2, 1, 1), (2, 1, 2, 2)]
    >>> sorted(cheapest_tree(3, 0, edges))
    [1, 2]
    """
    best: list[tuple[int, int, int, int] | None] = [None] * nodes
    for edge in edges:
        end = edge[1]
        if end != root and edge[0] != end:
            known = best[end]
            if known is None or edge[2] < known[2]:
                best[end] = edge
    for node in range(nodes):
        if node != root and best[node] is None:
            return None
    cycle_of, cycles = _cycles(nodes, root, best)
    if cycles == 0:
        return [edge[3] for edge in best if edge is not None]
    number = [0] * nodes
    count = cycles
    for node in range(nodes):
        if cycle_of[node] >= 0:
            number[node] = cycle_of[node]
        else:
            number[node] = count
            count += 1
    # Between two contracted nodes only the cheapest way matters.
    shorter: dict[int, tuple[int, int, int, int]] = {}
    for index, (start, end, cost, _) in enumerate(edges):
        a, b = number[start], number[end]
        if a != b and end != root:
            if cycle_of[end] >= 0:
                cost -= best[end][2]  # type: ignore[index]  # noqa: PLW2901 - what it costs more than the edge it replaces
            key = a * count + b
            known = shorter.get(key)
            if known is None or cost < known[2]:
                shorter[key] = (a, b, cost, index)
    within = cheapest_tree(count, number[root], list(shorter.values()))
    if within is None:
        return None
    entered = [edges[index] for index in within]
    replaced = {edge[1] for edge in entered}
    kept = [
        edge[3] for node, edge in enumerate(best) if edge is not None and cycle_of[node] >= 0 and node not in replaced
    ]
    return kept + [edge[3] for edge in entered]


def _cycles(nodes: int, root: int, best: Sequence[tuple[int, int, int, int] | None]) -> tuple[list[int], int]:
    """Return for every node the number of the cycle of cheapest entering edges it lies on, or -1, and how many there are."""
    cycle_of = [-1] * nodes
    state = [0] * nodes
    state[root] = 2
    cycles = 0
    for node in range(nodes):
        # Followed backwards, a node met again on the same path lies on a cycle.
        here, way = node, []
        while state[here] == 0:
            state[here] = 1
            way.append(here)
            here = best[here][0]  # type: ignore[index]
        if state[here] == 1:
            at = here
            while True:
                cycle_of[at] = cycles
                at = best[at][0]  # type: ignore[index]
                if at == here:
                    break
            cycles += 1
        for one in way:
            state[one] = 2
    return cycle_of, cycles
