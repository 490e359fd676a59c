"""Levels of mixes, what feeds an output, and sources that a driver number without a socket brings."""

import json
import random
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

from bench.nonsense import every_verb
from ennead.checks.all_checks import find_all
from ennead.desk.margin.about_port import about_port
from ennead.desk.margin.about_source import about_source
from ennead.edits.cables import connect
from ennead.edits.house import remove_unit
from ennead.edits.inner_channels import free_channels, hold_channels, take_in_channels
from ennead.edits.profiles import change_profile
from ennead.edits.session import add_source, change_source, set_missing
from ennead.edits.sessions import choose_session, copy_session
from ennead.edits.settings import set_feed, set_level
from ennead.files.errors import FileTrouble
from ennead.files.interchange import from_json, to_json
from ennead.planning.seating.allocation import allocate
from ennead.reports.changeover import changeover
from ennead.reports.driver_sheet import driver_rows as driver_sheet
from ennead.reports.line_rows import line_row
from ennead.rules.profile_holds_together import profile_faults
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import UnitId
from ennead.studio.inner_channels import InnerChannel
from ennead.studio.mixes import feeds_offered, lane_label, levels_of, levels_text, mixable
from ennead.studio.profile import Mix
from ennead.studio.record import replace
from ennead.survey.balance import balance
from ennead.survey.rings import rings
from ennead.survey.survey import Survey
from tests.builders import end, read_back, rig

MIXER = "eight-line interface with MADI"
CONSOLE = "console, eight channels, bay built in"
LOOPBACK = "four-input interface, loopback before S/PDIF"
U1, U2 = UnitId("U1"), UnitId("U2")


def expected(form, speed_lanes):
    """Return by the written form alone which number comes out where: (number, port, lane, level), by hand from the profile's blocks."""
    unit, profile = form["units"][0], form["profiles"][0]
    ports = {p["key"]: p for p in profile["ports"]}
    usual = {}
    for block in profile["driver_maps"][0]["outputs"]:
        for key in block["ports"]:
            for lane in range(1, (speed_lanes if "madi" in ports[key]["carries"] else ports[key]["channels"]) + 1):
                usual[f"{key}/{lane}"] = len(usual) + 1
    found = set()
    for lane in usual:
        feed = unit["settings"]["feeds"].get(lane, lane)
        if feed in usual:
            found.add((usual[feed], lane, None))
        levels = unit["settings"]["mixes"].get(feed, {})
        found |= {(usual[s], lane, level) for s, level in levels.items() if s in usual and level != "off"}
    return found


class Feeds(unittest.TestCase):
    def test_numbers_come_out_where_the_form_says_at_every_speed(self):
        dice = random.Random(3)
        for _ in range(30):
            studio = rig(MIXER)
            profile = studio.profile_of(U1)
            for _ in range(dice.randint(1, 12)):
                mix, held = dice.choice(sorted(mixable(profile).items()))
                studio = set_level(studio, U1, mix, dice.choice(held), dice.choice((-6.0, 0.0, 3.5, "off", None)))
                lane, offered = dice.choice(sorted(feeds_offered(profile).items()))
                studio = set_feed(studio, U1, lane, dice.choice((lane, *offered)))
            rate = dice.choice((48_000, 96_000, 192_000))
            survey = Survey(replace(studio, sessions={k: replace(s, rate_hz=rate) for k, s in studio.sessions.items()}))
            form, view = json.loads(to_json(read_back(studio))), survey.views[U1]
            wanted = expected(form, {48_000: 64, 96_000: 32, 192_000: 16}[rate])
            got = {(p.channel, f"{p.at[0]}/{p.at[1]}", p.gain_db if p.mix else None) for p in view.played}
            self.assertEqual(got, wanted)
            # The sheet of numbers tells the same, and each analogue socket is offered once, at the lowest number that comes out of it.
            told = set()
            labels = {p.label: p.key for p in profile.ports}
            for row in driver_sheet(survey)["outputs"]:
                if row["port"]:
                    told.add((row["number"], f"{labels[row['port']]}/{row['lane']}", None))
                told |= {
                    (row["number"], f"{labels[a['port']]}/{a['lane']}", a.get("level_db")) for a in row.get("also", ())
                }
            if form["units"][0]["settings"]["feeds"]:
                self.assertEqual(told, wanted)
            lowest = {}
            for number, lane, _ in sorted(wanted, key=str):
                lowest[lane] = min(number, lowest.get(lane, number))
            points = {f"{p.port.key}/{p.lane}": p.number for p in survey.output_points}
            self.assertEqual(points, {lane: n for lane, n in lowest.items() if not lane.startswith("madi")})

    def test_an_input_in_a_mix_that_feeds_what_it_hears_is_a_ring(self):
        wired = connect(rig(MIXER), end("U1", "line_out3"), end("U1", "line3"))
        held = set_level(wired, U1, "monitor/1", "line3/1", -20.0)
        fed = set_feed(held, U1, "line_out3/1", "monitor/1")
        self.assertEqual([rings(Survey(s)) for s in (wired, held)], [(), ()])
        self.assertEqual(rings(Survey(fed)), (((U1, "line3", 1),),))
        self.assertEqual(rings(Survey(set_level(fed, U1, "monitor/1", "line3/1", "off"))), ())
        self.assertEqual(rings(Survey(set_feed(fed, U1, "line_out3/1", "monitor/2"))), ())
        self.assertTrue(
            any(f.severity == "danger" or "ring" in f.rule or "back" in f.message for f in find_all(Survey(fed)))
        )

    def test_what_cannot_be_is_refused_and_a_new_description_drops_what_it_has_not(self):
        studio = rig(MIXER, CONSOLE)
        for wrong in (
            (U1, "monitor/3", "line1/1", 0.0),
            (U1, "monitor/1", "line9/1", 0.0),
            (U1, "monitor/1", "line1/1", 31.0),
            (U1, "monitor/1", "line1/1", float("nan")),
            (U2, "monitor/1", "line1/1", 0.0),
            (U2, "mix1/1", "channel2/1", 0.0),
        ):
            with self.assertRaises(BadValue):
                set_level(studio, *wrong)
        for wrong in ((U1, "line1/1", "nothing"), (U1, "madi_out/1", "monitor/1"), (U2, "mix1/1", "mix2/1")):
            with self.assertRaises(BadValue):
                set_feed(studio, *wrong)
        full = set_feed(set_level(studio, U1, "monitor/1", "line1/1", -3.0), U1, "phones/1", "monitor/1")
        full = set_level(set_level(full, U1, "monitor/1", "line2/1", "off"), U1, "cue/2", "line_out5/1", 0.0)
        for text, better in (("monitor/1", "monitor/9"), ('"line2/1": "off"', '"line2/1": 99'), ("cue/2", "mix1/1")):
            with self.assertRaises(FileTrouble):
                from_json(to_json(full).replace(text, better).encode())
        profile = full.profile_of(U1)
        bare = read_back(
            change_profile(full, U1, replace(profile, mixes=tuple([m for m in profile.mixes if m.key == "cue"])))
        )
        self.assertEqual(
            (dict(bare.units[U1].settings.mixes), dict(bare.units[U1].settings.feeds)),
            ({"cue/2": {"line_out5/1": 0.0}}, {}),
        )
        for mix, faulty in (
            (Mix("line1", "M", ("line1",), ("phones",)), True),
            (Mix("m", "M", ("phones",), ("phones",)), True),
            (Mix("m", "M", ("line1",), ("line1",)), True),
            (Mix("m", "M", ("line1",), ("phones",), channels=3), True),
            (Mix("m", "M", ("line1",), ("phones",), channels=1), False),
        ):
            self.assertEqual(bool(list(profile_faults(replace(profile, mixes=(mix,))))), faulty, mix)
        for levels in ({}, {"a/1": -6.0, "b/2": "off"}, {"mic 1/1": 0.25}):
            self.assertEqual(levels_of(levels_text(levels)), levels)
        self.assertEqual([levels_of(t) for t in ("a/1", "a/1 x", "a/1 0, a/1 0", " 0", "a/1 500")], [None] * 5)

    def test_another_session_has_its_own_mix_and_the_changeover_says_so(self):
        two = copy_session(set_level(rig(MIXER), U1, "cue/1", "line1/1", -6.0), "Other")
        two = set_feed(set_level(two, U1, "cue/1", "line_out3/1", "off"), U1, "line_out4/1", "cue/1")
        first = choose_session(two, "N1")
        self.assertEqual(first.settings_of(U1).mixes, {"cue/1": {"line1/1": -6.0}})
        self.assertEqual(two.settings_of(U1).mixes, {"cue/1": {"line1/1": -6.0, "line_out3/1": "off"}})
        said = [(m.action, m.start, m.end) for m in changeover(two, "N1", "N2").moves]
        name = two.units[U1].name
        self.assertIn(
            (f"set {name} · Cue mix left", "Line in 1 −6 dB", "Line in 1 −6 dB, playback Line out 3 off"), said
        )
        self.assertIn((f"feed {name} · Line out 4", "its own playback channel", "Cue mix left"), said)


class SendLevels(unittest.TestCase):
    def studio(self):
        studio = rig("eight-preamp interface, one optical pair", CONSOLE)
        studio = connect(studio, end("U1", "line_out1"), end("U2", "channel1"))
        return connect(studio, end("U2", "mix1"), end("U1", "mic1"))

    def test_a_send_that_is_off_ends_the_way_and_a_level_is_told(self):
        studio = self.studio()
        (before,) = [r for r in Survey(studio).output_paths if r.driver.number == 1]
        self.assertTrue(before.complete)
        self.assertNotIn("level_db", line_row(Survey(studio), before))
        quiet = Survey(read_back(set_level(studio, U2, "mix1/1", "channel1/1", -12.5)))
        (run_,) = [r for r in quiet.output_paths if r.driver.number == 1]
        self.assertEqual((run_.complete, line_row(quiet, run_)["level_db"]), (True, -12.5))
        off = Survey(read_back(set_level(studio, U2, "mix1/1", "channel1/1", "off")))
        (run_,) = [r for r in off.output_paths if r.driver.number == 1]
        self.assertFalse(run_.complete)
        other = Survey(set_level(studio, U2, "mix2/1", "channel2/1", "off"))
        self.assertEqual([r.complete for r in other.output_paths if r.driver.number == 1], [True])

    def test_the_margin_sets_it_at_the_input(self):
        studio = self.studio()
        (fact,) = [f for f in about_port(Survey(studio), PortEnd(U2, "channel1")).facts if "in Mix 1," in f.label]
        for typed, held in (("−6 dB", -6.0), ("off", "off"), ("", None)):
            after = fact.edit(typed).apply(studio)
            self.assertEqual(after.settings_of(U2).mixes.get("mix1/1", {}).get("channel1/1"), held)
        with self.assertRaises(BadValue):
            fact.edit("loud")
        (fed,) = [f for f in about_port(Survey(rig(MIXER)), PortEnd(U1, "line_out2")).facts if f.label == "Fed by"]
        after = fed.edit("monitor/2").apply(rig(MIXER))
        self.assertEqual(after.settings_of(U1).feeds, {"line_out2/1": "monitor/2"})
        self.assertEqual(lane_label(after.profile_of(U1), "monitor/2"), "Monitor mix right")


class WithoutSocket(unittest.TestCase):
    def test_a_source_comes_in_by_a_loopback_and_asks_for_no_socket(self):
        self.assertEqual(free_channels(rig(LOOPBACK), U1), [("loopback", (1, 2))])
        studio = read_back(take_in_channels(rig(LOOPBACK), U1, "loopback", (1, 2)))
        survey = Survey(studio)
        self.assertEqual(
            [(r.driver.number, r.complete, r.latency_samples) for r in survey.signal_paths],
            [(5, True, None), (6, True, None)],
        )
        self.assertEqual((find_all(survey), free_channels(studio, U1)), ((), []))
        with TemporaryDirectory() as held:
            path = Path(held) / "studio.json"
            path.write_text(to_json(studio), encoding="utf-8")
            every_verb(path)
        self.assertEqual([n.needed for n in balance(survey)], [0] * len(balance(survey)))
        more = add_source(studio, "Fiddle", kind="line")
        proposal = allocate(Survey(more))
        self.assertEqual(([p.source for p in proposal.placements], proposal.unplaced), (["S2"], {}))
        # A cable of its own goes before the number, and the number is there again without it.
        wired = connect(studio, SourceEnd("S1", 1), end("U1", "mic1"))
        self.assertEqual([r.driver and r.driver.number for r in Survey(wired).signal_paths], [1, 6])
        self.assertEqual([n.needed for n in balance(Survey(wired)) if n.key == "all"], [2])

    def test_where_the_number_is_gone_the_line_says_so(self):
        studio = take_in_channels(rig(LOOPBACK), U1, "loopback", (1, 2))
        loose = replace(studio, hosts={k: replace(h, interfaces=()) for k, h in studio.hosts.items()})
        (finding, *_) = [f for f in find_all(Survey(loose)) if f.rule == "run_ends_early"]
        self.assertIn("no number for Loopback 1", finding.message)
        self.assertEqual(
            {r.gap.cause for r in Survey(set_missing(studio, U1, missing=True)).signal_paths}, {"unplaced"}
        )
        self.assertEqual(read_back(remove_unit(studio, U1)).sources["S1"].inside, ())
        mono = change_source(studio, "S1", channels=1)
        self.assertEqual(read_back(mono).sources["S1"].inside, (InnerChannel(U1, "loopback", 1),))
        profile = studio.profile_of(U1)
        maps = tuple([replace(m, inputs=tuple([b for b in m.inputs if b.ports])) for m in profile.driver_maps])
        self.assertEqual(
            read_back(change_profile(studio, U1, replace(profile, driver_maps=maps))).sources["S1"].inside, ()
        )

    def test_chosen_in_the_margin_and_what_is_refused(self):
        studio = add_source(add_source(rig(LOOPBACK), "Film", kind="line", channels=2), "Voice", kind="condenser")
        (fact,) = [f for f in about_source(Survey(studio), "S1").facts if f.label == "Without a socket"]
        self.assertEqual(fact.choices, (("", "no, by a cable"), ("5", "5–6 · Loopback")))
        self.assertFalse([f for f in about_source(Survey(studio), "S2").facts if f.label == "Without a socket"])
        taken = fact.edit("5").apply(studio)
        self.assertEqual([r.driver.number for r in Survey(taken).signal_paths if r.source == "S1"], [5, 6])
        (fact,) = [f for f in about_source(Survey(taken), "S1").facts if f.label == "Without a socket"]
        self.assertEqual((fact.value, fact.edit("").apply(taken).sources["S1"].inside), ("5", ()))
        other = add_source(taken, "Click", kind="line")
        self.assertFalse([f for f in about_source(Survey(other), "S3").facts if f.label == "Without a socket"])
        held = InnerChannel(U1, "loopback", 1)
        for source, channels in (
            ("S3", (InnerChannel(U1, "analogue", 1),)),
            ("S3", (replace(held, channel=3),)),
            ("S3", (held, held)),
            ("S2", (held,)),
        ):
            with self.assertRaises(BadValue):
                hold_channels(other, source, channels)
        for text in ('"channel": 3', '"block": "spdif"'):
            with self.assertRaises(FileTrouble):
                wrong = to_json(taken).replace(
                    '"block": "loopback",\n          "channel": 2', f'"block": "loopback",\n          {text}'
                )
                from_json(wrong.replace('"block": "loopback",\n          "block"', '"block"').encode())


if __name__ == "__main__":
    unittest.main()
