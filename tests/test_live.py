"""Takes through audio servers that run, against what the simulated hardware was set to; ports against the plan; refused takes."""

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import numpy as np

from bench.audio_servers import audio_server
from bench.verbs import json_of, run
from ennead.demo.skerry import skerry
from ennead.edits.change import Change
from ennead.edits.computer import note_names
from ennead.edits.sessions import choose_session, session_named
from ennead.files.studio_path import read_studio, write_studio
from ennead.live.errors import BadTake, NoServer, ServerGone
from ennead.live.server_ports import ServerPort, ServerPorts, in_order, read_server
from ennead.live.taking import LoopPorts, take_loops
from ennead.measure.ping_signal import find_pings, ping_file
from ennead.measure.recording import ArrayRecording
from ennead.measure.take_check import BLOCK, damaged_block
from ennead.reports.computer_reading import compare_ports, note_change
from ennead.reports.live_loops import closed_circuits, loop_ports
from ennead.standin.live_loop import LiveLoop
from ennead.standin.loop_player import LoopPlayer, PlayedHardware, PlayedLoop, hardware_of
from ennead.standin.loop_signal import LoopSettings, play
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey
from ennead.survey.system_names import channels_of, first_computer, name_differences
from tests.builders import findings
from tests.trials import few

RATE = 48_000
#: Long, so that a busy machine keeps up with it.
PERIOD = 4_096


class PlayedPeriodByPeriod(unittest.TestCase):
    def test_it_gives_back_what_the_exact_spectrum_gives(self):
        rng = np.random.default_rng(5)
        sent = ping_file(RATE, 2, 1)[6 * RATE : 9 * RATE]
        for settings in (
            LoopSettings(131.0, -3.0, inverted=True),
            LoopSettings(300.27, 2.0, swapped=True, dc=0.01),
            LoopSettings(96.5, drift_ppm=80.0),
            LoopSettings(200.0, slips=((0.3, 41),), gaps=((0.5, 0.01),), clip=0.1),
            LoopSettings(150.0, compress=(10.0, 150.0, -30.0), hum=(50.0, -40.0)),
        ):
            with self.subTest(settings=settings):
                loop, out, at = LiveLoop(settings, 2, RATE), [], 0
                # It rested before: times count from the first sound.
                loop.play(np.zeros((5 * RATE, 2)))
                started = np.flatnonzero(np.any(sent, axis=1))[0]
                while at < len(sent):
                    count = int(rng.integers(16, 2_000))
                    out.append(loop.play(sent[at : at + count]))
                    at += count
                silent = np.zeros((5 * RATE, 2))
                plain = settings._replace(slips=(), gaps=(), clip=None, hum=None)
                exact = play(plain, np.concatenate([silent, sent]), RATE)[len(silent) : len(silent) + len(sent)]
                heard = np.concatenate(out)[: len(sent)]
                if settings.drift_ppm or not (settings.slips or settings.hum):
                    self.assertLess(np.max(np.abs(heard - exact)), 2e-5 if settings.drift_ppm else 2e-6)
                elif settings.hum:
                    level = np.sqrt(np.mean((heard - exact)[: started - 10] ** 2))
                    self.assertAlmostEqual(20 * np.log10(level * np.sqrt(2)), -40.0, delta=0.5)
                else:
                    self.assertLessEqual(np.max(np.abs(heard)), 0.1)
                    before, after = started + round(0.29 * RATE), started + round(0.45 * RATE)
                    rest = np.clip(exact, -0.1, 0.1)
                    np.testing.assert_allclose(heard[:before], rest[:before], atol=1e-9)
                    np.testing.assert_allclose(
                        heard[after + 41 : after + 1_041], rest[after : after + 1_000], atol=1e-9
                    )
                    gap = started + round(0.5 * RATE)
                    self.assertFalse(np.any(heard[gap : gap + 480]))

    def test_what_it_cannot_play_exactly_it_refuses(self):
        LiveLoop(LoopSettings(3.0), 1, RATE)
        for wrong in (LoopSettings(3.5), LoopSettings(40.0, drift_ppm=1.0), LoopSettings(-1.0)):
            with self.assertRaisesRegex(BadValue, "Played live"):
                LiveLoop(wrong, 1, RATE)


class WholeTakes(unittest.TestCase):
    def test_damage_is_found_where_it_is_and_noise_is_none(self):
        rng = np.random.default_rng(11)
        sent = ping_file(RATE, 1, 3)
        train = find_pings(ArrayRecording(sent, RATE))
        loud = float(np.sqrt(np.mean(train.periods**2)))
        for trial in range(few(60, 600)):
            snr = float(rng.choice([-10.0, 10.0, 40.0, 90.0]))
            late, level = int(rng.integers(0, 4_000)), loud * 10 ** (-snr / 20)
            heard = np.roll(sent, late, axis=0) + rng.normal(0, level, sent.shape)
            heard += 1e-4 * np.sin(2 * np.pi * 50 * np.arange(len(heard)) / RATE)[:, None]
            with self.subTest(trial=trial, snr=snr):
                self.assertIsNone(damaged_block(ArrayRecording(heard, RATE), 0, train, late))
                if snr < 20:
                    continue
                at = int(rng.choice(train.starts)) + late + int(rng.integers(0, train.form.period - 2_048))
                length = int(rng.choice([64, 128, 256, 1_024]))
                bad = heard.copy()
                if trial % 2:
                    bad[at : at + length] = 0.0
                else:
                    bad[at : at + length] = heard[at - length : at]
                found = damaged_block(ArrayRecording(bad, RATE), 0, train, late)
                self.assertIsNotNone(found)
                self.assertTrue(at - BLOCK < found < at + length, (found, at))


class Ports(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.survey = Survey(skerry())
        cls.computer = first_computer(cls.survey)
        planned = channels_of(cls.survey, cls.computer)
        cls.names = [[d.label for d in planned[way]] for way in ("inputs", "outputs")]

    def test_a_block_that_is_missing_or_too_many_is_named_and_what_lies_behind_it_has_moved(self):
        ins, outs = self.names
        rng = np.random.default_rng(3)
        self.assertTrue(all(d.agrees for d in name_differences(self.survey, self.computer, ins, outs)))
        for _ in range(few(30, 300)):
            first = int(rng.integers(0, len(ins) - 8))
            length = int(rng.integers(1, 9))
            less = ins[:first] + ins[first + length :]
            more = [*ins[:first], *[f"talk {n}" for n in range(length)], *ins[first:]]
            gone, extra = (name_differences(self.survey, self.computer, names, outs)[0] for names in (less, more))
            with self.subTest(first=first, length=length):
                self.assertEqual([(s.first, s.last) for s in gone.missing], [(first + 1, first + length)])
                self.assertEqual({s.by for s in gone.moved}, {-length} if first + length < len(ins) else set())
                self.assertEqual([(s.first, s.last) for s in extra.extra], [(first + 1, first + length)])
                self.assertEqual([(s.first, s.by) for s in extra.moved], [(first + 1, length)])
                self.assertFalse(gone.agrees or extra.agrees)

    def test_names_that_tell_nothing_leave_the_count(self):
        ins, outs = self.names
        generic = [f"capture_{n + 1}" for n in range(len(ins))]
        same, fewer = (name_differences(self.survey, self.computer, n, outs)[0] for n in (generic, generic[:-3]))
        self.assertTrue(same.agrees)
        self.assertEqual((fewer.agrees, fewer.is_named, fewer.missing), (False, False, ()))

    def test_what_was_read_is_noted_beside_the_plan_and_found_wrong(self):
        ins, outs = self.names
        studio = self.survey.studio
        read = note_names(studio, self.computer, RATE, ins[8:], outs)
        (found,) = findings(read, "computer_shows_otherwise")
        self.assertIn("Missing: input 1–8 of the plan", "\n".join(found.working))
        self.assertFalse(findings(note_names(studio, self.computer, RATE, ins, outs), "computer_shows_otherwise"))
        # Read at another rate, it says nothing of this one.
        self.assertFalse(findings(note_names(studio, self.computer, 96_000, ins[8:], outs), "computer_shows_otherwise"))
        with tempfile.TemporaryDirectory() as held:
            for ending in ("ennead", "json"):
                path = Path(held) / f"read.{ending}"
                write_studio(path, read)
                self.assertEqual(read_studio(path), read)
                rows = json_of("driver-map", path)["inputs"]
                self.assertEqual((rows[0]["on_computer"], "on_computer" in rows[-1]), (ins[8], False))

    def test_ports_are_counted_by_their_numbers_and_else_as_the_server_has_them(self):
        wanted = [*[f"desk:mic_{n}" for n in range(1, 13)], "desk:FL", "desk:FR", "desk:FC", "attic:in_2", "attic:in_9"]
        dice = np.random.default_rng(1)
        for _ in range(20):
            numbered = list(dice.permutation(wanted[:12]))
            self.assertEqual(in_order([*numbered, *wanted[12:15], *wanted[:14:-1]]), wanted)

    def test_the_device_nearest_to_the_plan_is_meant(self):
        ports = [
            ServerPort(n + 1, f"{d}:in_{n + 1}", "", 0) for d, many in (("hall", 2), ("desk", 26)) for n in range(many)
        ]
        all_ports = ServerPorts("JACK", RATE, 256, tuple(ports), ())
        self.assertEqual(all_ports.best_for(24, 0).devices, ("desk",))
        self.assertEqual(all_ports.best_for(28, 0).devices, ("hall", "desk"))
        self.assertEqual([p.number for p in all_ports.of_device("desk").inputs], list(range(1, 27)))
        with self.assertRaisesRegex(BadTake, "no device “attic”"):
            all_ports.device_named("attic")


def hardware(*settings):
    loops = tuple(PlayedLoop((n + 1,), (n + 1,), one) for n, one in enumerate(settings))
    return PlayedHardware(loops, 4, 12, ("A", "B", "C", "D"), (), 120, 80)


def ways(player):
    ports = read_server().device_named(player.ready.rsplit(" ", 2)[0])
    return [LoopPorts(f"loop {n}", (ports.outputs[n].port,), (ports.inputs[n].port,)) for n in range(4)]


class Servers(unittest.TestCase):
    """Servers are installed with the tools of the tests; where they do not come up, this fails."""

    def test_measured_reported_and_left_over_are_exact_on_both_servers(self):
        settings = (LoopSettings(300.25, -3.0, noise_dbfs=-80.0), LoopSettings(511.0, 2.0, inverted=True))
        for kind in ("jack", "pipewire"):
            with self.subTest(kind=kind), audio_server(kind, PERIOD), LoopPlayer(hardware(*settings)) as player:
                loops = ways(player)
                # Sorted as people count, ten behind two.
                self.assertEqual(
                    [p.port[-2:] for p in read_server().device_named("stand-in").inputs[8:]], ["_9", "10", "11", "12"]
                )
                for take, one in zip(take_loops(loops[:2], RATE, repeats=3), settings, strict=True):
                    (reading,), (left,) = take.readings, take.residuals
                    self.assertAlmostEqual(reading.delay_samples, one.delay_samples + PERIOD, delta=0.01)
                    self.assertEqual(take.reported, (200,))
                    self.assertAlmostEqual(left.delay_samples, one.delay_samples + PERIOD - 200, delta=0.01)
                    self.assertEqual((reading.polarity, left.delay_is), (-1 if one.inverted else 1, "residual"))

    def test_a_take_is_refused_stopped_or_ends_with_its_server_and_nothing_else(self):
        with audio_server("jack", PERIOD) as server:
            gaps = LoopSettings(300.0, gaps=((0.2, 0.004),))
            with LoopPlayer(hardware(gaps)) as player, mock.patch("ennead.live.taking.MOST_TAKES", 1):
                loops = ways(player)
                (take,) = take_loops(loops[:1], RATE, repeats=3)
                self.assertFalse(take.is_whole)
                self.assertRegex(take.readings[0].verdict, "None of 1 takes could be believed")
                with self.assertRaisesRegex(BadTake, "no port “nowhere:1”"):
                    take_loops([LoopPorts("lost", ("nowhere:1",), loops[0].returns)], RATE)
                with self.assertRaisesRegex(BadTake, "runs at 48000 Hz"):
                    take_loops(loops[:1], 96_000)

                class Enough(Exception):
                    pass

                def stop(part):
                    if part > 0.02:
                        raise Enough

                with self.assertRaises(Enough):
                    take_loops(loops[:1], RATE, progress=stop)
                self.assertEqual(read_server().devices.count("stand-in"), 1)

                def die(part):
                    if part > 0.02 and server.poll() is None:
                        # It hangs first, without a word, as servers do.
                        server.send_signal(signal.SIGSTOP)
                        self.hung = self.hung or time.monotonic()

                self.hung = 0.0
                with self.assertRaisesRegex(ServerGone, "gone"):
                    take_loops(loops[:1], RATE, progress=die)
                self.assertLess(time.monotonic() - self.hung, 6.0)
        with mock.patch.dict(os.environ, {"JACK_DEFAULT_SERVER": "nobody", "XDG_RUNTIME_DIR": "/nowhere"}):
            with self.assertRaisesRegex(NoServer, "Measure by files"):
                read_server()
            nothing = mock.patch("ennead.live.server_child.library_paths", return_value=("libnothing.so.0",))
            with nothing, self.assertRaisesRegex(NoServer, "No library"):
                read_server()
            # What is no such library at all ends the process; why, is kept for whoever looks.
            other = mock.patch("ennead.live.server_child.library_paths", return_value=("libc.so.6",))
            with other, self.assertLogs("ennead") as log, self.assertRaisesRegex(BadTake, "without an answer"):
                read_server()
            self.assertIn("Traceback", log.output[0])

    def test_the_demo_is_read_measured_and_noted_by_verbs_as_it_was_planned(self):
        with tempfile.TemporaryDirectory() as held, audio_server("jack", PERIOD):
            path = Path(held) / "demo.json"
            studio = choose_session(skerry(), session_named(skerry(), "Mix of the drama"))
            write_studio(path, studio)
            played = subprocess.Popen(
                [sys.executable, "-m", "ennead", "standin", "--live", str(path)], stdout=subprocess.PIPE, text=True
            )
            try:
                self.assertIn("4 loops are played", played.stdout.readline())
                read = json_of("computer", "--read", path)
                self.assertEqual([d["by_name"] for d in read["plan"]], [True, True])
                self.assertFalse([d for d in read["plan"] if d["missing"] or d["extra"] or d["moved"]])
                measured = run("ping", "--live", path, "Capstan", "Rudder", "--take", "--repeats", 3, "--json")
            finally:
                played.kill()
                played.communicate()
            after = read_studio(path)
        status, said, warned = measured
        self.assertEqual(status, 0)
        self.assertIn("all the way down first", warned)
        rows = json.loads(said)["channels"]
        self.assertEqual([r["loop"] for r in rows], ["Capstan", "Capstan", "Rudder"])
        # Parts that are stated come to 227, and 186 are reported, whatever the server's period.
        for row in rows:
            self.assertAlmostEqual(row["residual_samples"], 41, delta=0.01)
        old = studio.destinations
        noted = {d.name: d.measured for key, d in after.destinations.items() if d.measured != old[key].measured}
        self.assertEqual(set(noted), {"Capstan", "Rudder"})
        self.assertEqual([round(n, 2) for n in noted["Capstan"][-1].by_channel], [41.0, 41.0])

    def test_of_a_plan_that_does_not_go_round_nothing_is_measured(self):
        survey = Survey(skerry())
        with self.assertRaisesRegex(BadTake, "No loop goes round"):
            closed_circuits(survey)
        mix = Survey(choose_session(skerry(), session_named(skerry(), "Mix of the drama")))
        (circuit, *_) = closed_circuits(mix)
        few_ports = ServerPorts("JACK", RATE, 256, (), (ServerPort(1, "a:1", "", 0),))
        with self.assertRaisesRegex(BadTake, "uses output 25, and the computer shows 1"):
            loop_ports(circuit, few_ports)
        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "demo.json"
            write_studio(path, skerry())
            status, _, said = run("ping", "--live", path, "Nobody")
        self.assertEqual(status, 2)
        self.assertIn("There is no loop Nobody in this studio.", said)


class Noting(unittest.TestCase):
    def test_a_reading_is_noted_with_its_period_and_what_the_driver_reports(self):
        survey = Survey(skerry())
        computer = first_computer(survey)
        played = hardware_of(survey, 256, {})
        ports = ServerPorts(
            "JACK", RATE, 256,
            tuple(ServerPort(n + 1, f"x:{n}", label, played.capture) for n, label in enumerate(played.input_labels)),
            tuple(ServerPort(n + 1, f"y:{n}", label, played.playback) for n, label in enumerate(played.output_labels)),
        )  # fmt: skip
        wanted = note_change(survey, computer, ports)
        self.assertIsInstance(wanted, Change)
        now = wanted.apply(survey.studio).hosts[computer]
        self.assertEqual((now.times_at(RATE).buffer, now.times_at(RATE).safety_in), (256, 16))
        self.assertEqual(
            (now.times_at(RATE).reported_in, now.times_at(RATE).reported_out), (played.capture, played.playback)
        )
        self.assertTrue(all(d.agrees for d in compare_ports(Survey(wanted.apply(survey.studio)), computer, ports)))
