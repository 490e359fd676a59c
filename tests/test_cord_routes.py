"""Routes asked for in words: what they lay brings the line there, and what they say is lost is lost."""

import random
import unittest

from ennead.demo.skerry import skerry
from ennead.edits.bays import add_bay
from ennead.edits.house import add_unit, mark_fault
from ennead.edits.scenes import choose_scene, lay_cord
from ennead.edits.session import add_source
from ennead.files.profiles import shelf_profile
from ennead.planning.routing.blocks import block_change, free_blocks
from ennead.planning.routing.cord_routes import Route, RouteRequest, route_change, route_in_words, route_text, routes
from ennead.planning.routing.other_box import box_behind, other_boxes
from ennead.reports.path_proof import path_proof
from ennead.reports.plug_effects import Effect, plug_effects
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import LineEnd, PortEnd
from ennead.studio.ids import SceneId
from ennead.survey.survey import Survey
from ennead.survey.traces import legs
from tests.builders import end, plug
from tests.test_bay_checks import house
from tests.test_bays import flooded, random_bays
from tests.test_paths import line, named


def arriving(studio: Studio) -> dict[str, int]:
    survey = Survey(studio)
    return {
        survey.source_by_id[r.source].name: r.driver.number
        for r in survey.signal_paths
        if r.driver is not None and r.source is not None
    }


class Routes(unittest.TestCase):
    def laid(self, studio: Studio, text: str) -> tuple[RouteRequest, list[Route]]:
        """Return the routes of a text; each that is laid does what it says."""
        wanted = route_in_words(studio, text)
        found = routes(studio, wanted)
        before, name = arriving(studio), studio.source(wanted.source).name
        for route in found:
            after = route_change(studio, wanted, route).apply(studio)
            now = arriving(after)
            self.assertEqual({n for n in before if n not in now and n != name}, set(route.lost))
            self.assertEqual(len(after.cords) - len(studio.cords), len(route.cords))
            survey = Survey(after)
            (run,) = [r for r in survey.signal_paths if r.source == wanted.source]
            ways = [
                r
                for r in (run, *legs(survey, run))
                if (wanted.into.unit, wanted.into.port) in [(s.unit, s.port) for s in r.stops]
            ]
            self.assertEqual([w.driver.number for w in ways if w.driver], [route.arrives])
            self.assertEqual(
                list(dict.fromkeys(s.unit for s in ways[0].stops if s.unit in wanted.through)), list(wanted.through)
            )
        self.assertEqual([len(r.cords) for r in found], sorted(len(r.cords) for r in found))
        return wanted, list(found)

    def test_through_boxes_fewest_cords_first(self) -> None:
        studio = skerry()
        for text, cords, number in (
            ("Fiddle into Pier mic 5", 0, 5),
            ("Fiddle into Pier 7", 1, 7),
            ("Fiddle through Winch into Buoy 3", 2, 36),
            ("whistle through Winch through Tiller into Buoy line in 5", 3, 38),
        ):
            _, found = self.laid(studio, text)
            self.assertEqual((len(found[0].cords), found[0].arrives), (cords, number), text)

    def test_what_a_route_breaks_is_said_and_faulty_and_held_points_are_avoided(self) -> None:
        quay = next(u.id for u in skerry().units.values() if u.name == "Quay")
        studio = plug(skerry(), "Pipe", quay, "wall7", kind="dynamic")
        wanted, found = self.laid(studio, "Fiddle into Pier 7")
        self.assertEqual(found[0].lost, ("Pipe",))
        self.assertIn("driver input 7; Pipe no longer arrives", route_text(studio, found[0]))
        bay = next(u.id for u in studio.units.values() if u.name == "A")
        self.assertEqual(self.laid(mark_fault(studio, PortEnd(bay, "b7"), "scratchy"), "Fiddle into Pier 7")[1], [])
        quartet = next(s.id for s in studio.scenes.values() if s.name == "Quartet in the hall")
        with_cords = choose_scene(studio, quartet)
        _, found = self.laid(with_cords, "Pipe into Buoy 4")
        held = {p for c in with_cords.cords for p in c.plugs}
        self.assertTrue(found and not any(p in held for r in found for cord in r.cords for p in cord))
        self.assertEqual(wanted.through, ())

    def test_what_nobody_can_lay_is_said(self) -> None:
        studio = add_source(skerry(), "Nobody")
        for text in (
            "Nobody into Pier 7",
            "Fiddle into Moon 3",
            "Fiddle through Moon into Pier 7",
            "Somebody into Pier 7",
            "Fiddle",
            "Fiddle through Tower left into Pier 7",
        ):
            with self.assertRaises(EnneadError, msg=text):
                routes(studio, route_in_words(studio, text))


class Effects(unittest.TestCase):
    def test_what_a_plug_would_do_is_what_it_does(self) -> None:
        joined = 0
        for seed in range(400):
            studio = random_bays(random.Random(seed))
            points = [PortEnd(u, key) for u, bay in studio.bays.items() for row in bay.rows for key in row]
            held = {p for c in studio.cords for p in c.plugs}
            free = [p for p in points if p not in held]
            if len(free) < 2:
                continue
            one, other = random.Random(seed + 1).sample(free, 2)
            survey, after = Survey(studio), lay_cord(studio, one, other)
            said = plug_effects(survey, [one, other])
            now = {p for c in after.cords for p in c.plugs}
            broken = tapped = 0
            for unit, bay in studio.bays.items():
                was = set(bay.live_normals({p.port for p in held if p.unit == unit}))
                left = set(bay.live_normals({p.port for p in now if p.unit == unit}))
                broken += len(was - left)
                touched = {p.port for p in (one, other) if p.unit == unit}
                tapped += sum(bool({n.start, n.end} & touched) and n.mode == "half" for n in left)
            self.assertEqual(
                [sum(text.startswith(word) for text, _ in said) for word in ("breaks", "taps")], [broken, tapped], seed
            )
            groups = [{c.line for c in g if isinstance(c, LineEnd)} for g in flooded(studio).values()]
            now_joined = {c.line for c in flooded(after)["rear", one] if isinstance(c, LineEnd)}
            fresh = len(now_joined) > 1 and not any(now_joined <= group for group in groups)
            self.assertEqual(any(harms for _, harms in said), fresh, seed)
            joined += fresh
        self.assertGreater(joined, 20)

    def test_whom_it_costs_is_named(self) -> None:
        studio = lay_cord(house(), end("U2", "a9"), end("U2", "b10"))
        self.assertEqual(
            plug_effects(Survey(studio), [end("U2", "b3")]),
            (Effect("breaks A · 3 above → A · 3 below, on which Voice goes"),),
        )
        self.assertEqual(
            plug_effects(Survey(studio), [end("U2", "a3")]),
            (Effect("taps A · 3 above → A · 3 below, on which Voice goes"),),
        )
        self.assertEqual(
            plug_effects(Survey(studio), [end("U2", "a9"), end("U2", "b3")]),
            (Effect("A · 9 above holds a cord already"),),
        )
        joined = plug(studio, "Fiddle", "U2", "a5", kind="dynamic")
        self.assertIn(
            Effect("joins outputs: Voice and Fiddle", harms=True),
            plug_effects(Survey(joined), [end("U2", "a3"), end("U2", "a5")]),
        )


class OtherBox(unittest.TestCase):
    def test_another_box_takes_the_place_of_one_and_gives_it_back(self) -> None:
        studio = choose_scene(skerry(finished=True), SceneId("K2"))
        winch = named(studio, "Winch")
        self.assertEqual(box_behind(studio, PortEnd(named(studio, "B"), "b4")), winch)
        offers = dict(other_boxes(studio, winch))
        self.assertEqual(list(offers), ["Capstan", "Tiller"])
        for name, wanted in offers.items():
            after = wanted.apply(studio)
            survey = Survey(after)
            proof = path_proof(survey, line(survey, "Fiddle"))
            self.assertEqual((proof.holds, proof.works[0]), (True, name))
            back = dict(other_boxes(after, named(after, name)))["Winch"].apply(after)
            self.assertEqual(back.cords, studio.cords)
        # A point out of service, a plug in the way, and a box that is not patched at all.
        scratchy = mark_fault(studio, PortEnd(named(studio, "B"), "a6"), "scratchy")
        self.assertEqual([name for name, _ in other_boxes(scratchy, winch)], ["Capstan"])
        held = lay_cord(studio, PortEnd(named(studio, "B"), "b6"), PortEnd(named(studio, "A"), "a20"))
        self.assertEqual([name for name, _ in other_boxes(held, winch)], ["Capstan"])
        self.assertEqual(other_boxes(studio, named(studio, "Tiller")), [])


class MultipinBlocks(unittest.TestCase):
    def test_a_multipin_is_wired_as_one_loom_lane_by_lane(self) -> None:
        studio = add_unit(
            add_bay(empty_studio("Test"), "A", 24), shelf_profile("stage box, eight ways to a multipin"), "Reel"
        )
        (block,) = [b for b in free_blocks(studio) if b.lanes == 8 and len(b.ports) == 1]
        for first, count in ((1, 8), (21, 4)):
            after = block_change(studio, block, PortEnd(named(studio, "A"), f"a{first}")).apply(studio)
            (cable,) = after.cables.values()
            self.assertEqual([p.port for p in cable.plugs[1:]], [f"a{n}" for n in range(first, first + count)])
            self.assertEqual(
                [(w.a, w.a_lane, w.b, w.b_lane) for w in cable.wires], [(0, n, n, 1) for n in range(1, count + 1)]
            )
        with self.assertRaises(EnneadError):
            block_change(studio, block, block.ports[0])
