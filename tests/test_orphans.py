"""Which lines a plug keeps from arriving, against every way of pulling plugs, each flooded from the JSON of the studio."""

import contextlib
import json
import random
import unittest
from itertools import combinations

from bench.flood import Flood
from ennead.edits.bays import add_bay, set_normal
from ennead.edits.cables import connect, make_up
from ennead.edits.scenes import add_scene, lay_cord
from ennead.edits.session import add_source
from ennead.files.interchange import to_json
from ennead.studio.errors import EnneadError
from ennead.studio.house import LineEnd, PortEnd, SourceEnd, Wire
from ennead.survey.orphans import orphans
from ennead.survey.survey import Survey
from tests.builders import INTERFACE, rig
from tests.trials import few


def house(dice):
    """Return lines behind cables and leads, a splitter, a box, two small bays with normals of every kind, and a few cords."""
    studio = rig(INTERFACE, "microphone splitter, eight ways", "two-channel valve preamp")
    studio = add_bay(add_bay(studio, "A", 6), "B", 6)
    points = [
        PortEnd(u, key)
        for u in ("U4", "U5")
        for key in (*(f"a{n}" for n in range(1, 7)), *(f"b{n}" for n in range(1, 7)))
    ]
    for upper in dice.sample([p for p in points if p.port[0] == "a"], 8):
        with contextlib.suppress(EnneadError):
            studio = set_normal(
                studio,
                upper,
                dice.choice(("half", "full", "full", "parallel")),
                dice.choice(("", "", f"b{dice.randint(1, 6)}")),
            )
    sockets = [PortEnd(u, p.key) for u in ("U1", "U2", "U3") for p in studio.profile_of(u).ports if not p.is_digital]
    upper = [p for p in points if p.port[0] == "a"]
    for n in range(1, 7):
        if dice.random() < 0.7:
            studio = connect(studio, PortEnd(dice.choice(("U4", "U5")), f"b{n}"), PortEnd("U1", f"mic{n}"))
    for n in range(1, 5):
        studio = add_source(studio, f"Line {n}", kind="dynamic")
        with contextlib.suppress(EnneadError):
            if dice.random() < 0.3:
                legs = dice.sample([*upper, *sockets], 2)
                studio = make_up(studio, [LineEnd(f"S{n}"), *legs], [Wire(0, 1, 1, 1), Wire(0, 1, 2, 1)])
            else:
                studio = connect(studio, SourceEnd(f"S{n}"), dice.choice([*upper, *upper, *sockets]))
    for _ in range(15):
        with contextlib.suppress(EnneadError):
            studio = connect(studio, *dice.sample([*points, *sockets], 2))
    studio = add_scene(studio, "Tonight")
    for _ in range(dice.randint(2, 6)):
        with contextlib.suppress(EnneadError):
            studio = lay_cord(studio, dice.choice(points), dice.choice([None, *points, *points]))
    return studio


def arriving(form, pulled):
    """Return the lines that come to a driver input once some cords are pulled."""
    form = json.loads(form)
    for scene in form["scenes"]:
        scene["cords"] = [c for c in scene["cords"] if c["id"] not in pulled]
    flood = Flood(form)
    return {s["id"] for s in form["sources"] if any(c in flood.records for c in flood.reach((s["id"], "", 1)))}


class Orphans(unittest.TestCase):
    def test_a_line_is_orphaned_where_pulling_plugs_lets_it_arrive_and_the_plug_named_is_one_of_them(self):
        met, alone = 0, 0
        for seed in (*range(few(100, 180)), 210, 234):
            studio = house(random.Random(seed))
            form, cords = to_json(studio), [c.id for c in studio.cords]
            now = arriving(form, ())
            then = {
                pulled: arriving(form, pulled) for n in range(1, len(cords) + 1) for pulled in combinations(cords, n)
            }
            found = {run.source: orphan for run, orphan in orphans(Survey(studio))}
            wanted = {s for lines in then.values() for s in lines} - now
            with self.subTest(seed=seed):
                self.assertEqual(set(found), wanted)
                for source, orphan in found.items():
                    singles = {pulled[0] for pulled, lines in then.items() if len(pulled) == 1 and source in lines}
                    # Where one cord alone is enough, it is the one that is named.
                    self.assertTrue(not singles or orphan.cords[0].id in singles, (source, orphan, singles))
                    self.assertTrue(
                        any(orphan.cords[0].id in pulled for pulled, lines in then.items() if source in lines)
                    )
                    alone += bool(singles)
            met += len(found)
        self.assertGreater(alone, few(8, 15))
        self.assertGreater(met, alone)
