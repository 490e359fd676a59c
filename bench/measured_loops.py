"""Simulated loops measured: errors against the bound, the claim, and the truth by its definition, trial by trial."""

from collections.abc import Sequence
from functools import cache
from typing import NamedTuple

import numpy as np
from scipy.optimize import minimize_scalar

from bench.report import Report
from ennead.measure.loop_reading import ChannelReading, read_pings
from ennead.measure.ping_signal import ping_file
from ennead.measure.recording import ArrayRecording
from ennead.standin.loop_signal import LoopSettings, answer, play

RATE = 48_000
#: What a loop does to a straight phase, and to a bent one.
STRAIGHT = {
    "flat": LoopSettings(),
    "linear 10 kHz": LoopSettings(low_pass=(10_000.0, True)),
    "linear 4 kHz": LoopSettings(low_pass=(4_000.0, True)),
}
BENT = {
    "minimum 10 kHz": LoopSettings(low_pass=(10_000.0, False)),
    "minimum 4 kHz": LoopSettings(low_pass=(4_000.0, False)),
    "bell of 12 dB": LoopSettings(resonance=(800.0, 12.0)),
}
SNRS_DB = (40, 20, 0, -10)


class Trials(NamedTuple):
    """What came of some trials of one loop at one noise.

    Parameters
    ----------
    errors, claims : array of float, samples
    bound : float, samples
        The Cramér–Rao bound of a flat or linear-phase loop; of others the standard deviation of the weighted delay.
    wrong : int
        Polarities that were not the loop’s.
    """

    errors: np.ndarray
    claims: np.ndarray
    bound: float
    wrong: int

    @property
    def against_bound(self) -> float:
        """The rms error, in bounds."""
        return float(np.sqrt(np.mean(self.errors**2)) / self.bound)

    @property
    def covered(self) -> float:
        """How often the truth lay within 1.96 claims."""
        return float(np.mean(np.abs(self.errors) < 1.96 * self.claims))


def weight(hertz: np.ndarray) -> np.ndarray:
    """Return the published weight W: pink from 100 Hz to 10 kHz."""
    return np.where((hertz >= 100) & (hertz <= 10_000), 1 / np.maximum(hertz, 1), 0.0)


@cache
def true_delay(settings: LoopSettings, rate: int = RATE) -> float:
    """Return the delay of a loop’s filters by the definition, from their formula: a dense search, then the top, samples."""
    # Pink over hertz is even over their logarithm: the middles of equal steps of it.
    hertz = 100 * 100 ** ((np.arange(40_000) + 0.5) / 40_000)
    filtered = answer(settings, hertz)

    def missing(tau: float, step: int = 1) -> float:
        turn = np.exp(2j * np.pi * hertz[::step] / rate * tau)
        return -abs(float(np.mean((filtered[::step] * turn).real)))

    grid = np.linspace(-60, 60, 2_401)
    start = float(grid[int(np.argmin([missing(t, 40) for t in grid]))])
    return float(minimize_scalar(missing, bracket=(start - 0.05, start, start + 0.05), tol=1e-10).x)


def bound_of(settings: LoopSettings, snr_db: float, active: int, rate: int = RATE) -> float:
    """Return the Cramér–Rao bound of a straight loop: σ over the square root of E β², one ping, samples."""
    hertz = np.linspace(20, 20_000, 100_001)
    power = np.abs(answer(settings, hertz)) ** 2
    beta2 = np.sum(power * (2 * np.pi * hertz / rate) ** 2) / np.sum(power)
    return float(np.sqrt(10 ** (-snr_db / 10) / (active * beta2)))


def weighted_std(settings: LoopSettings, snr_db: float, period: int, rate: int = RATE) -> float:
    """Return σ_W of a loop at a noise, one ping, samples: Σ W² ω² S/|X|² / 2 (Σ W ω² Re H e^jωτ)²."""
    hertz = np.arange(1, period // 2) * rate / period
    omega = 2 * np.pi * hertz / rate
    inside = (hertz >= 20) & (hertz <= 20_000)
    filtered = answer(settings, hertz)
    # Power of a flat ping through the loop is the mean of |H|² over its bins, against half a period of them.
    power = np.sum(np.abs(filtered[inside]) ** 2) * 2 / period
    noise = power / 10 ** (snr_db / 10) * np.ones(len(hertz))
    turned = filtered * np.exp(1j * omega * true_delay(settings, rate))
    w = weight(hertz)
    return float(np.sqrt(np.sum(w**2 * omega**2 * noise) / 2) / abs(np.sum(w * omega**2 * turned.real)))


def trials(settings: LoopSettings, snr_db: float, times: int, seed: int = 1, *, bent: bool = False) -> Trials:
    """Measure a loop many times by one ping, each time with another delay, sign, gain and noise."""
    dice = np.random.default_rng(seed)
    sent = ping_file(RATE, 1, 1)
    source = ArrayRecording(sent, RATE)
    off = true_delay(settings) if bent else 0.0
    errors, claims, wrong = [], [], 0
    sounding = np.flatnonzero(sent[:, 0])
    active = int(sounding[-1] - sounding[0]) + 1
    for _ in range(times):
        late, inverted = dice.uniform(100, 400), bool(dice.integers(2))
        heard = play(settings._replace(delay_samples=late, inverted=inverted, gain_db=dice.uniform(-20, 6)), sent, RATE)
        first = int(sounding[0] + late)
        power = np.mean(heard[first + 100 : first + active - 100] ** 2)
        heard = heard + dice.normal(0, np.sqrt(power / 10 ** (snr_db / 10)), heard.shape)
        (reading,) = read_pings(source, ArrayRecording(heard, RATE))
        # One that is refused counts as wrong as can be.
        errors.append(reading.delay_samples - late - off if reading.delay_samples is not None else np.inf)
        claims.append(reading.std_samples if reading.std_samples is not None else np.nan)
        wrong += reading.polarity != (-1 if inverted else 1)
    period = 2**15
    bound = weighted_std(settings, snr_db, period) if bent else bound_of(settings, snr_db, active)
    return Trials(np.array(errors), np.array(claims), bound, wrong)


def measured(settings: LoopSettings, sent: np.ndarray, seed: int = 0, rate: int = RATE) -> list[ChannelReading]:
    """Return what is read of a file through a loop."""
    return read_pings(ArrayRecording(sent, rate), ArrayRecording(play(settings, sent, rate, seed), rate))


def run(report: Report, times: int) -> None:
    """Measure: delay against its bounds, drift against a line through the pings, false slips."""
    report.head(f"Delay of simulated loops, one ping, {times} trials each")
    for loops, most, bent in ((STRAIGHT, 1.15, False), (BENT, 1.1, True)):
        for name, settings in loops.items():
            for snr in SNRS_DB:
                found = trials(settings, snr, times, bent=bent)
                allowed = (1.05 if name == "flat" else most) + 3 / np.sqrt(2 * times)
                key = f"delay_{name}_{snr}".replace(" ", "_")
                said = (
                    f"{name}, {snr} dB: rms error {found.against_bound:.3f} {'σ_W' if bent else 'bounds'}, mean"
                    f" {np.mean(found.errors) / np.std(found.errors):+.3f} of it, covered {found.covered:.1%},"
                    f" {found.wrong} signs wrong"
                )
                report.figure(key, found.against_bound, said, round(float(allowed), 3))
    drifting(report, max(3, times // 20))


def line_bound(std: float, times_s: Sequence[float], rate: int = RATE) -> float:
    """Return the standard deviation of the slope of a line through delays of one std, ppm."""
    times = np.array(times_s) * rate
    return float(std / np.sqrt(np.sum((times - times.mean()) ** 2))) * 1e6


def drifting(report: Report, times: int) -> None:
    """Measure drift over a minute of twelve pings, two slips among them, and count false slips of clean takes."""
    report.head(f"Drift over 60 s, 12 pings, two slips, {times} trials each")
    sent = ping_file(RATE, 1, 12, 5.0)
    sounding = np.flatnonzero(np.abs(sent[:, 0]) > 0)
    active = np.count_nonzero(np.diff(sounding) < 100) // 12
    dice = np.random.default_rng(3)
    for snr in (20, 0, -10):
        noise = 10 * np.log10(np.mean(sent[sounding, 0] ** 2)) - snr
        errors, claims, slips = [], [], 0
        for trial in range(times):
            ppm = dice.uniform(-100, 100)
            steps = ((13.0, int(dice.integers(1, 200))), (39.0, -int(dice.integers(1, 200))))
            (one,) = measured(LoopSettings(200.3, noise_dbfs=noise, drift_ppm=ppm, slips=steps), sent, trial)
            errors.append((one.drift_ppm or 0.0) - ppm)
            claims.append(one.drift_std_ppm or np.nan)
            slips += [s.samples for s in one.slips] != [n for _, n in steps]
        bound = line_bound(bound_of(LoopSettings(), snr, active), [5.0 * n for n in range(12)])
        rms = float(np.sqrt(np.mean(np.square(errors)))) / bound
        said = f"{snr} dB: rms error {rms:.3f} of the bound, claimed {np.mean(claims) / bound:.3f}, {slips} slips wrong"
        report.figure(f"drift_{snr}", rms, said, round(1.1 + 3 / float(np.sqrt(2 * times)), 3))
        report.figure(f"slips_{snr}", slips, f"{snr} dB: takes whose slips were read otherwise: {slips}", 0)
    clean = ping_file(RATE, 1, 4)
    false = sum(bool(measured(LoopSettings(150.0, noise_dbfs=-20.0), clean, n)[0].slips) for n in range(3 * times))
    report.figure("false_slips", false, f"{3 * times} clean takes: {false} with a slip that was none", 0)
