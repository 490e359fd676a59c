"""Measured loops against the bound, the definition worked out from a formula, and hand-worked levels; refused numbers; sound files."""

import tempfile
import unittest
from pathlib import Path

import numpy as np
import soundfile

from bench.measured_loops import BENT, RATE, STRAIGHT, bound_of, line_bound, measured, trials, true_delay
from bench.verbs import json_of, run
from ennead.demo.skerry import skerry
from ennead.edits.sessions import choose_session, session_named
from ennead.files.sound_file import SoundRecording, write_sound
from ennead.files.studio_path import read_studio, write_studio
from ennead.measure.delay import Transfer
from ennead.measure.drift import clock_of
from ennead.measure.errors import BadSound
from ennead.measure.hum import hum_in
from ennead.measure.loop_reading import read_pings
from ennead.measure.ping_signal import RATES_HZ, find_pings, form_at, ping_file
from ennead.measure.polarity import polarity_of
from ennead.measure.recording import ArrayRecording
from ennead.measure.tone import read_tone, tone_file
from ennead.measure.zero import with_zero
from ennead.reports.ping_rows import reading_lines
from ennead.reports.ping_taking import loop_named, take_reading
from ennead.standin.loop_signal import LoopSettings, play
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey
from tests.trials import few


class ThePing(unittest.TestCase):
    def test_its_magnitude_is_flat_in_the_band_and_its_channels_are_strangers(self):
        for rate in RATES_HZ:
            sent = ping_file(rate, 2, 2)
            loud = np.flatnonzero(np.max(np.abs(sent), axis=1))
            self.assertGreaterEqual(loud[0], 7 * rate)
            self.assertGreaterEqual(len(sent) - loud[-1], 2 * rate)
            self.assertLessEqual(np.max(np.abs(sent)), 0.2501)
            train = find_pings(ArrayRecording(sent, rate))
            self.assertLessEqual(form_at(rate).active, rate)
            self.assertEqual(train.starts[1] - train.starts[0], 2.5 * rate)
            hertz = np.arange(len(train.spectra)) * rate / train.form.period
            inside = (hertz >= 20) & (hertz <= 20_000)
            size = np.abs(train.spectra[:, 0])
            self.assertLess(np.ptp(size[inside]) / size[inside].mean(), 1e-9)
            self.assertLess(size[~inside].max(), size[inside].mean() * 1e-9)
            cross = np.fft.irfft(train.spectra[:, 0] * np.conj(train.spectra[:, 1]))
            self.assertLess(np.abs(cross).max(), 0.05 * np.sum(train.periods[:, 0] ** 2))
        for bad in ((47_000,), (48_000, 9), (48_000, 2, 0), (48_000, 2, 4, 1.0)):
            with self.assertRaises(BadSound):
                ping_file(*bad)

    def test_the_stand_in_delays_as_a_whole_spectrum_does(self):
        sent = ping_file(RATE, 1, 1)
        settings = LoopSettings(delay_samples=262.3, drift_ppm=80.0)
        heard = play(settings, sent, RATE)[:, 0]
        size = 2**20
        whole = np.fft.rfft(sent[:, 0], size)
        bins, dice = np.arange(len(whole)), np.random.default_rng(4)
        weight = np.where((bins == 0) | (bins == size // 2), 1.0, 2.0) / size
        for n in dice.integers(7 * RATE, 8 * RATE, 12):
            time = n / (1 + 80e-6) - 262.3
            value = np.sum(weight * (whole * np.exp(2j * np.pi * bins * time / size)).real)
            self.assertAlmostEqual(heard[n], value, places=7)


class Delays(unittest.TestCase):
    def test_no_error_is_larger_than_the_bound_allows_and_no_claim_smaller(self):
        times = few(4, 200)
        for loops, bent in ((STRAIGHT, False), (BENT, True)):
            for name, settings in loops.items():
                for snr in (40, -10) if times < 100 else (40, 20, 0, -10):
                    with self.subTest(loop=name, snr=snr):
                        found = trials(settings, snr, times, bent=bent)
                        most = (1.1 if bent else 1.05 if name == "flat" else 1.15) + 3 / np.sqrt(2 * times)
                        self.assertLess(found.against_bound, most)
                        self.assertLess(abs(found.errors.mean()), 4 * found.bound / np.sqrt(times))
                        self.assertLess(np.max(np.abs(found.errors / found.claims)), 4.5)
                        self.assertTrue(
                            np.all(np.abs(found.claims / found.bound - 1.02) < 0.2), found.claims / found.bound
                        )
                        self.assertEqual(found.wrong, 0)

    def test_two_pings_agree_on_a_bent_loop_at_every_rate(self):
        for rate in (44_100, 192_000):
            sent = ping_file(rate, 2, 1)
            settings = LoopSettings(300.7, -4.0, noise_dbfs=-70.0, low_pass=(12_000.0, False), resonance=(300.0, -9.0))
            one, other = measured(settings, sent, 3, rate)
            self.assertFalse(one.is_pure)
            truth = 300.7 + true_delay(settings, rate)
            for reading in (one, other):
                self.assertLess(abs(reading.delay_samples - truth), 4 * reading.std_samples)
            self.assertLess(
                abs(one.delay_samples - other.delay_samples), 3 * np.hypot(one.std_samples, other.std_samples) + 1e-9
            )

    def test_what_a_real_loop_does_besides_moves_no_delay_or_is_told(self):
        sent = ping_file(RATE, 1, 2)
        quiet = LoopSettings(262.3, noise_dbfs=-75.0)
        top = 0.25
        cells = {
            "quiet": quiet._replace(gain_db=-60.0, noise_dbfs=-100.0),
            "hot": quiet._replace(gain_db=12.0),
            "a tenth clipped": quiet._replace(clip=0.85 * top),
            "hot and clipped": quiet._replace(gain_db=20.0, clip=10 * 0.85 * top),
            "hum": quiet._replace(hum=(50.2, -20.0)),
            "hum and offset": quiet._replace(hum=(59.8, -30.0), dc=0.1),
            "hum and drift": quiet._replace(hum=(50.0, -30.0), drift_ppm=40.0),
            "drift and clipped": quiet._replace(drift_ppm=-60.0, clip=0.9 * top),
            "negative": quiet._replace(delay_samples=-31.25),
            "compressed": quiet._replace(compress=(0.1, 100.0, -30.0)),
            "compressed slowly": quiet._replace(compress=(10.0, 200.0, -30.0)),
        }
        for name, settings in cells.items():
            with self.subTest(cell=name):
                for reading in measured(settings, sent, 7):
                    # With drift the delay holds at an instant: what the clock has gained until then is added.
                    middle = sum(find_pings(ArrayRecording(sent, RATE)).starts) / 2 + (form_at(RATE).period - 1) / 2
                    drift = settings.drift_ppm * 1e-6
                    truth = settings.delay_samples * (1 + drift) + drift * middle
                    self.assertLess(abs(reading.delay_samples - truth), 4 * reading.std_samples)
                    self.assertLess(abs(reading.delay_samples - truth), 1e-3)
                    self.assertEqual(reading.polarity, 1)
                    if "clipped" not in name and "compressed" not in name:
                        self.assertAlmostEqual(reading.gain_db, settings.gain_db, delta=0.05)
                    self.assertEqual(bool(reading.gain_range_db), "compressed" in name, reading.gain_range_db)
                    self.assertEqual(bool(reading.clipped), "clipped" in name)
                    self.assertEqual("gain moved" in reading.verdict, "compressed" in name)
                    if name == "compressed slowly":
                        self.assertLess(reading.std_samples, 5e-5, "its gain is taken out, and leaves no noise")

    def test_sides_that_are_swapped_and_crosstalk_are_told(self):
        sent = ping_file(RATE, 2, 1)
        left, right = measured(LoopSettings(100.0, noise_dbfs=-70.0, swapped=True), sent)
        self.assertEqual((left.sent, right.sent), (2, 1))
        mixed = play(LoopSettings(100.0, noise_dbfs=-80.0), sent @ np.array([[1.0, 0.01], [0.0, 1.0]]), RATE)
        left, right = read_pings(ArrayRecording(sent, RATE), ArrayRecording(mixed, RATE))
        self.assertIsNone(left.crosstalk)
        self.assertEqual(right.crosstalk[0], 1)
        self.assertAlmostEqual(right.crosstalk[1], -40.0, delta=1.0)

    def test_a_loop_that_turns_the_phase_by_a_quarter_has_no_polarity(self):
        omega = 2 * np.pi * np.arange(14, 13_654) / 2**15
        for turn, wanted in ((0, 1), (30, 1), (80, None), (-90, None), (150, -1), (180, -1)):
            transfer = Transfer(omega, np.exp(1j * (np.radians(turn) - 40.3 * omega)), np.full(len(omega), 1e-6))
            self.assertEqual(polarity_of(transfer, RATE, 2**15, 1024), wanted, turn)


class Refused(unittest.TestCase):
    def test_dead_damaged_and_trimmed_takes_give_no_number(self):
        sent = ping_file(RATE, 1, 2)
        source = ArrayRecording(sent, RATE)
        for settings in (
            LoopSettings(dead=True, noise_dbfs=-60.0),
            LoopSettings(dead=True),
            LoopSettings(100.0, noise_dbfs=-60.0, gaps=((7.3, 0.1), (9.9, 0.1))),
            LoopSettings(100.0, noise_dbfs=-60.0, slips=((7.4, 25), (9.9, -25))),
        ):
            (reading,) = measured(settings, sent)
            self.assertIsNone(reading.delay_samples)
            self.assertIsNone(reading.polarity)
            self.assertTrue(reading.verdict)
        minute = ping_file(RATE, 1, 4)
        for settings, wanted in (
            (LoopSettings(100.0, noise_dbfs=-60.0, slips=((8.5, 30), (11.0, 30))), "slips faster"),
            (LoopSettings(100.0, noise_dbfs=-60.0, clip=0.12), "are clipped"),
        ):
            (reading,) = measured(settings, minute)
            self.assertIn(wanted, reading.verdict)
            self.assertEqual((reading.delay_samples, reading.std_samples, reading.crlb_samples), (None, None, None))
            self.assertEqual(reading.drift_ppm is None, wanted == "slips faster")
            self.assertEqual(reading_lines(reading, RATE)[0], reading.verdict)
            loops = choose_session(skerry(), session_named(skerry(), "Mix of the drama"))
            with self.assertRaises(BadValue) as caught:
                take_reading(Survey(loops), loop_named(loops, "Rudder"), [reading], RATE, "")
            self.assertIn(wanted, str(caught.exception))
        (humming,) = measured(LoopSettings(100.0, noise_dbfs=-75.0, hum=(50.0, -30.0), clip=0.22), sent)
        self.assertGreater(humming.clipped, 0.0)
        self.assertLess(abs(humming.delay_samples - 100.0), 4 * humming.std_samples)
        heard = play(LoopSettings(250.0, noise_dbfs=-60.0), sent, RATE)
        whole = read_pings(source, ArrayRecording(heard, RATE))
        trimmed = read_pings(source, ArrayRecording(heard[3 * RATE :], RATE))
        for readings, delay_is, late in (
            (whole, "round_trip", 250.0),
            (whole, "residual", 250.0),
            (trimmed, "round_trip", None),
            (trimmed, "residual", None),
        ):
            (reading,) = with_zero(readings, RATE, delay_is)
            self.assertEqual(reading.delay_is, delay_is)
            if late is None:
                self.assertIsNone(reading.delay_samples)
                self.assertIn("Cannot say", reading.verdict)
            else:
                self.assertAlmostEqual(reading.delay_samples, late, places=3)

    def test_a_dry_channel_gives_a_trimmed_take_its_zero(self):
        sent = ping_file(RATE, 1, 2)
        late = play(LoopSettings(250.25, noise_dbfs=-70.0), sent, RATE)
        dry = play(LoopSettings(0.0), sent, RATE)
        both = np.concatenate([late, dry], axis=1)[3 * RATE :]
        wet, reference = with_zero(
            read_pings(ArrayRecording(sent, RATE), ArrayRecording(both, RATE)), RATE, "round_trip", 2
        )
        self.assertEqual((wet.delay_is, reference.delay_samples), ("between_channels", 0.0))
        self.assertLess(abs(wet.delay_samples - 250.25), 4 * wet.std_samples)
        with self.assertRaises(BadSound):
            with_zero([wet, reference], RATE, "round_trip", 3)

    def test_a_recording_that_cannot_be_measured_is_a_sentence(self):
        sent = ArrayRecording(ping_file(RATE, 1, 1), RATE)
        broken = sent.samples.copy()
        broken[RATE, 0] = np.nan
        for samples, rate in ((sent.samples, 44_100), (sent.samples[:0], RATE), (broken, RATE)):
            with self.assertRaises(BadSound) as caught:
                read_pings(sent, ArrayRecording(samples, rate))
            self.assertGreater(len(str(caught.exception)), 30)
        with self.assertRaises(BadSound):
            find_pings(ArrayRecording(np.random.default_rng(1).normal(size=(9 * RATE, 1)), RATE))


class Clocks(unittest.TestCase):
    def test_drift_and_slips_over_a_minute(self):
        sent = ping_file(RATE, 1, 12, 5.0)
        power = np.mean(sent[np.abs(sent[:, 0]) > 0, 0] ** 2)
        for trial, (snr, ppm) in enumerate(((0, 0.0), (-10, 100.0))):
            with self.subTest(snr=snr, ppm=ppm):
                steps = ((13.0, 1 + 40 * trial), (39.0, -25)) if ppm else ()
                noise = 10 * np.log10(power) - snr
                (reading,) = measured(LoopSettings(200.3, noise_dbfs=noise, drift_ppm=ppm, slips=steps), sent, trial)
                bound = line_bound(bound_of(LoopSettings(), snr, form_at(RATE).active), [5.0 * n for n in range(12)])
                self.assertLess(abs(reading.drift_ppm - ppm), 4 * bound)
                self.assertLess(abs(reading.drift_std_ppm / bound - 1.02), 0.1)
                self.assertEqual([s.samples for s in reading.slips], [n for _, n in steps])
                for slip, (at, _) in zip(reading.slips, steps, strict=True):
                    self.assertTrue(slip.from_s < at < slip.to_s)
                words = " ".join(reading_lines(reading, RATE))
                self.assertEqual("no drift seen" in words, not ppm)
                self.assertIn("ppm faster" if ppm else "below 0.0", words)
                self.assertEqual(reading.verdict, "")

    def test_the_line_is_the_one_of_least_squares_and_too_many_steps_are_told(self):
        dice = np.random.default_rng(8)
        times = np.arange(10) * 120_000.0
        inner = np.full(10, 2e-5), np.full(10, 1e-6)
        for steps, too_fast in (((), False), ((3, 7), False), ((1, 3, 5, 7), True)):
            jumps = np.zeros(10)
            for at in steps:
                jumps[at:] += 5
            delays = 40 + 2e-5 * times + jumps + dice.normal(0, 0.01, 10)
            clock = clock_of(times, delays, np.full(10, 0.01), *inner)
            slope = np.polyfit(times, delays - jumps, 1)[0]
            self.assertAlmostEqual(clock.rate * 1e6, slope * 1e6, places=6)
            self.assertEqual([n + 1 for n, step in enumerate(clock.steps) if step], list(steps))
            self.assertEqual(clock.is_too_fast, too_fast)
        apart = clock_of(times, 40 + 2e-5 * times, np.full(10, 0.01), np.full(10, 6e-5), np.full(10, 1e-6))
        self.assertTrue(apart.is_too_fast, "the pings run at another clock than what lies between them")


class Levels(unittest.TestCase):
    def test_the_fundamental_is_read_beside_hum_offset_and_a_clock_that_is_off(self):
        dice = np.random.default_rng(3)
        for snr, most in ((40, 0.01), (20, 0.02)):
            for trial in range(few(8, 200)):
                rate, level = (44_100, 48_000, 96_000)[trial % 3], dice.uniform(-40, -1)
                time = np.arange(int(rate * dice.uniform(1.1, 3))) / rate
                top, hertz = 10 ** (level / 20), 997 * (1 + dice.uniform(-1000, 1000) * 1e-6)
                wave = top * (np.sin(2 * np.pi * hertz * time + dice.uniform(0, 6)) + 0.03)
                wave += 0.05 * top * np.sin(2 * np.pi * 50.2 * time) + 0.01 * top * np.sin(4 * np.pi * hertz * time)
                wave += dice.normal(0, top / np.sqrt(2) * 10 ** (-snr / 20), len(time))
                (found,) = read_tone(ArrayRecording(wave, rate))
                self.assertLess(abs(found.level_dbfs - level), most)
                self.assertLess(abs(found.frequency_hz - hertz), 0.05)
                self.assertAlmostEqual(found.thd_percent, 1.0, delta=0.1 if snr == 40 else 0.6)
        # AES17: a sine whose peaks reach full scale is 0 dBFS; around it is silence.
        (full, _) = read_tone(ArrayRecording(tone_file(48_000, 0.0), 48_000))
        self.assertAlmostEqual(full.level_dbfs, 0.0, places=3)
        for other in (np.zeros(RATE * 2), np.sin(np.arange(RATE * 2) / 5), dice.normal(size=RATE * 2)):
            self.assertIsNone(read_tone(ArrayRecording(other, RATE))[0].level_dbfs)

    def test_hum_is_told_by_its_three_harmonics_where_it_can_be(self):
        dice = np.random.default_rng(5)
        count = 7 * RATE
        time = np.arange(count) / RATE
        for trial in range(few(16, 1000)):
            hertz = (50, 60)[trial % 2] + dice.uniform(-0.5, 0.5)
            parts = np.array([1.0, dice.uniform(0, 1), dice.uniform(0, 1)])
            power = 3_300 * 1e-6 / count
            parts *= np.sqrt(2 * power / np.sum(parts**2))
            noise = dice.normal(0, 1e-3, count)
            wave = sum(p * np.sin(2 * np.pi * hertz * (n + 1) * time + trial) for n, p in enumerate(parts))
            found = hum_in(wave + noise, RATE)
            self.assertLess(abs(found.hertz - hertz), 0.1)
            self.assertLess(abs(found.dbfs - 10 * np.log10(2 * power)), 0.5)
            self.assertIsNone(hum_in(noise, RATE))
            self.assertIsNone(hum_in(wave / 4 + noise, RATE), "a sixteenth of it is too little to say")


class Files(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def test_every_kind_of_file_holds_what_was_written(self):
        samples = np.random.default_rng(1).uniform(-0.9, 0.9, (5_000, 8))
        for name, kind, step in (
            ("16.wav", ("WAV", "PCM_16"), 2**-15),
            ("24.wav", ("WAV", "PCM_24"), 2**-23),
            ("32.wav", ("WAV", "PCM_32"), 1e-8),
            ("float.wav", ("WAV", "FLOAT"), 1e-6),
            ("long.rf64", ("RF64", "PCM_24"), 2**-23),
            ("long.w64", ("W64", "PCM_24"), 2**-23),
            ("one.flac", ("FLAC", "PCM_24"), 2**-23),
        ):
            soundfile.write(self.folder / name, samples, 96_000, format=kind[0], subtype=kind[1])
            with SoundRecording(self.folder / name) as found:
                self.assertEqual((found.frames, found.channels, found.rate_hz), (5_000, 8, 96_000))
                read = found.read(-10, 2_000)
                self.assertTrue(np.all(read[:10] == 0))
                self.assertLess(np.abs(read[10:] - samples[:1_990]).max(), 2 * step)
                self.assertTrue(np.all(found.read(4_990, 20)[10:] == 0))
                blocks = np.concatenate(list(found.blocks(777)))
                self.assertLess(np.abs(blocks - samples).max(), 2 * step + 1e-6)

    def test_files_that_are_none_are_a_sentence_and_stay_as_they_are(self):
        sent = self.folder / "ping.wav"
        write_sound(sent, ping_file(RATE, 1, 1), RATE)
        whole = sent.read_bytes()
        bad = {
            "text.wav": b"hello there",
            "empty.wav": b"",
            "short.wav": whole[: len(whole) // 2],
            "noise.flac": b"fLaC" + bytes(range(200)),
        }
        for name, body in bad.items():
            path = self.folder / name
            path.write_bytes(body)
            for argv in (("ping", "read", path, "--sent", sent), ("tone", "read", path, "--sent", "-18")):
                status, out, err = run(*argv)
                self.assertEqual((status, out), (2, ""), name)
                self.assertIn(name, err)
                self.assertEqual(err.count("\n"), 1)
            self.assertEqual(path.read_bytes(), body)
        for path in (self.folder, self.folder / "missing.wav"):
            self.assertEqual(run("ping", "read", path, "--sent", sent)[0], 2)
        soundfile.write(self.folder / "none.wav", np.zeros((0, 1)), RATE)
        self.assertEqual(run("ping", "read", self.folder / "none.wav", "--sent", sent)[0], 2)

    def test_verbs_write_read_and_take_into_the_loop(self):
        sent, heard, studio = (self.folder / name for name in ("ping.wav", "heard.wav", "house.ennead"))
        written = json_of("ping", "write", sent, "--rate", "48000", "--repeats", "2")
        self.assertEqual(written["length_s"], soundfile.info(sent).duration)
        status, _, err = run("standin", sent, heard, "--late", "41.5", "--gain", "-3", "--noise", "-70", "--inverted")
        self.assertEqual((status, err), (0, ""))
        write_studio(studio, skerry())
        take = ("--is", "residual", "--take", studio, "capstan", "--session", "Mix of the drama")
        rows = json_of("ping", "read", heard, "--sent", sent, *take)["channels"]
        for row in rows:
            self.assertLess(abs(row["delay_samples"] - 41.5), 4 * row["std_samples"])
            self.assertAlmostEqual(row["delay_ms"], row["delay_samples"] / 48)
            self.assertEqual((row["polarity"], row["delay_is"], row["verdict"]), (-1, "residual", None))
        before, after = skerry(), read_studio(studio)
        self.assertEqual(after.session, before.session)
        loop = next(d for d in after.destinations.values() if d.name == "Capstan")
        (noted,) = [m for m in loop.measured if m.rate_hz == 48_000]
        self.assertAlmostEqual(noted.samples, 41.5, places=3)
        self.assertEqual(len(noted.by_channel), 2)
        evening = choose_session(after, session_named(after, "Mix of the drama"))
        write_studio(self.folder / "evening.json", evening)
        row = next(r for r in json_of("loops", self.folder / "evening.json")["loops"] if r["name"] == "Capstan")
        self.assertAlmostEqual(row["offset_samples"], 41.5, places=3)
        for name, wrong in (("Nobody", "loop"), ("Rudder", "channels")):
            status, _, err = run(
                "ping", "read", heard, "--sent", sent, "--take", studio, name, *take[-2:], "--is", "residual"
            )
            self.assertEqual(status, 2)
            self.assertIn(wrong, err)
        self.assertEqual(read_studio(studio), after)

    def test_a_tone_goes_out_and_comes_back(self):
        sent, heard = self.folder / "tone.wav", self.folder / "heard.flac"
        json_of("tone", "write", sent, "--rate", "44100", "--level", "-18")
        run("standin", sent, self.folder / "heard.wav", "--gain", "0.7", "--noise", "-90")
        soundfile.write(heard, *soundfile.read(self.folder / "heard.wav"), subtype="PCM_24")
        found = json_of("tone", "read", heard, "--sent", "-18")
        for row in found["channels"]:
            self.assertAlmostEqual(row["trim_db"], -0.7, delta=0.01)
        self.assertLess(found["mismatch_db"], 0.01)
