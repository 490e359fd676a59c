"""A recording of pings, read: by channel the delay and how sure it is, gain, polarity, noise, clock."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from ennead.measure.clipping import LEAST, MOST, clipped_samples, unclipped
from ennead.measure.coarse_lag import Found, find_lags, thinned
from ennead.measure.crosstalk import crosstalk_of
from ennead.measure.delay import Delay, Transfer, delay_of, weighted_delay
from ennead.measure.drift import Clock, clock_of
from ennead.measure.errors import BadSound
from ennead.measure.gain_track import gains_of
from ennead.measure.hum import Hum, hum_in, without_hum
from ennead.measure.ping_signal import BEFORE_S, PingTrain, band_at, find_pings
from ennead.measure.ping_windows import PARTS, PingWindow, answers_of, model_of, part_delays, windows_of
from ennead.measure.polarity import polarity_of
from ennead.measure.recording import Recording, Samples, Spectrum
from ennead.measure.resampling import MARGIN, resampled
from ennead.measure.silence import noise_power, quiet_spans

#: A clock is read at the sender's where it moves a ping by more than this over its period, samples.
_MOVES: Final = 0.003
#: A ping is left out where its delay steps by more than this, or its level falls by more.
_STEP_SAMPLES, _STEP_SURE, _FALL = 0.3, 6.0, 0.1
#: The shortest gap that is looked for, samples.
_PIECE: Final = 128
_NOISE_BANDS: Final = 24
#: Rounds of putting clipped samples right; a tenth of them leaves a tenth of the error each time.
_ROUNDS: Final = 5


@dataclass(frozen=True)
class Slip:
    """Between two pings the recording went on later, or earlier, by whole samples.

    Parameters
    ----------
    from_s, to_s : float, s
        Of the recording; only the sum of what happened between is seen.
    samples : int
        Positive where it came later.
    """

    from_s: float
    to_s: float
    samples: int


@dataclass(frozen=True)
class ChannelReading:
    """What one recorded channel says.

    Parameters
    ----------
    channel, sent : int
        From 1; which channel of the sent file it holds, 0 where none.
    delay_samples, std_samples, crlb_samples : float or None, samples
        With its standard deviation as claimed, and the Cramér–Rao bound of white noise of the same power.
    at_s : float, s
        The instant of the recording for which the delay holds.
    is_pure : bool
        Whether the phase is straight; otherwise the delay is the weighted one.
    spread_samples : float, samples
        How much the delay of single frequencies differs.
    gain_db, gain_range_db : float or None, dB
        The range where a box moved the gain during a ping.
    polarity : int or None
    snr_db : float or None, dB
    drift_ppm, drift_std_ppm : float or None, ppm
        Positive where the recorder's clock is the faster one.
    slips : tuple of Slip
    pings, heard : int
        How many were sent, and how many could be used.
    clipped : float
        Share of the samples of the pings that stand at the highest level.
    hum_hz, hum_dbfs : float or None, Hz and dBFS
        None where no hum can be told from noise.
    crosstalk : tuple of (int, float) or None
        The other channel of the sent file that is heard too, from 1, and how loud against its own, dB.
    delay_is : str
        What the zero of the delay is.
    verdict : str
        Why a number is refused, or what is to be known of it; empty where all is well.
    """

    channel: int
    sent: int = 0
    delay_samples: float | None = None
    std_samples: float | None = None
    crlb_samples: float | None = None
    at_s: float = 0.0
    is_pure: bool = False
    spread_samples: float = 0.0
    gain_db: float | None = None
    gain_range_db: float | None = None
    polarity: int | None = None
    snr_db: float | None = None
    drift_ppm: float | None = None
    drift_std_ppm: float | None = None
    slips: tuple[Slip, ...] = ()
    pings: int = 0
    heard: int = 0
    clipped: float = 0.0
    hum_hz: float | None = None
    hum_dbfs: float | None = None
    crosstalk: tuple[int, float] | None = None
    delay_is: str = "round_trip"
    verdict: str = ""
    #: As found, whatever its zero means; and the first ping that could be used, from 0.
    found_samples: float | None = None
    first: int = 0


def read_pings(
    sent: Recording, recording: Recording, progress: Callable[[float], None] = lambda _: None
) -> list[ChannelReading]:
    """Return what each channel of a recording says of the loop that it came through.

    Parameters
    ----------
    progress : callable
        Told the part that is done, 0 to 1; what it raises ends the work.

    Raises
    ------
    BadSound
        If the sent file holds no pings, or the recording is of another rate or holds nothing.
    """
    train = find_pings(sent)
    if recording.rate_hz != train.rate_hz:
        raise BadSound(
            f"the recording is at {recording.rate_hz} Hz and the sent file at {train.rate_hz} Hz",
            "Record at the rate of the sent file, without conversion.",
        )
    if not recording.frames or not recording.channels:
        raise BadSound("the recording holds no samples", "Record again, and export the whole take.")
    thin = thinned(recording, lambda part: progress(0.6 * part))
    found = find_lags(thin, train, lambda part: progress(0.6 + 0.2 * part))
    out = []
    for channel, at in enumerate(found):
        progress(0.8 + 0.2 * channel / len(found))
        if at is None:
            out.append(ChannelReading(channel + 1, pings=len(train.starts), verdict="No ping is heard."))
        else:
            out.append(_Channel(recording, channel, train, at).reading())
    return out


class _Channel:
    """The work on one channel."""

    def __init__(self, recording: Recording, channel: int, train: PingTrain, found: Found) -> None:
        self.recording, self.channel, self.train, self.sent = recording, channel, train, found.sent
        self.band = band_at(train.rate_hz)
        self.period = train.form.period
        self.within = train.form.lead
        self.omega = 2 * np.pi * np.arange(self.band.start, self.band.stop) / self.period
        self.windows = windows_of(recording, channel, train, found.sent, found.lags, self.band)
        self.power = np.abs(train.spectra[self.band, found.sent]) ** 2
        lags = [lag if lag is not None else self.windows[0].lag for lag in found.lags]
        self.spans = quiet_spans(recording, train, lags)
        self.hum = self._hum()
        hum_hz = self.hum.hertz if self.hum is not None else 0.0
        self.quiet = noise_power(recording, channel, self.spans, self.period, hum_hz)

    def reading(self) -> ChannelReading:
        """Return what the channel says."""
        within, within_stds = self._inside()
        if not self.windows:
            said = "Every ping is damaged: by a gap, or by a step of the clock inside it. Record again."
            return ChannelReading(self.channel + 1, self.sent + 1, pings=len(self.train.starts), verdict=said)
        base = self.windows[0].lag
        clock, answers, moved_db = self._clocked(within, within_stds)
        mean = self._mean(answers, clock, base)
        transfer, delay = self._delay(mean)
        return self._told(clock, transfer, delay, base, moved_db)

    def _inside(self) -> tuple[Samples, Samples]:
        """Return the rate inside each ping and its standard deviation, and leave out the pings that a step or a gap hits."""
        rates, stds, good = [], [], []
        times = (np.arange(PARTS, dtype=float) - (PARTS - 1) / 2) * (self.period / PARTS)
        for window in self.windows:
            rate, last, model = 0.0, None, None
            for _ in range(4):
                heard = self._humless(window.period_at(rate), model, rate)
                model = self._modelled(np.fft.rfft(heard)[self.band] / self.train.spectra[self.band, self.sent])
                delays, deviations, gains = part_delays(heard, model)
                use = np.isfinite(deviations)
                if np.count_nonzero(use) < 3:
                    break
                slope, std, left = _line(times[use], delays[use], deviations[use])
                rate += slope
                last = (std, left, deviations[use], gains)
                if abs(slope) * self.period < _MOVES:
                    break
            if last is None:
                continue
            std, left, deviations, gains = last
            stepped = np.any((np.abs(left) > _STEP_SAMPLES) & (np.abs(left) > _STEP_SURE * deviations))
            pieces = np.sqrt(np.mean(heard.reshape(-1, _PIECE) ** 2, axis=1))
            gap = min(gains.min() / np.median(gains), pieces.min() / np.median(pieces)) < _FALL
            if stepped or gap:
                continue
            rates.append(rate)
            stds.append(std)
            good.append(window)
        self.windows = good
        return np.array(rates), np.array(stds)

    def _clocked(self, within: Samples, within_stds: Samples) -> tuple[Clock, Spectrum, float]:
        """Return the clock, the answers at the sender's clock, and how far the gain moved in any ping, dB."""
        rates = np.where(np.abs(within) > 4 * within_stds, within, 0.0)
        clock, moved_db = Clock(0.0, 0.0, (), False), 0.0
        answers = np.zeros((0, 0), np.complex128)
        for _ in range(3):
            answers, moved_db = self._answers(rates)
            delays, stds = self._each(answers)
            times = np.array([self.train.starts[w.ping] for w in self.windows], float)
            clock = clock_of(times, delays, stds, within, within_stds)
            rate = (
                clock.rate if abs(clock.rate) * self.period > _MOVES and abs(clock.rate) > 3 * clock.rate_std else 0.0
            )
            if clock.is_too_fast or np.all(np.abs(rates - rate) * self.period < _MOVES):
                break
            rates = np.full(len(rates), rate)
        return clock, answers, moved_db

    def _answers(self, rates: Samples) -> tuple[Spectrum, float]:
        """Return the answer of each window, with the gain that moved during a ping taken out of it."""
        answers = answers_of(self.windows, self.train, self.sent, self.band, list(rates))
        moved_db = 0.0
        for n, window in enumerate(self.windows):
            model: Samples | None = None
            raw = self._restored(window, answers, n, rates[n])
            for _ in range(2):
                heard = self._humless(raw, model, rates[n])
                answers[n] = np.fft.rfft(heard)[self.band] / self.train.spectra[self.band, self.sent]
                model = self._modelled(answers[n])
            for _ in range(2):
                noise = self._noise(answers[n])
                start = delay_of(Transfer(self.omega, answers[n], noise), self.train.rate_hz, self.period, self.within)
                model = model_of(answers[n], noise, self.train, self.sent, self.band, start.samples)
                gains = gains_of(heard, model, float(np.mean(noise * self.power)) / self.period)
                if gains is None:
                    break
                moved_db = max(moved_db, float(20 * np.log10(gains.max() / gains.min())))
                answers[n] = np.fft.rfft(heard / gains)[self.band] / self.train.spectra[self.band, self.sent]
        return answers, moved_db

    def _restored(self, window: PingWindow, answers: Spectrum, n: int, rate: float) -> Samples:
        """Return a ping without its clipping, and put its answer right: round by round, from what is left of it."""
        flat = clipped_samples(window.samples)
        if flat is None:
            return window.period_at(rate)
        before = window
        for _ in range(_ROUNDS):
            noise = self._noise(answers[n])
            start = delay_of(Transfer(self.omega, answers[n], noise), self.train.rate_hz, self.period, self.within)
            model = model_of(answers[n], noise, self.train, self.sent, self.band, start.samples)
            if rate:
                model = resampled(np.pad(model, MARGIN, mode="wrap"), self.period, -rate)
            filled = window.samples.copy()
            inside = slice(MARGIN, -MARGIN)
            filled[inside] = unclipped(window.samples[inside], model, flat[inside])
            before = window._replace(samples=filled)
            answers[n] = np.fft.rfft(before.period_at(rate))[self.band] / self.train.spectra[self.band, self.sent]
        return before.period_at(rate)

    def _modelled(self, answer: Spectrum) -> Samples:
        """Return a period as it comes back without noise."""
        noise = self._noise(answer)
        rough = weighted_delay(Transfer(self.omega, answer, noise), self.train.rate_hz, self.period, self.within)
        return model_of(answer, noise, self.train, self.sent, self.band, rough.samples)

    def _humless(self, heard: Samples, model: Samples | None, rate: float) -> Samples:
        """Return a period without its offset and hum: fitted to what is left beside the model, once there is one."""
        hertz = self.hum.hertz * (1 + rate) if self.hum is not None else 0.0
        return without_hum(heard, heard - model if model is not None else heard, hertz, self.train.rate_hz)

    def _each(self, answers: Spectrum) -> tuple[Samples, Samples]:
        """Return the delay of each ping by itself, and its standard deviation, samples."""
        found = []
        for window, answer in zip(self.windows, answers, strict=True):
            _, delay = self._delay(answer)
            found.append((window.lag + delay.samples, delay.std_samples))
        table = np.array(found)
        return table[:, 0], table[:, 1]

    def _mean(self, answers: Spectrum, clock: Clock, base: int) -> Spectrum:
        """Return the mean answer about one lag, each ping moved to the line through them."""
        times = np.array([self.train.starts[w.ping] for w in self.windows], float)
        steps = np.concatenate([[0.0], np.cumsum(clock.steps)]) if clock.steps else np.zeros(len(times))
        total = np.zeros(len(self.omega), np.complex128)
        for window, answer, time, step in zip(self.windows, answers, times, steps, strict=True):
            late = base + clock.rate * (time - times.mean()) + step - window.lag
            total += answer * np.exp(1j * self.omega * late)
        return np.asarray(total / len(self.windows))

    def _delay(self, answer: Spectrum) -> tuple[Transfer, Delay]:
        transfer = Transfer(self.omega, answer, self._noise(answer))
        return transfer, delay_of(transfer, self.train.rate_hz, self.period, self.within)

    def _noise(self, answer: Spectrum) -> Samples:
        """Return the variance of an answer by bin: the shape of the silence at the height that neighbouring bins show."""
        from scipy.ndimage import uniform_filter1d  # type: ignore[import-untyped]

        flat = np.ones(len(answer))
        rough = weighted_delay(Transfer(self.omega, answer, flat), self.train.rate_hz, self.period, self.within)
        turned = answer * np.exp(1j * self.omega * rough.samples)
        seen = np.abs(np.diff(turned, append=turned[-2])) ** 2 / 2
        least = 1e-13 * float(np.mean(np.abs(answer) ** 2)) + 1e-300
        if self.quiet is None:
            return np.asarray(np.maximum(uniform_filter1d(seen, 301, mode="reflect"), least))
        noise = np.maximum(self.quiet[self.band] / self.power, least)
        for part in np.array_split(np.arange(len(noise)), _NOISE_BANDS):
            noise[part] *= max(float(np.mean(seen[part])) / float(np.mean(noise[part])), 1e-30)
        return np.asarray(np.maximum(noise, least))

    def _told(self, clock: Clock, transfer: Transfer, delay: Delay, base: int, moved_db: float) -> ChannelReading:
        rate_hz = self.train.rate_hz
        heard = [self._humless(w.period_at(0.0), None, 0.0) for w in self.windows]
        whole = float(np.mean([np.mean(h**2) for h in heard]))
        noise = (
            float(np.mean(self.quiet)) / self.period
            if self.quiet is not None
            else float(np.mean(transfer.noise * self.power) * len(self.windows)) / self.period
        )
        power = max(whole - noise, 1e-300)
        shape = np.maximum(np.abs(transfer.answer) ** 2 - transfer.noise, 0.0) * self.power
        beta2 = float(np.dot(shape, transfer.omega**2) / max(shape.sum(), 1e-300))
        energy = power * self.train.form.active * len(self.windows)
        # As it was recorded: less its hum, a top is flat no more.
        flats = [clipped_samples(w.period_at(0.0)) for w in self.windows]
        clipped = float(np.mean([np.mean(flat) if flat is not None else 0.0 for flat in flats]))
        verdict, refused = _verdict(clock, clipped, moved_db)
        bound = float(np.sqrt(noise / (energy * beta2))) if beta2 > 0 else None
        middle = float(np.mean([self.train.starts[w.ping] + w.lag for w in self.windows])) + (self.period - 1) / 2
        return ChannelReading(
            self.channel + 1,
            self.sent + 1,
            base + delay.samples if not refused else None,
            delay.std_samples / (1 - clipped) if not refused else None,
            bound if not refused else None,
            middle / rate_hz,
            delay.is_pure,
            delay.spread_samples,
            20 * float(np.log10(max(abs(delay.gain), 1e-12))),
            moved_db or None,
            polarity_of(transfer, rate_hz, self.period, self.within),
            10 * float(np.log10(power / noise)) if noise > 0 else None,
            clock.rate * 1e6 if not clock.is_too_fast else None,
            clock.rate_std * 1e6 if not clock.is_too_fast else None,
            self._slips(clock.steps) if not clock.is_too_fast else (),
            len(self.train.starts),
            len(self.windows),
            clipped if clipped > LEAST / 2 else 0.0,
            self.hum.hertz if self.hum is not None else None,
            self.hum.dbfs if self.hum is not None else None,
            self._crosstalk(transfer, delay),
            verdict=verdict,
            found_samples=base + delay.samples if not refused else None,
            first=self.windows[0].ping,
        )

    def _hum(self) -> Hum | None:
        """Return the hum of the longest silence."""
        if not self.spans:
            return None
        first, end = max(self.spans, key=lambda span: span[1] - span[0])
        end = min(end, first + round(BEFORE_S * self.train.rate_hz))
        quiet = np.nan_to_num(self.recording.read(first, end - first)[:, self.channel], posinf=0.0, neginf=0.0)
        return hum_in(quiet, self.train.rate_hz)

    def _crosstalk(self, transfer: Transfer, delay: Delay) -> tuple[int, float] | None:
        """Return the loudest other sent channel, from 1, and how loud it is against its own, dB."""
        if self.train.channels == 1 or not delay.gain:
            return None
        model = model_of(transfer.answer, transfer.noise, self.train, self.sent, self.band, delay.samples)
        found = crosstalk_of(self.windows[0].period_at(0.0), model, self.train, self.sent, self.band)
        return (found[0] + 1, 20 * float(np.log10(found[1] / abs(delay.gain)))) if found is not None else None

    def _slips(self, steps: Sequence[int]) -> tuple[Slip, ...]:
        ends = [(self.train.starts[w.ping] + w.lag) / self.train.rate_hz for w in self.windows]
        length = self.period / self.train.rate_hz
        return tuple(Slip(ends[n] + length, ends[n + 1], step) for n, step in enumerate(steps) if step)


def _verdict(clock: Clock, clipped: float, moved_db: float) -> tuple[str, bool]:
    """Return what is to be known of a take, and whether its delay is refused for it."""
    if clock.is_too_fast:
        return "It slips faster than the pings can tell: put the clock right, or record with more of them.", True
    if clipped > MOST:
        return f"{clipped:.0%} of the samples are clipped: turn it down and record again.", True
    return (f"The gain moved by {moved_db:.1f} dB during a ping." if moved_db else ""), False


def _line(times: Samples, values: Samples, stds: Samples) -> tuple[float, float, Samples]:
    """Return slope, its standard deviation, and what is left of a weighted line."""
    weights = 1 / stds**2
    middle = np.dot(weights, times) / weights.sum()
    spread = np.dot(weights, (times - middle) ** 2)
    slope = float(np.dot(weights * (times - middle), values) / spread)
    mean = float(np.dot(weights, values) / weights.sum())
    return slope, float(1 / np.sqrt(spread)), values - mean - slope * (times - middle)
