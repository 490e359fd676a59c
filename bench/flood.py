"""A second reading of a studio, apart from the program: its interchange form in, contacts and what they reach out.

Nothing of the survey, of planning or of what the studio's own classes know is used. Copper is a set of joints without direction, whatever
passes is an edge, and a signal floods both until nothing new is met.
"""

from typing import Any

Contact = tuple[str, str, int]

_LANES = {
    "adat": (8, 4, 2),
    "spdif": (2, 2, 2),
    "spdif-optical": (2, 2, 0),
    "aes3": (2,) * 3,
    "aes3-id": (2,) * 3,
    "madi": (64, 32, 16),
    "madi-56": (56, 28, 14),
    "madi-48k": (64, 32, 16),
    "madi-56-48k": (56, 28, 14),
    "word": (0,) * 3,
    "word-base": (0,) * 3,
    "cue": (12,) * 3,
}
_SPEEDS = ("single", "double", "quad")


def _switched(settings: dict[str, Any], stated: list[dict[str, Any]]) -> dict[str, Any]:
    found = {**settings, "modes": dict(settings["modes"])}
    for one in stated:
        if one["what"] == "mode":
            found["modes"][one["key"]] = one["value"]
        elif one["what"] == "power":
            found["off"] = one["value"] == "off"
    return found


class Flood:
    """The house of one evening and scene as joints and edges."""

    def __init__(self, form: dict[str, Any]) -> None:
        self.profiles = {p["id"]: p for p in form["profiles"]}
        self.units = {u["id"]: u for u in form["units"]}
        self.evening = next(s for s in form["sessions"] if s["id"] == form["session"])
        self.rate = self.evening["rate_hz"]
        self.speed = 0 if self.rate <= 48_000 else 1 if self.rate <= 96_000 else 2
        self.listed = {w["source"] for w in self.evening["wishes"]} | set(self.evening["destinations"])
        self.channels = {x["id"]: x["channels"] for x in (*form["sources"], *form["destinations"])}
        self.copper: dict[Contact, set[Contact]] = {}
        #: Contacts of a box that it joins inside itself.
        self.joined: set[tuple[Contact, Contact]] = set()
        self.ahead: dict[Contact, set[Contact]] = {}
        self.cables = [c for c in form["cables"] if self._active(c)]
        self.plugged = {(p["unit"], p["port"]) for c in self.cables for p in c["plugs"] if "unit" in p}
        self.points = {(b["id"], key) for b in form["bays"] for row in b["rows"] for key in row if key}
        scene = next((s for s in form["scenes"] if s["id"] == self.evening["scene"]), {"cords": [], "settings": {}})
        for key, unit in self.units.items():
            stated = [*self.evening["settings"].get(key, ()), *scene["settings"].get(key, ())]
            self.units[key] = {**unit, "settings": _switched(unit["settings"], stated)}
        self.cords = [c for c in scene["cords"] if all((p["unit"], p["port"]) in self.points for p in c["plugs"])]
        for unit in self.units.values():
            self._inner(unit)
        for cable in self.cables:
            self._cable(cable)
        self._bays(form["bays"])
        self.records = self._records(form["hosts"])

    # -- what a unit is --------------------------------------------------------------------------
    def port(self, unit: str, key: str) -> dict[str, Any]:
        return next(p for p in self.profiles[self.units[unit]["profile"]]["ports"] if p["key"] == key)

    def mode(self, unit: dict[str, Any], key: str) -> str:
        modes = {m["key"]: m for m in self.profiles[unit["profile"]]["modes"]}
        return unit["settings"]["modes"].get(key, modes[key]["choices"][0]["key"] if key in modes else "")

    def carried(self, unit: dict[str, Any], port: dict[str, Any]) -> str:
        chosen = self.mode(unit, port["format_mode"]) if port["format_mode"] else ""
        return chosen if chosen in port["carries"] else port["carries"][0]

    def digital(self, unit: str, key: str) -> bool:
        return self.port(unit, key)["carries"][0] in _LANES

    def runs(self, unit: dict[str, Any]) -> bool:
        profile = self.profiles[unit["profile"]]
        return not unit["settings"]["off"] and (not profile["clock_sources"] or self.rate in profile["rates_hz"])

    def lanes(
        self, unit: dict[str, Any], port: dict[str, Any], kind: str | None = None, speed: int | None = None
    ) -> int:
        speed = self.speed if speed is None else speed
        if port["only_speeds"] and _SPEEDS[speed] not in port["only_speeds"]:
            return 0
        kind = kind or self.carried(unit, port)
        if kind not in _LANES:
            return port["channels"]
        stated = port["lanes_at"].get(_SPEEDS[speed], _LANES[kind][speed])
        return stated if kind == "cue" else min(_LANES[kind][0], stated)

    def live_lanes(self, unit: dict[str, Any], port: dict[str, Any]) -> int:
        return self.lanes(unit, port) if self.runs(unit) or port["carries"][0] not in _LANES else 0

    @staticmethod
    def _that(port: dict[str, Any], way: str, most: int) -> list[int]:
        return [n for n in range(1, most + 1) if port["direction"] != "both" or port["lane_directions"][n - 1] == way]

    def _joins(self, profile: dict[str, Any], path: dict[str, Any]) -> bool:
        if path["kind"]:
            return path["kind"] == "joins"
        stages = [p["stage"] for p in profile["ports"] if p["key"] in path["to_ports"]]
        return profile["role"] in ("panel", "bay") and not path["sums"] and "transformer" not in stages

    def _inner(self, unit: dict[str, Any]) -> None:
        profile = self.profiles[unit["profile"]]
        ports = {p["key"]: p for p in profile["ports"]}
        for path in profile["inner_paths"]:
            joins = self._joins(profile, path)
            if any(self.mode(unit, m) != at for m, at in path["when"].items()) or (
                unit["settings"]["off"] and not joins
            ):
                continue
            begins = [
                (unit["id"], k, n)
                for k in path["from_ports"]
                for n in self._that(ports[k], "in", self.lanes(unit, ports[k], ports[k]["carries"][0]))
            ]
            ends = [
                (unit["id"], k, n)
                for k in path["to_ports"]
                for n in self._that(ports[k], "out", self.live_lanes(unit, ports[k]))
            ]
            if path["sums"] and ends:
                ends = [ends[i % len(ends)] for i in range(len(begins))]
            for a, b in zip(begins, ends, strict=False):
                if path["sums"] and unit["settings"]["mixes"].get(f"{b[1]}/{b[2]}", {}).get(f"{a[1]}/{a[2]}") == "off":
                    continue
                if joins and not self.digital(a[0], a[1]) and not self.digital(b[0], b[1]):
                    self._join(a, b)
                    self.joined.add((a, b))
                else:
                    self.ahead.setdefault(a, set()).add(b)
        for port in profile["ports"]:
            if (
                port["wiring"] == "insert"
                and port["direction"] == "both"
                and (unit["id"], port["key"]) not in self.plugged
            ):
                for a, b in zip(
                    self._that(port, "out", port["channels"]), self._that(port, "in", port["channels"]), strict=False
                ):
                    self.ahead.setdefault((unit["id"], port["key"], a), set()).add((unit["id"], port["key"], b))

    # -- what joins units ------------------------------------------------------------------------
    def _active(self, cable: dict[str, Any]) -> bool:
        lines = {p["line"] for p in cable["plugs"] if "line" in p}
        return (not cable["sessions"] or self.evening["id"] in cable["sessions"]) and lines <= self.listed

    def _join(self, a: Contact, b: Contact) -> None:
        self.copper.setdefault(a, set()).add(b)
        self.copper.setdefault(b, set()).add(a)

    def _cable(self, cable: dict[str, Any]) -> None:
        ends = [(p["unit"], p["port"]) if "unit" in p else (p["line"], p["side"]) for p in cable["plugs"]]
        sockets = [p for p in cable["plugs"] if "unit" in p]
        ports = [self.port(p["unit"], p["port"]) for p in sockets]
        wires = [((*ends[w["a"]], w["a_lane"]), (*ends[w["b"]], w["b_lane"])) for w in cable["wires"]]
        if any(p["carries"][0] in _LANES for p in ports):
            if len(sockets) == 2:
                one, other = (self.units[p["unit"]] for p in sockets)
                lanes = min(self.live_lanes(one, ports[0]), self.live_lanes(other, ports[1]))
                if self._agree(self.carried(one, ports[0]), self.carried(other, ports[1])):
                    for n in range(1, lanes + 1):
                        self.ahead.setdefault((*ends[0], n), set()).add((*ends[1], n))
            elif not wires:
                # What comes by a digital lead of its own is there whatever the socket is set to.
                for n in range(1, 3):
                    self.ahead.setdefault((*ends[0], n), set()).add((*ends[1], n))
            return
        for a, b in wires or [((*ends[0], n), (*ends[1], n)) for n in range(1, min(p["channels"] for p in ports) + 1)]:
            self._join(a, b)

    def _agree(self, sends: str, takes: str) -> bool:
        kinds = {sends, takes}
        if self.speed == 0:
            kinds = {k.removesuffix("-48k") if k.startswith("madi") else k for k in kinds}
        return len(kinds) == 1 or kinds <= {"spdif", "aes3", "aes3-id"}

    def _bays(self, bays: list[dict[str, Any]]) -> None:
        fronts = {(p["unit"], p["port"]) for c in self.cords for p in c["plugs"]}
        for bay in bays:
            for normal in bay["normals"]:
                a, b = (bay["id"], normal["start"]), (bay["id"], normal["end"])
                whole = {"full": a not in fronts and b not in fronts, "half": b not in fronts, "parallel": True}[
                    normal["mode"]
                ]
                if whole:
                    for n in range(1, min(self.port(*a)["channels"], self.port(*b)["channels"]) + 1):
                        self._join((*a, n), (*b, n))
        for cord in self.cords:
            if len(cord["plugs"]) == 2:
                a, b = ((p["unit"], p["port"]) for p in cord["plugs"])
                for n in range(1, min(self.port(*a)["channels"], self.port(*b)["channels"]) + 1):
                    self._join((*a, n), (*b, n))

    def _records(self, hosts: list[dict[str, Any]]) -> dict[Contact, int]:
        found: dict[Contact, int] = {}
        for host in hosts:
            count = 0
            for key in host["interfaces"]:
                unit = self.units[key]
                maps = self.profiles[unit["profile"]]["driver_maps"]
                chosen = next((m for m in maps if m["key"] == unit["settings"]["driver_map"]), maps[0])
                numbers = self._numbers(unit, chosen) if self.runs(unit) else []
                for n, at in enumerate(numbers, start=count + 1):
                    if at is not None:
                        found[key, at[0], at[1]] = n
                count += len(numbers)
        return found

    def _numbers(self, unit: dict[str, Any], chosen: dict[str, Any]) -> list[tuple[str, int] | None]:
        numbers: list[tuple[str, int] | None] = []
        fixed = chosen["numbering"] == "fixed"
        for block in chosen["inputs"]:
            timely = not block["speeds"] or _SPEEDS[self.speed] in block["speeds"]
            if any(self.mode(unit, m) != at for m, at in block["when"].items()) or (not timely and not fixed):
                continue
            if not block["ports"]:
                numbers += [None] * block["channels"]
            for key in block["ports"]:
                port = self.port(unit["id"], key)
                now = self.lanes(unit, port) if timely else 0
                room = max(now, self.lanes(unit, port, None, 0)) if fixed else now
                numbers += [(key, n) if n <= now else None for n in self._that(port, "in", room)]
        return numbers

    # -- what reaches what -----------------------------------------------------------------------
    def reach(self, start: Contact) -> set[Contact]:
        """Return every contact a signal floods; what is recorded is not followed into the box."""
        met, waiting = {start}, [start]
        while waiting:
            here = waiting.pop()
            beyond = () if here in self.records else self.ahead.get(here, ())
            for there in (*self.copper.get(here, ()), *beyond):
                if there not in met:
                    met.add(there)
                    waiting.append(there)
        return met

    def net(self, contact: Contact) -> frozenset[Contact]:
        met, waiting = {contact}, [contact]
        while waiting:
            for there in self.copper.get(waiting.pop(), ()):
                if there not in met:
                    met.add(there)
                    waiting.append(there)
        return frozenset(met)

    def ways(self, start: Contact) -> dict[Contact, int]:
        """Return by how many ways a signal comes to each driver input, each walked by itself: copper is one, no net is entered twice."""
        found: dict[Contact, int] = {}

        def walk(at: Contact, met: frozenset[frozenset[Contact]]) -> None:
            net = self.net(at)
            if net in met:
                return
            met |= {net}
            for here in net:
                if here in self.records:
                    found[here] = found.get(here, 0) + 1
                else:
                    for there in self.ahead.get(here, ()):
                        walk(there, met)

        walk(start, frozenset())
        return found

    def comes_back(self, start: Contact) -> bool:
        """Say whether a way from an input, each walked by itself and over no net twice, comes back to it: a ring."""
        home = self.net(start)

        def beyond(here: Contact) -> set[Contact]:
            # What a box joins inside as well is copper, whichever else of it passes there.
            return {there for there in self.ahead.get(here, ()) if (here, there) not in self.joined}

        def walk(at: Contact, met: frozenset[frozenset[Contact]]) -> bool:
            net = self.net(at)
            if net in met:
                return net == home
            return any(walk(there, met | {net}) for here in net for there in beyond(here))

        # From the input itself, not from all that its copper joins: it is its own passage that has to come round.
        return any(walk(there, frozenset({home})) for there in beyond(start))

    def taking(self, contact: Contact) -> bool:
        """Say whether something can come in at a contact: an input, or copper."""
        if contact[0] not in self.units:
            return False
        port = self.port(contact[0], contact[1])
        way = port["lane_directions"][contact[2] - 1] if port["direction"] == "both" else port["direction"]
        return way in ("in", "either")
