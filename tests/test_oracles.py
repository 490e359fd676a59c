"""Numbers and runs against a second, plainer reading of the same studio, on random boxes and random houses."""

import contextlib
import json
import random
import unittest
from dataclasses import replace

from bench.flood import Flood
from ennead.edits.cables import connect
from ennead.edits.house import add_unit
from ennead.edits.session import add_source, set_rate
from ennead.edits.settings import set_mode
from ennead.files.interchange import to_json
from ennead.files.profiles import shelf, shelf_profile
from ennead.standards.rates import RATES_HZ
from ennead.studio.document import empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.profile import Block, Choice, DriverMap, Mode
from ennead.survey.survey import Survey
from tests.builders import INTERFACE
from tests.trials import few

LANES = {
    "adat": (8, 4, 2),
    "spdif": (2, 2, 2),
    "spdif-optical": (2, 2, 0),
    "aes3": (2,) * 3,
    "madi": (64, 32, 16),
    "madi-56": (56, 28, 14),
    "madi-48k": (64, 32, 16),
    "madi-56-48k": (56, 28, 14),
    "aes3-id": (2,) * 3,
    "word": (0,) * 3,
    "word-base": (0,) * 3,
    "cue": (12,) * 3,
}


def speed_index(rate):
    return 0 if rate <= 48_000 else 1 if rate <= 96_000 else 2


def carried(profile, settings, port):
    """Return what a port carries, read straight from the profile and the unit's modes."""
    if port.format_mode:
        mode = next(m for m in profile.modes if m.key == port.format_mode)
        return settings.modes.get(mode.key, mode.choices[0].key)
    return port.carries[0]


def lanes(profile, settings, port, rate, speed=None):
    index = speed_index(rate) if speed is None else speed
    if port.only_speeds and ("single", "double", "quad")[index] not in port.only_speeds:
        return 0
    kind = carried(profile, settings, port)
    return LANES[kind][index] if kind in LANES else port.channels


def numbers(profile, settings, rate, blocks, fixed):
    """Return (port, lane) or None for every number from 1, by walking the blocks once."""
    out = []
    name = ("single", "double", "quad")[speed_index(rate)]
    for block in blocks:
        stands = all(
            settings.modes.get(m, next(x for x in profile.modes if x.key == m).choices[0].key) == v
            for m, v in block.when.items()
        )
        timely = not block.speeds or name in block.speeds
        if not stands or (not timely and not fixed):
            continue
        if not block.ports:
            out += [None] * block.channels
        for key in block.ports:
            port = next(p for p in profile.ports if p.key == key)
            now = lanes(profile, settings, port, rate) if timely else 0
            room = max(now, lanes(profile, settings, port, rate, 0)) if fixed else now
            out += [(key, n) if n <= now else None for n in range(1, room + 1)]
    return out


class Numbers(unittest.TestCase):
    def test_random_maps_at_every_rate_and_mode(self):
        dice = random.Random(11)
        box = shelf_profile(INTERFACE)
        keys = [p.key for p in box.ports if p.direction == "in"]
        for _ in range(60):
            blocks = []
            rest = dice.sample(keys, len(keys))
            while rest:
                ports = tuple(rest.pop() for _ in range(min(len(rest), dice.randint(1, 4))))
                when = {"optical": dice.choice(("adat", "spdif-optical"))} if dice.random() < 0.4 else {}
                speeds = tuple(dice.sample(("single", "double", "quad"), dice.choice((0, 0, 1, 2))))
                blocks.append(Block(f"b{len(blocks)}", "Block", ports, when=when, speeds=speeds))
                if dice.random() < 0.5:
                    blocks.append(Block(f"v{len(blocks)}", "Virtual", channels=dice.randint(1, 5)))
            numbering = dice.choice(("collapsing", "fixed"))
            profile = replace(box, driver_maps=(DriverMap("m", "M", numbering, tuple(blocks), ()),))
            studio = add_unit(empty_studio(), profile)
            for mode in ("adat", "spdif-optical"):
                for rate in RATES_HZ:
                    now = set_rate(set_mode(studio, "U1", "optical", mode), rate)
                    wanted = numbers(profile, now.settings_of("U1"), rate, blocks, numbering == "fixed")
                    found = Survey(now).numbering.inputs
                    self.assertEqual([d.number for d in found], list(range(1, len(wanted) + 1)))
                    got = [
                        (d.channel.port, d.channel.lane) if d.channel.live and d.channel.port else None for d in found
                    ]
                    self.assertEqual(got, wanted)


class Runs(unittest.TestCase):
    """Every lane of every cable and every inner path, flooded without any cleverness."""

    def house(self, dice):
        """Return a few random boxes, cabled at random wherever sockets fit, with a dozen sources plugged at random."""
        studio = add_unit(empty_studio(), dice.choice([p for p in shelf() if p.driver_maps]))
        for _ in range(dice.randint(1, 4)):
            studio = add_unit(studio, dice.choice(shelf()))
        ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
        for _ in range(150):
            start, into = dice.choice(ends), dice.choice(ends)
            with contextlib.suppress(EnneadError):
                studio = connect(studio, start, into)
        for n in range(12):
            studio = add_source(
                studio, f"S {n}", kind=dice.choice(("dynamic", "digital")), channels=dice.choice((1, 2))
            )
            for channel in (1, 2):
                with contextlib.suppress(EnneadError):
                    studio = connect(studio, SourceEnd(f"S{n + 1}", channel), dice.choice(ends))
        for unit in studio.units:
            if dice.random() < 0.3:
                with contextlib.suppress(EnneadError):
                    mode = dice.choice(studio.profile_of(unit).modes or [Mode("optical", "", (Choice("x", ""),))])
                    studio = set_mode(studio, unit, mode.key, dice.choice(mode.choices).key)
        return set_rate(studio, dice.choice(RATES_HZ))

    def test_random_houses(self):
        complete = 0
        for seed in range(few(180, 300)):
            studio = self.house(random.Random(seed))
            flood = Flood(json.loads(to_json(studio)))
            for run in Survey(studio).signal_paths:
                ends = [c.end for c in studio.cables.values() if run.source in c.lines]
                if run.of.kind == "digital" and not all(studio.port(e).is_digital for e in ends):
                    continue
                found = {flood.records[c] for c in flood.reach((run.source, "", run.channel)) if c in flood.records}
                with self.subTest(seed=seed, run=run.signal):
                    self.assertEqual(run.driver is not None, bool(found))
                    if run.driver is not None:
                        self.assertIn(run.driver.number, found)
                        complete += 1
        self.assertGreater(complete, few(120, 200))
