"""The clock rule against brute force on small houses, and the drift figures of the standards."""

import itertools
import random
import unittest

from ennead.edits.cables import connect
from ennead.edits.settings import set_clock_source
from ennead.standards.clock import slip_s
from ennead.studio.errors import EnneadError
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, rig

BOXES = (
    INTERFACE,
    EXPANDER,
    "eight-preamp interface, two optical pairs",
    "eight-preamp expander, two optical outputs",
    "word-clock generator, six outputs",
    "eight-channel line converter, two optical pairs",
)


def random_house(dice):
    """Return two to four digital units with random legal digital cables and random clock settings."""
    studio = rig(*dice.sample(BOXES, dice.randint(2, 4)))
    outs = [
        end(u, p.key) for u in studio.units for p in studio.profile_of(u).ports if p.is_digital and p.direction == "out"
    ]
    ins = [
        end(u, p.key) for u in studio.units for p in studio.profile_of(u).ports if p.is_digital and p.direction == "in"
    ]
    for _ in range(dice.randint(1, 7)):
        one, other = dice.choice(outs), dice.choice(ins)
        try:
            studio = connect(studio, one, other) if one.unit != other.unit else studio
        except EnneadError:
            continue
    for unit in studio.units:
        studio = set_clock_source(studio, unit, dice.choice(studio.profile_of(unit).clock_sources).key)
    return studio


def feeders(studio):
    """Return for every unit and clock menu entry which unit's clock arrives there; None is its own crystal."""
    found = {}
    for unit in studio.units:
        profile = studio.profile_of(unit)
        for entry in profile.clock_sources:
            if entry.port is None:
                found[unit, entry.key] = unit
            for cable in studio.cables.values():
                if (
                    cable.end == end(unit, entry.port or "")
                    and studio.port(cable.start).carries[0] == studio.port(cable.end).carries[0]
                ):
                    found[unit, entry.key] = cable.start.unit
    return found


def walk(settings, feeds, unit):
    """Follow a unit's clock for as many steps as there are units; return the crystal it ends on, or None."""
    for _ in range(len(settings) + 1):
        source = feeds.get((unit, settings.get(unit)))
        if source is None or source == unit:
            return source
        unit = source
    return None


class AgainstBruteForce(unittest.TestCase):
    def test_who_is_locked_and_who_could_lead(self):
        dice = random.Random(7)
        led = 0
        for _ in range(150):
            studio = random_house(dice)
            feeds = feeders(studio)
            now = {u: studio.settings_of(u).clock_source for u in studio.units}
            clocks = Survey(studio).clocks
            for unit, clock in clocks.by_unit.items():
                self.assertEqual(clock.leader, walk(now, feeds, unit))
                self.assertEqual(clock.state == "leads", feeds.get((unit, now[unit])) == unit)
                self.assertEqual(clock.hops >= 0, clock.leader is not None)
            for domain in clocks.domains:
                menus = [[(u, c.key) for c in studio.profile_of(u).clock_sources] for u in domain.units]
                able = set()
                for choice in itertools.product(*menus):
                    settings = dict(choice)
                    crystals = {walk(settings, feeds, u) for u in domain.units}
                    if len(crystals) == 1 and None not in crystals:
                        able |= crystals
                self.assertEqual(set(domain.possible), able)
                led += len(able)
                for leader, settings in domain.possible.items():
                    self.assertEqual({walk(settings, feeds, u) for u in domain.units}, {leader})
        self.assertGreater(led, 100)


class StandardFigures(unittest.TestCase):
    def test_slip_times(self):
        self.assertAlmostEqual(slip_s(48_000, 100), 0.2083, 4)
        self.assertAlmostEqual(slip_s(48_000, 1), 20.83, 2)
        self.assertAlmostEqual(slip_s(44_100, 51), 0.4446, 4)
        for bad in ((0, 1), (48_000, 0), (48_000, float("inf")), (float("nan"), 1)):
            self.assertRaises(ValueError, slip_s, *bad)

    def test_one_fibre_lets_only_the_sender_lead(self):
        (domain,) = Survey(one_fibre()).clocks.domains
        self.assertEqual(dict(domain.possible), {"U2": {"U2": "internal", "U1": "optical"}})
        back = connect(one_fibre(), end("U1", "optical_out"), end("U2", "optical_in"))
        self.assertEqual(set(Survey(back).clocks.domains[0].possible), {"U1", "U2"})

    def test_hops_count_cables(self):
        studio = rig("word-clock generator, six outputs", "eight-preamp interface, two optical pairs", EXPANDER)
        studio = connect(studio, end("U1", "word_out1"), end("U2", "word_in"))
        studio = connect(studio, end("U2", "optical_a_out"), end("U3", "optical_in"))
        studio = set_clock_source(set_clock_source(studio, "U2", "word"), "U3", "optical")
        clocks = Survey(studio).clocks.by_unit
        self.assertEqual([clocks[u].hops for u in ("U1", "U2", "U3")], [0, 1, 2])
        self.assertEqual(clocks["U3"].leader, "U1")
