"""The ping: repeats of one period of noise with an exactly flat magnitude, its end set before it and its start behind it.

A window of one period then holds whole periods of every bin, whatever the delay: the returned spectrum divided by the sent
one is the loop's transfer function, bin by bin, with no leakage. Each channel has phases of its own.
"""

from typing import Final, NamedTuple

import numpy as np

from ennead.measure.errors import BadSound
from ennead.measure.recording import Recording, Samples, Spectrum

#: The band in which the magnitude is flat, Hz.
LOWEST_HZ: Final = 20.0
HIGHEST_HZ: Final = 20_000.0
#: Peak of the written ping, full scale = 1: −12 dBFS, a house default that leaves room for a hot box.
PEAK: Final = 0.25
#: Silence before the first ping, from which hum and noise are read, and after the last, s.
BEFORE_S: Final = 7.0
AFTER_S: Final = 2.0
#: A ping every so often, s, and so many. House defaults; the largest delay that is looked for is a second.
SPACING_S: Final = 2.5
REPEATS: Final = 4
LARGEST_DELAY_S: Final = 1.0
#: What is written and read, Hz.
RATES_HZ: Final = (44_100, 48_000, 88_200, 96_000, 176_400, 192_000)
MOST_CHANNELS: Final = 8
MOST_REPEATS: Final = 60
_MOST_SPACING_S: Final = 60.0
#: Rounds of taking peaks down, above so many rms, between the samples too: a wave made flat at its samples alone would be
#: clipped quite otherwise half a sample later.
_ROUNDS: Final = 30
_CLIP_AT: Final = 1.8
_FINER_HZ: Final = 176_400


class PingForm(NamedTuple):
    """How long the parts of a ping are at a rate.

    Parameters
    ----------
    period : int, samples
        The period, over which spectra are taken.
    lead, tail : int, samples
        Copies of the period's end before it, and of its start behind it.
    fade : int, samples
        How long both ends fade.
    """

    period: int
    lead: int
    tail: int
    fade: int

    @property
    def active(self) -> int:
        """How many samples of a ping sound."""
        return self.lead + self.period + self.tail


class PingTrain(NamedTuple):
    """The pings of a sent file.

    Parameters
    ----------
    starts : tuple of int, samples
        Where the period of each ping starts.
    periods : array of float, shape (period, channels)
        One period of each channel.
    spectra : array of complex, shape (period / 2 + 1, channels)
        Its discrete Fourier transform.
    """

    rate_hz: int
    form: PingForm
    starts: tuple[int, ...]
    periods: Samples
    spectra: Spectrum
    frames: int

    @property
    def channels(self) -> int:
        """How many channels were sent."""
        return int(self.periods.shape[1])


def form_at(rate_hz: int) -> PingForm:
    """Return the form of the ping at a rate: a period of 0.68 to 0.74 s."""
    period = 2**15 * (1 if rate_hz <= 50_000 else 2 if rate_hz <= 100_000 else 4)
    return PingForm(period, period // 32, period // 128, period // 256)


def band_at(rate_hz: int, low_hz: float = LOWEST_HZ, high_hz: float = HIGHEST_HZ) -> slice:
    """Return the bins of a period that lie between two frequencies."""
    period = form_at(rate_hz).period
    return slice(int(np.ceil(low_hz * period / rate_hz)), int(np.floor(high_hz * period / rate_hz)) + 1)


def one_period(rate_hz: int, channel: int) -> Samples:
    """Return a period of noise with a flat magnitude in the band and low peaks, of peak 1.

    Parameters
    ----------
    rate_hz : int, Hz
    channel : int
        From 0; each has phases of its own.
    """
    period, band = form_at(rate_hz).period, band_at(rate_hz)
    random = np.random.default_rng([channel, 1])
    phase = random.uniform(0, 2 * np.pi, band.stop - band.start)
    finer = max(1, _FINER_HZ // rate_hz)
    fine = np.zeros(finer * period // 2 + 1, complex)
    for _ in range(_ROUNDS):
        fine[band] = np.exp(1j * phase)
        wave = np.fft.irfft(fine, finer * period)
        limit = _CLIP_AT * np.sqrt(np.mean(wave**2))
        phase = np.angle(np.fft.rfft(np.clip(wave, -limit, limit))[band])
    spectrum = np.zeros(period // 2 + 1, complex)
    spectrum[band] = np.exp(1j * phase)
    wave = np.fft.irfft(spectrum, period)
    return np.asarray(wave / np.max(np.abs(wave)))


def ping_file(rate_hz: int, channels: int = 2, repeats: int = REPEATS, spacing_s: float = SPACING_S) -> Samples:
    """Return what to play: silence, pings at even distances, silence.

    Parameters
    ----------
    spacing_s : float, s
        From the start of a ping to the start of the next.

    Returns
    -------
    array of float, shape (frames, channels), full scale = 1

    Raises
    ------
    BadSound
        If the rate, a count or the spacing is none that a ping has.
    """
    if rate_hz not in RATES_HZ:
        raise BadSound(f"no ping is written at {rate_hz} Hz", f"Take one of {', '.join(map(str, RATES_HZ))} Hz.")
    if not 1 <= channels <= MOST_CHANNELS:
        raise BadSound(f"a ping has no {channels} channels", f"Take 1 to {MOST_CHANNELS}.")
    if not 1 <= repeats <= MOST_REPEATS:
        raise BadSound(f"{repeats} pings cannot be written", f"Take 1 to {MOST_REPEATS}.")
    form = form_at(rate_hz)
    least = LARGEST_DELAY_S + form.active / rate_hz
    if not least <= spacing_s <= _MOST_SPACING_S:
        raise BadSound(
            f"pings {spacing_s:g} s apart cannot be written",
            f"Take {least:.1f} to {_MOST_SPACING_S:g} s: wider than any delay.",
        )
    step, before = round(spacing_s * rate_hz), round(BEFORE_S * rate_hz)
    frames = before + (repeats - 1) * step + form.active + round(AFTER_S * rate_hz)
    out = np.zeros((frames, channels))
    rise = 0.5 - 0.5 * np.cos(np.pi * np.arange(1, form.fade + 1) / (form.fade + 1))
    for channel in range(channels):
        wave = one_period(rate_hz, channel) * PEAK
        ping = np.concatenate([wave[-form.lead :], wave, wave[: form.tail]])
        ping[: form.fade] *= rise
        ping[-form.fade :] *= rise[::-1]
        for n in range(repeats):
            out[before + n * step : before + n * step + form.active, channel] = ping
    return out


def length_s(rate_hz: int, repeats: int = REPEATS, spacing_s: float = SPACING_S) -> float:
    """Return how long a file of pings is, s."""
    return BEFORE_S + (repeats - 1) * spacing_s + form_at(rate_hz).active / rate_hz + AFTER_S


def find_pings(sent: Recording) -> PingTrain:
    """Return the pings of a sent file.

    Raises
    ------
    BadSound
        If it is no file of pings.
    """
    wrong = BadSound("the sent file holds no pings", "Give the file that “ping write” wrote and that was played.")
    if sent.rate_hz not in RATES_HZ or not 1 <= sent.channels <= MOST_CHANNELS:
        raise wrong
    form = form_at(sent.rate_hz)
    longest = round((BEFORE_S + AFTER_S + MOST_REPEATS * _MOST_SPACING_S) * sent.rate_hz)
    if not form.active <= sent.frames <= longest:
        raise wrong
    found = _sounding(sent, form.lead)
    if not found:
        raise wrong
    firsts, lasts = np.array(found).T
    if len(firsts) > MOST_REPEATS or np.any(np.abs(lasts - firsts + 1 - form.active) > form.fade):
        raise wrong
    periods = sent.read(int(firsts[0]) + form.lead, form.period)
    spectra = np.fft.rfft(periods, axis=0)
    size = np.abs(spectra[band_at(sent.rate_hz)])
    if np.any(size.min(axis=0) < size.max(axis=0) / 2):
        raise wrong
    return PingTrain(
        sent.rate_hz, form, tuple(int(first) + form.lead for first in firsts), periods, spectra, sent.frames
    )


def _sounding(sent: Recording, silence: int) -> list[tuple[int, int]]:
    """Return the first and the last sample of each sound of a file: what is above a thousandth of its peak."""
    piece = 64
    tops = [
        np.abs(
            np.concatenate([block, np.zeros((-len(block) % piece, block.shape[1]))]) if len(block) % piece else block
        )
        .reshape(-1, piece * sent.channels)
        .max(axis=1)
        for block in sent.blocks(2**20)
    ]
    top = np.concatenate(tops)
    least = float(top.max(initial=0.0)) / 1000
    if not np.isfinite(least) or least == 0:
        return []
    loud = np.flatnonzero(top > least)
    breaks = np.flatnonzero(np.diff(loud) > silence // piece)
    spans = zip(loud[np.concatenate([[0], breaks + 1])], loud[np.concatenate([breaks, [len(loud) - 1]])], strict=True)
    out = []
    for first, last in spans:
        begin = int(first) * piece
        sounds = np.flatnonzero(np.max(np.abs(sent.read(begin, (int(last) - int(first) + 1) * piece)), axis=1) > least)
        out.append((begin + int(sounds[0]), begin + int(sounds[-1])))
        if len(out) > MOST_REPEATS:
            break
    return out
