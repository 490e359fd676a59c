"""Routes asked for in words: what they lay brings the line there, and what they say is lost is lost."""

import unittest

from ennead.demo.skerry import skerry
from ennead.edits.house import mark_fault
from ennead.edits.scenes import choose_scene
from ennead.edits.session import add_source
from ennead.planning.routing.cord_routes import Route, Wanted, route_change, route_in_words, route_text, routes
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey
from ennead.survey.traces import legs
from tests.builders import plug


def arriving(studio: Studio) -> dict[str, int]:
    survey = Survey(studio)
    return {
        survey.source_by_id[r.source].name: r.driver.number
        for r in survey.runs
        if r.driver is not None and r.source is not None
    }


class Routes(unittest.TestCase):
    def laid(self, studio: Studio, text: str) -> tuple[Wanted, list[Route]]:
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
            (run,) = [r for r in survey.runs if r.source == wanted.source]
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
            ("Fiddle into Pier mic 5", 0, 5), ("Fiddle into Pier 7", 1, 7), ("Fiddle through Winch into Buoy 3", 2, 36),
            ("whistle through Winch through Tiller into Buoy line in 5", 3, 38),
        ):  # fmt: skip
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
        for text in ("Nobody into Pier 7", "Fiddle into Moon 3", "Fiddle through Moon into Pier 7", "Somebody into Pier 7", "Fiddle",
                     "Fiddle through Tower left into Pier 7"):  # fmt: skip
            with self.assertRaises(EnneadError, msg=text):
                routes(studio, route_in_words(studio, text))
