"""Parts that are brought up to date: after any edit of any house each is what it is when made anew, in the same order."""

import random
import unittest
from collections import Counter
from unittest.mock import patch

from bench.survey_cost import whole
from ennead.edits.cables import connect, disconnect
from ennead.edits.scenes import add_scene, choose_scene, lay_cord, pull_cord
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.record import replace
from ennead.survey import survey as surveys
from ennead.survey.outcome import outcome
from ennead.survey.parts import PARTS, work_out
from ennead.survey.survey import Survey
from tests.builders import evening_edit, random_edit
from tests.test_nets import houses
from tests.trials import few

#: Maps that are only looked up in, unit by unit: their order is nobody's.
_LOOKED_UP = frozenset({"leaving_by_unit", "taken", "held_inputs", "nets", "powered", "powered_of", "lines_at_numbers"})


class Renewals(unittest.TestCase):
    def test_after_any_edit_each_part_is_as_made_anew_and_in_that_order(self):
        renewed = Counter()

        def compared(of, reads, was):
            held = work_out(of, reads, was)
            if was is not None and held is not was:
                anew = of.make(*reads) if not of.of else work_out(of, reads, None).value
                # Links are told apart by which they are, not by what they say.
                self.assertEqual(
                    *[repr(sorted(v.items(), key=str)) if of.name == "links" else v for v in (held.value, anew)],
                    of.name,
                )
                if isinstance(anew, dict) and of.name not in _LOOKED_UP:
                    self.assertEqual(list(held.value), list(anew), of.name)
                renewed[of.name] += of.renew is not None and of.renew(was, *reads) is not None
            return held

        with patch.object(surveys, "work_out", compared):
            for seed in range(few(6, 200)):
                self.walk(seed)
        names = {name for name, part in PARTS.items() if part.renew is not None}
        self.assertGreater(min(renewed[name] for name in (*names, "in_use")), few(1, 120), renewed)

    def walk(self, seed):
        dice, studio = random.Random(seed), houses(seed)
        if studio.bays:
            studio = choose_scene(add_scene(studio, "One"), next(iter(add_scene(studio, "One").scenes)))
        survey = Survey(studio)
        whole(survey)
        outcome(survey)
        gone = []
        for _ in range(25):
            try:
                studio = self.edit(studio, dice, gone)
            except EnneadError:
                continue
            survey = Survey(studio, survey)
            whole(survey)
            outcome(survey)
            self.assertEqual(survey.output_paths, Survey(studio).output_paths)

    def edit(self, studio, dice, gone):
        what, ends = dice.random(), [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports]
        points = [PortEnd(u, key) for u, bay in studio.bays.items() for key in bay.points]
        if what < 0.25 and studio.cables:
            cable = studio.cables[dice.choice(list(studio.cables))]
            gone.append(cable)
            return disconnect(studio, cable.id)
        if what < 0.45 and gone:
            # What was pulled comes back somewhere among the others, as it does when that is undone.
            cable = gone.pop()
            if cable.id not in studio.cables and all(getattr(p, "unit", "U1") in studio.units for p in cable.plugs):
                rows = [*studio.cables.items(), (cable.id, cable)]
                dice.shuffle(rows)
                return replace(studio, cables=type(studio.cables)(rows))
        if what < 0.6 and ends:
            return connect(studio, dice.choice(ends), dice.choice(ends))
        if what < 0.75 and points:
            return lay_cord(studio, dice.choice(points), dice.choice(points))
        if what < 0.82 and studio.cords:
            return pull_cord(studio, dice.choice(studio.cords).id)
        return (evening_edit(studio, dice) if what > 0.91 else random_edit(studio, dice)[1])(studio)
