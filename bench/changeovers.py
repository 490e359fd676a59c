"""Changeovers replayed on a model that reads the interchange form alone: each step carried out where it stands in the order."""

import json
import random
from collections import Counter
from collections.abc import Iterator
from typing import Any, Final

from bench.evenings import wired_evening
from bench.flood import Flood
from bench.loop_houses import tried
from bench.report import Report
from ennead.edits.bays import add_bay
from ennead.edits.cables import connect, disconnect
from ennead.edits.house import add_unit
from ennead.edits.scene_switches import set_apart
from ennead.edits.scenes import add_scene, choose_scene, lay_cord
from ennead.edits.session import set_rate
from ennead.edits.sessions import copy_session
from ennead.edits.settings import (
    set_clock_source,
    set_feed,
    set_gain,
    set_level,
    set_mode,
    set_output,
    set_pad,
    set_phantom,
    switch_off,
)
from ennead.files.interchange import to_json
from ennead.files.profiles import shelf_profile
from ennead.planning.moves.difference import Step
from ennead.reports.changeover import changeover
from ennead.studio.document import Studio
from ennead.studio.house import Cable, PortEnd, SourceEnd
from ennead.studio.ids import SceneId, SessionId
from ennead.studio.mixes import feeds_offered, mixable

_LOUDSPEAKER: Final = "active loudspeaker"
_MORE: Final = (
    "eight-preamp interface, one optical pair",
    "console, eight channels, bay built in",
    "eight-line interface with MADI",
)


def pair(seed: int) -> Studio:
    """Return a house with two sessions that differ in cables, cords, switches, clock and rate, each in a scene of its own."""
    dice = random.Random(seed)
    studio = wired_evening(seed)
    for name in [*dice.sample(_MORE, dice.randint(0, 2)), _LOUDSPEAKER][: dice.randint(1, 3)]:
        studio = add_unit(studio, shelf_profile(name))
    studio = add_bay(studio, "A", 8, mode=dice.choice(("half", "full", "")))
    points = [PortEnd(u, key) for u, bay in studio.bays.items() for key in sorted(bay.points)]
    ends = [PortEnd(u.id, p.key) for u in studio.units.values() for p in studio.profile_of(u.id).ports]
    for _ in range(14):
        studio = tried(studio, connect, *dice.sample([dice.choice(points), dice.choice(ends)], 2))
    studio = _turned(studio, dice, 6)
    for name in ("One", "Two"):
        studio = add_scene(studio, name)
        for _ in range(dice.randint(0, 4)):
            studio = tried(studio, lay_cord, dice.choice(points), dice.choice(points))
        if dice.random() < 0.4:
            studio = tried(studio, set_apart, dice.choice(list(studio.units)), True)
            studio = _turned(studio, dice, 3)
    studio = choose_scene(studio, dice.choice([SceneId(""), *studio.scenes]))
    studio = copy_session(studio, "Other")
    studio = _turned(choose_scene(studio, dice.choice([SceneId(""), *studio.scenes])), dice, 10)
    own = [c.id for c in studio.cables.values() if c.sessions]
    for key in dice.sample(own, min(len(own), 4)):
        studio = tried(studio, disconnect, key)
    for source in studio.current.sources[:6]:
        studio = tried(studio, connect, SourceEnd(source, 1), dice.choice(ends))
    return set_rate(studio, dice.choice((studio.rate_hz, 96_000)))


def _turned(studio: Studio, dice: random.Random, times: int) -> Studio:
    for _ in range(times):
        unit = dice.choice(list(studio.units))
        profile = studio.profile_of(unit)
        pads = [p.key for p in profile.ports if p.pad_db is not None]
        if profile.banks and dice.random() < 0.5:
            studio = set_phantom(studio, unit, dice.choice(profile.banks).key, on=dice.random() < 0.7)
        if profile.modes and dice.random() < 0.5:
            mode = dice.choice(profile.modes)
            studio = set_mode(studio, unit, mode.key, dice.choice(mode.choices).key)
        if profile.clock_sources and dice.random() < 0.5:
            studio = set_clock_source(studio, unit, dice.choice(profile.clock_sources).key)
        if pads and dice.random() < 0.5:
            studio = set_pad(studio, unit, dice.choice(pads), on=dice.random() < 0.5)
        for port in dice.sample(profile.ports, min(2, len(profile.ports))):
            studio = tried(studio, set_gain, unit, port.key, dice.choice((None, 20.0, 41.5)))
            studio = tried(studio, set_output, unit, port.key, dice.choice(("on", "off", "fixed")))
        for mix, held in dice.sample(sorted(mixable(profile).items()), min(2, len(mixable(profile)))):
            studio = set_level(studio, unit, mix, dice.choice(held), dice.choice((None, "off", -6.0, 2.5)))
        for lane, offered in dice.sample(sorted(feeds_offered(profile).items()), min(2, len(feeds_offered(profile)))):
            studio = set_feed(studio, unit, lane, dice.choice(("", *offered)))
        if dice.random() < 0.2:
            studio = tried(studio, switch_off, unit, dice.random() < 0.5)
    return studio


class _State:
    """One session as the form has it: cables by what they join, cords, and every switch."""

    def __init__(self, form: dict[str, Any], session: str) -> None:
        self.form = {**form, "session": session}
        self.flood = Flood(self.form)
        evening = next(s for s in form["sessions"] if s["id"] == session)
        scene = next((s for s in form["scenes"] if s["id"] == evening["scene"]), {"cords": [], "settings": {}})
        self.cables = Counter(_joined(c) for c in self.flood.cables)
        self.cords = {frozenset((p["unit"], p["port"]) for p in c["plugs"]) for c in scene["cords"]}
        self.switches: dict[tuple[str, str, str], str] = {}
        profiles = {p["id"]: p for p in form["profiles"]}
        for unit in form["units"]:
            profile, now = profiles[unit["profile"]], unit["settings"]
            mine = {("phantom", b["key"]): "on" if b["key"] in now["phantom"] else "off" for b in profile["banks"]}
            mine |= {
                ("pad", p["key"]): "on" if p["key"] in now["pads"] else "off"
                for p in profile["ports"]
                if p["pad_db"] is not None
            }
            mine |= {("mode", m["key"]): now["modes"].get(m["key"], m["choices"][0]["key"]) for m in profile["modes"]}
            mine |= {
                ("clock", ""): now["clock_source"],
                ("rate", ""): str(now["rate_hz"] or ""),
                ("power", ""): "off" if now["off"] else "on",
            }
            ins, outs = ([p["key"] for p in profile["ports"] if p["direction"] == way] for way in ("in", "out"))
            mine |= {("gain", key): f"{now['gains'][key]:g}" if key in now["gains"] else "" for key in ins}
            mine |= {("output", key): now["outputs"].get(key, "on") for key in outs}
            named = [s for level in (*form["sessions"], *form["scenes"]) for s in level["settings"].get(unit["id"], ())]
            mine |= {(s["what"], s["key"]): "" for s in named if s["what"] in ("mix", "feed")}
            mine |= {("feed", key): feed for key, feed in now["feeds"].items()}
            for key, levels in now["mixes"].items():
                said = [f"{lane} {level if level == 'off' else f'{level:g}'}" for lane, level in sorted(levels.items())]
                mine["mix", key] = ", ".join(said)
            for level in (evening, scene):
                mine |= {(s["what"], s["key"]): s["value"] for s in level["settings"].get(unit["id"], ())}
            self.switches |= {(unit["id"], *key): value for key, value in mine.items()}
        self.rate = evening["rate_hz"], evening["pull_ppm"]

    def banks_behind(self, plugs: list[tuple[str, str]]) -> set[tuple[str, str]]:
        """Return the banks whose 48 V is on the conductors at some sockets."""
        found = set()
        for unit, port in plugs:
            for lane in range(1, 33):
                for there, key, _ in self.flood.net((unit, port, lane)) | {(unit, port, lane)}:
                    box = next((u for u in self.form["units"] if u["id"] == there), None)
                    if box is not None:
                        banks = next(p for p in self.form["profiles"] if p["id"] == box["profile"])["banks"]
                        found |= {(there, b["key"]) for b in banks if key in b["ports"]}
        return found

    def drives(self, unit: str, entry: str) -> tuple[str, object] | None:
        """Return the unit a clock menu's entry listens to, and its cable."""
        box = next(u for u in self.form["units"] if u["id"] == unit)
        profile = next(p for p in self.form["profiles"] if p["id"] == box["profile"])
        port = next((c.get("port", "") for c in profile["clock_sources"] if c["key"] == entry), "")
        for cable in self.flood.cables:
            plugs = [(p.get("unit"), p.get("port")) for p in cable["plugs"]]
            if (unit, port) in plugs and len(plugs) == 2:
                other = plugs[1 - plugs.index((unit, port))][0]
                return (str(other), _joined(cable)) if other else None
        return None


def _joined(cable: dict[str, Any]) -> str:
    return json.dumps([cable["plugs"], cable["wires"]], sort_keys=True)


class _Replay:
    """A session on the way to another: what is plugged and set, step by step, and what is wrong with each."""

    def __init__(self, form: dict[str, Any], start: str, end: str) -> None:
        self.now, self.before, self.goal = _State(form, start), _State(form, start), _State(form, end)
        self.points = {p for cord in self.now.cords for p in cord}
        self.clocked: set[str] = set()

    def step(self, name: str, step: Step, later: set[str]) -> Iterator[str]:
        """Carry out one step; `later` are the boxes whose clock is still to be set."""
        leaving = step.kind == "pull" or (step.move is not None and step.move.action == "pull")
        if step.cable is not None or step.move is not None:
            hot = (self.before if leaving else self.goal).banks_behind(_sockets(step))
            live = {bank for bank in hot if self.now.switches[bank[0], "phantom", bank[1]] == "on"}
            if live:
                yield f"{name} with 48 V on behind it, {live}"
        if step.cable is not None:
            self.now.cables[_key(step.cable)] += -1 if leaving else 1
            if self.now.cables[_key(step.cable)] < 0:
                yield f"{name} is not there"
        elif step.turn is not None:
            yield from self._set(name, step, later)
        elif step.move is not None:
            (point,) = _sockets(step)
            if (point in self.points) != leaving:
                yield f"{name}: the point is {'empty' if leaving else 'taken'}"
            self.points ^= {point}
        elif step.kind == "rate":
            self.now.rate = self.goal.rate

    def _set(self, name: str, step: Step, later: set[str]) -> Iterator[str]:
        assert step.turn is not None
        switch, was = step.turn
        key = str(switch.unit), str(switch.what), switch.key
        if self.now.switches[key] != was.value:
            yield f"{name} stood at {self.now.switches[key]}"
        self.now.switches[key] = switch.value
        ahead = self.goal.drives(switch.unit, switch.value) if switch.what == "clock" else None
        if ahead is not None:
            if ahead[0] in later and not _ring(self.goal, switch.unit):
                yield f"{name} before its leader"
            if self.now.cables[str(ahead[1])] < 1:
                yield f"{name} before its cable"

    def left(self) -> Iterator[str]:
        """Yield in what the end differs from the other session."""
        cables = +self.now.cables
        if cables != +self.goal.cables:
            yield f"cables differ: {cables - self.goal.cables}, {self.goal.cables - cables}"
        if self.points != {p for cord in self.goal.cords for p in cord}:
            yield "plugs of cords differ"
        differ = [(k, v, self.goal.switches[k]) for k, v in self.now.switches.items() if v != self.goal.switches[k]]
        if differ or self.now.rate != self.goal.rate:
            yield f"switches differ: {differ}, {self.now.rate}, {self.goal.rate}"


def faults_of(studio: Studio, start: SessionId, end: SessionId) -> Iterator[str]:
    """Yield whatever is not as it should be on the way from one session to another, in words."""
    replay = _Replay(json.loads(to_json(studio)), start, end)
    moves = changeover(studio, start, end).moves
    for n, move in enumerate(moves):
        later = {m.step.turn[0].unit for m in moves[n + 1 :] if m.step.kind == "clock" and m.step.turn is not None}
        yield from replay.step(move.action, move.step, later)
    yield from replay.left()
    silent = [n for n, m in enumerate(moves) if m.step.kind in ("mute", "unmute")]
    if silent != ([0, len(moves) - 1] if moves else []):
        yield f"the monitors are turned down and up at {silent} of {len(moves)}"
    amplifiers = [n for n, m in enumerate(moves) if m.step.kind in ("power off", "power on")]
    heard = [n for n, m in enumerate(moves) if m.step.kind in ("pull", "plug", "cord", "switch", "rate", "clock")]
    for n in amplifiers:
        if any(n < h for h in heard) if moves[n].step.kind == "power on" else any(n > h for h in heard):
            yield f"{moves[n].action} while something it hears changes"


def _sockets(step: Step) -> list[tuple[str, str]]:
    if step.move is not None and step.move.point is not None:
        return [(step.move.point.unit, step.move.point.port)]
    return [(p.unit, p.port) for p in step.cable.plugs if isinstance(p, PortEnd)] if step.cable is not None else []


def _key(cable: Cable) -> str:
    return json.dumps([_plain_plugs(cable), _plain_wires(cable)], sort_keys=True)


def _plain_plugs(cable: Cable) -> list[dict[str, Any]]:
    return [
        {"unit": p.unit, "port": p.port} if isinstance(p, PortEnd) else {"line": p.line, "side": p.side}
        for p in cable.plugs
    ]


def _plain_wires(cable: Cable) -> list[dict[str, Any]]:
    return [{"a": w.a, "a_lane": w.a_lane, "b": w.b, "b_lane": w.b_lane} for w in cable.wires]


def _ring(state: _State, unit: str) -> bool:
    """Say whether a unit follows itself in the end; then none is before the other."""
    met, at = set[str](), unit
    while at not in met:
        met.add(at)
        ahead = state.drives(at, state.switches[at, "clock", ""])
        if ahead is None:
            return False
        at = ahead[0]
    return True


def run(report: Report, times: int = 500) -> None:
    """Try that many pairs of sessions, there and back."""
    report.head(f"{times} random changeovers, there and back, replayed on a model that reads the form alone")
    wrong = steps = 0
    for seed in range(times):
        studio = pair(seed)
        one, *_, other = studio.sessions
        for start, end in ((one, other), (other, one)):
            steps += len(changeover(studio, start, end).moves)
            for text in faults_of(studio, start, end):
                wrong += 1
                report.say(f"  pair {seed}, {start} to {end}: {text}")
    report.figure("changeovers_wrong", wrong + (not steps), f"{steps} steps, {wrong} times something was wrong", 0)
