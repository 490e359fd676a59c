"""The search for the cheapest tree that uses no more sockets than there are: prices on scarce ones, mending, branching."""

from collections.abc import Callable, Sequence
from math import gcd
from typing import Final

from ennead.planning.clock.arborescence import Edge, cheapest_tree

_ROUNDS: Final = 60


class TreeSearch:
    """The search for the cheapest tree that the sockets allow."""

    def __init__(
        self, nodes: int, root: int, edges: Sequence[Edge], sockets: Sequence[int], hops: int | None, grain: int = 0
    ) -> None:
        self.nodes, self.root, self.edges, self.sockets, self.hops = nodes, root, edges, sockets, hops
        self.prices = [0] * len(sockets)
        self.best: list[int] | None = None
        self.cost = 0
        self.looked_at = 0
        self.leaving: list[list[int]] = [[] for _ in range(nodes)]
        self.entering: list[list[int]] = [[] for _ in range(nodes)]
        for index, edge in enumerate(edges):
            self.leaving[edge.start].append(index)
            self.entering[edge.end].append(index)
        # Every tree costs a multiple of this, or a little less, so that a bound between two multiples is worth the upper one.
        self.unit = grain or gcd(*(e.cost for e in edges)) or 1
        self.can_feed = [
            sum(sockets[g] for g in {edges[i].group for i in leaving} if g >= 0) for leaving in self.leaving
        ]

    def priced(self, without: frozenset[int], forced: dict[int, int]) -> list[tuple[int, int, int, int]]:
        """Return the edges that may be used, with what their sockets are worth put on top."""
        prices = self.prices
        return [
            (e.start, e.end, e.cost + prices[e.group] if e.group >= 0 else e.cost, i)
            for i, e in enumerate(self.edges)
            if i not in without and forced.get(e.end, i) == i
        ]

    def real(self, tree: Sequence[int]) -> int:
        """Return the cost of a tree without the prices of sockets."""
        return sum(self.edges[i].cost for i in tree)

    def rounded(self, cost: int) -> int:
        """Return a cost up to the next multiple of the unit: what is less only settles ties."""
        return -(-cost // self.unit) * self.unit

    def is_reached(self, lowest: int) -> bool:
        """Say whether a bound proves that nothing is cheaper than the best so far, ties aside."""
        return self.best is not None and lowest >= self.rounded(self.cost)

    def offer(self, tree: list[int]) -> None:
        """Keep a tree if it is allowed and cheaper than the best so far."""
        cost = self.real(tree)
        if self.best is None or cost < self.cost:
            self.best, self.cost = tree, cost

    def broken(self, tree: Sequence[int]) -> list[int]:
        """Return edges of a tree of which one at least must go: too many on one kind of socket, or too long a way."""
        by_group: dict[int, list[int]] = {}
        for i in tree:
            if (group := self.edges[i].group) >= 0:
                by_group.setdefault(group, []).append(i)
        over = [(len(used) - self.sockets[g], used) for g, used in by_group.items() if len(used) > self.sockets[g]]
        if over:
            # The fewest to choose among first.
            return min(over, key=lambda o: (len(o[1]), -o[0]))[1]
        if self.hops is not None:
            into = {self.edges[i].end: i for i in tree}
            for node in range(self.nodes):
                way, here = [], node
                while here != self.root:
                    way.append(into[here])
                    here = self.edges[into[here]].start
                if len(way) > self.hops:
                    return way[-self.hops - 1 :]
        return []

    def grow(self) -> None:
        """Grow a tree from the root, always by the cheapest edge that is left; offer it if it reaches all nodes."""
        room = list(self.sockets)
        depth = {self.root: 0}
        tree: list[int] = []
        waiting = list(self.leaving[self.root])
        while len(depth) < self.nodes:
            found: int | None = None
            rank: tuple[int, int, int] = (0, 0, 0)
            still = []
            for i in waiting:
                edge = self.edges[i]
                if edge.end in depth:
                    continue
                still.append(i)
                if edge.group >= 0 and room[edge.group] < 1:
                    continue
                if self.hops is not None and depth[edge.start] >= self.hops:
                    continue
                price = edge.cost + (self.prices[edge.group] if edge.group >= 0 else 0)
                here = (price, depth[edge.start], -self.can_feed[edge.end])
                if found is None or here < rank:
                    found, rank = i, here
            if found is None:
                return
            edge = self.edges[found]
            if edge.group >= 0:
                room[edge.group] -= 1
            depth[edge.end] = depth[edge.start] + 1
            tree.append(found)
            waiting = still + self.leaving[edge.end]
        self.offer(tree)

    def mend(self, tree: Sequence[int]) -> None:
        """Move what is too much on a kind of socket to where there is room, the cheapest move first; offer the result."""
        if self.hops is not None:
            return
        edges, room = self.edges, list(self.sockets)
        into = {edges[i].end: i for i in tree}
        for i in tree:
            if edges[i].group >= 0:
                room[edges[i].group] -= 1
        for _ in range(2 * self.nodes):
            over = [v for v, i in into.items() if edges[i].group >= 0 and room[edges[i].group] < 0]
            best: tuple[int, int] | None = None
            for node in over or into:
                now = edges[into[node]].cost
                below: set[int] | None = None
                for i in self.entering[node]:
                    edge = edges[i]
                    more = edge.cost - now
                    if (edge.group >= 0 and room[edge.group] < 1) or (best is not None and more >= best[0]):
                        continue
                    if not over and more >= 0:
                        continue
                    if below is None:
                        below = self.below(node, into)
                    if edge.start not in below:
                        best = more, i
                if best is not None and over and best[0] <= 0:
                    break
            if best is None:
                if over:
                    return
                break
            edge = edges[best[1]]
            old = edges[into[edge.end]].group
            if old >= 0:
                room[old] += 1
            if edge.group >= 0:
                room[edge.group] -= 1
            into[edge.end] = best[1]
        if all(r >= 0 for r in room):
            self.offer(list(into.values()))

    def below(self, node: int, into: dict[int, int]) -> set[int]:
        """Return a node and all it feeds, near and far."""
        feeds: dict[int, list[int]] = {}
        for end, i in into.items():
            feeds.setdefault(self.edges[i].start, []).append(end)
        found, waiting = {node}, [node]
        while waiting:
            for there in feeds.get(waiting.pop(), ()):
                found.add(there)
                waiting.append(there)
        return found

    def bound(self, tree: Sequence[int]) -> int:
        """Return the lower bound that a cheapest priced tree proves."""
        priced = sum(self.edges[i].cost + (self.prices[g] if (g := self.edges[i].group) >= 0 else 0) for i in tree)
        whole = priced - sum(p * s for p, s in zip(self.prices, self.sockets, strict=True))
        return self.rounded(whole)

    def price_by_regret(self) -> None:
        """Price each kind of socket at what the first one left without would lose; a start for better prices.

        It is the dual of the assignment of sockets without the condition that the tree is connected.
        """
        into: list[list[tuple[int, int]]] = [[] for _ in range(self.nodes)]
        for edge in self.edges:
            if edge.end != self.root:
                into[edge.end].append((edge.cost, edge.group))
        prices = self.prices
        for _ in range(3):
            changed = False
            wanting: dict[int, list[int]] = {}
            for ways in into:
                best, group, second = -1, -1, -1
                for cost, of in ways:
                    priced = cost + prices[of] if of >= 0 else cost
                    if best < 0 or priced < best:
                        if of != group:
                            second = best
                        best, group = priced, of
                    elif of != group and (second < 0 or priced < second):
                        second = priced
                if group >= 0:
                    wanting.setdefault(group, []).append(second - best if second >= 0 else 1 << 40)
            for group, regrets in wanting.items():
                if len(regrets) > self.sockets[group]:
                    regrets.sort(reverse=True)
                    more = regrets[self.sockets[group]]
                    if 0 < more < 1 << 40:
                        prices[group] += more
                        changed = True
            if not changed:
                return

    def price_sockets(self, lowest: int) -> int:
        """Put prices on scarce sockets until the cheapest tree nearly respects them; return the best lower bound.

        References
        ----------
        Held and Karp 1971: Lagrangian bounds by subgradients, with Polyak's step.
        """
        best_prices = list(self.prices)
        self.price_by_regret()
        for number in range(_ROUNDS):
            tree = cheapest_tree(self.nodes, self.root, self.priced(frozenset(), {}))
            if tree is None:
                break
            here = self.bound(tree)
            if here > lowest:
                lowest, best_prices = here, list(self.prices)
            used = [0] * len(self.sockets)
            for i in tree:
                if self.edges[i].group >= 0:
                    used[self.edges[i].group] += 1
            over = [u - s for u, s in zip(used, self.sockets, strict=True)]
            if self.broken(tree):
                self.mend(tree)
            else:
                self.offer(tree)
            if self.is_reached(lowest):
                break
            moves = [o if o > 0 or p > 0 else 0 for o, p in zip(over, self.prices, strict=True)]
            size = sum(m * m for m in moves)
            if size == 0:
                break
            target = self.cost if self.best is not None else here + max(1, abs(here) // 4) + 8
            step = max(1.0, (target - here) / size) if number < _ROUNDS // 2 else max(0.5, (target - here) / (2 * size))
            self.prices = [max(0, round(p + step * m)) for p, m in zip(self.prices, moves, strict=True)]
        self.prices = best_prices
        return lowest

    def branch(self, lowest: int, most: int, stop: Callable[[], bool]) -> int:
        """Look at every tree that could be cheaper, cutting off what the bound rules out; return what is proven."""
        stack: list[tuple[int, frozenset[int], dict[int, int]]] = [(lowest, frozenset(), {})]
        while stack:
            floor, without, forced = stack.pop()
            if self.best is not None and floor >= self.cost:
                continue
            self.looked_at += 1
            if self.looked_at > most or stop():
                return min([floor, *(s[0] for s in stack)])
            tree = cheapest_tree(self.nodes, self.root, self.priced(without, forced))
            if tree is None:
                continue
            floor = max(floor, self.bound(tree))
            if self.best is not None and floor >= self.cost:
                continue
            guilty = self.broken(tree)
            if not guilty:
                self.offer(tree)
                # Prices can make an allowed tree dearer than it is; others may still lie between bound and cost.
                if self.is_reached(floor) or not any(self.prices):
                    continue
                guilty = [i for i in tree if i != forced.get(self.edges[i].end)]
            guilty = [i for i in guilty if forced.get(self.edges[i].end) != i]
            children = []
            for at, i in enumerate(guilty):
                held = {**forced, **{self.edges[j].end: j for j in guilty[:at]}}
                children.append((floor, without | {i}, held))
            stack += children[::-1]
        return self.rounded(self.cost)
