"""A tone read back: the level of its fundamental, its frequency, its harmonics.

References
----------
AES17: 997 Hz; the level of a sine whose peaks reach full scale is 0 dBFS.
"""

from typing import Final, NamedTuple

import numpy as np

from ennead.measure.errors import BadSound
from ennead.measure.recording import Recording, Samples

TONE_HZ: Final = 997.0
#: How long a tone is written, s, and the silence around it; how long it must last to be read.
LENGTH_S, AROUND_S, SHORTEST_S = 5.0, 1.0, 1.0
_FADE_S: Final = 0.02
#: The frequency is looked for this far from 997 Hz, ppm.
_STRAY_PPM: Final = 1_200.0
_PIECE_S: Final = 0.05
#: The tone is steady where its level stays within this of the middle of it, dB.
_STEADY_DB: Final = 0.5
_HARMONICS: Final = 5
#: Of all that is heard there the tone must be so much, as power.
_LEAST_SHARE: Final = 0.05
#: The longest stretch that is read, s.
_LONGEST_S: Final = 10.0
LOUDEST_DBFS, QUIETEST_DBFS = 0.0, -90.0


class ToneLevel(NamedTuple):
    """What one channel holds of the tone.

    Parameters
    ----------
    level_dbfs : float or None, dBFS
        None where no tone is heard.
    frequency_hz : float or None, Hz
    thd_percent : float or None, %
        Harmonics two to five against the fundamental; what lies above half the rate is not counted.
    """

    level_dbfs: float | None
    frequency_hz: float | None
    thd_percent: float | None
    verdict: str = ""


def tone_file(rate_hz: int, level_dbfs: float, channels: int = 2) -> Samples:
    """Return a second of silence, five of tone, and silence, shape (frames, channels), full scale = 1.

    Raises
    ------
    BadSound
        If the level or the rate is none for a tone.
    """
    if not QUIETEST_DBFS <= level_dbfs <= LOUDEST_DBFS:
        raise BadSound(
            f"a tone of {level_dbfs:g} dBFS cannot be written", f"Take {QUIETEST_DBFS:g} to {LOUDEST_DBFS:g}."
        )
    if not 32_000 <= rate_hz <= 384_000:
        raise BadSound(f"a tone at {rate_hz} Hz cannot be written", "Take the rate of your session.")
    count = round(LENGTH_S * rate_hz)
    wave = 10 ** (level_dbfs / 20) * np.sin(2 * np.pi * TONE_HZ * np.arange(count) / rate_hz)
    rise = 0.5 - 0.5 * np.cos(np.pi * np.arange(round(_FADE_S * rate_hz)) / round(_FADE_S * rate_hz))
    wave[: len(rise)] *= rise
    wave[-len(rise) :] *= rise[::-1]
    around = np.zeros(round(AROUND_S * rate_hz))
    return np.repeat(np.concatenate([around, wave, around])[:, None], channels, axis=1)


def read_tone(recording: Recording) -> list[ToneLevel]:
    """Return the level of the tone in each channel.

    Raises
    ------
    BadSound
        If the recording is shorter than a second.
    """
    if recording.frames < SHORTEST_S * recording.rate_hz:
        raise BadSound("the recording is shorter than a second", "Record the whole tone.")
    return [_channel(recording, n) for n in range(recording.channels)]


def _channel(recording: Recording, channel: int) -> ToneLevel:
    rate = recording.rate_hz
    span = _steady(recording, channel)
    if span is None:
        return ToneLevel(None, None, None, "No steady tone of about 997 Hz lasts a second.")
    first, end = span
    wave = np.nan_to_num(recording.read(first, end - first)[:, channel], posinf=0.0, neginf=0.0)
    window = _window(len(wave))
    hertz = _frequency(wave, window, rate)
    top = abs(_line(wave, window, hertz, rate))
    if top**2 / 2 < _LEAST_SHARE * np.var(wave) or top <= 0 or abs(hertz / TONE_HZ - 1) > _STRAY_PPM * 1e-6:
        return ToneLevel(None, None, None, "No steady tone of about 997 Hz lasts a second.")
    others = [abs(_line(wave, window, n * hertz, rate)) for n in range(2, _HARMONICS + 1) if n * hertz < 0.45 * rate]
    return ToneLevel(20 * float(np.log10(top)), hertz, 100 * float(np.sqrt(np.sum(np.square(others)))) / top)


def _steady(recording: Recording, channel: int) -> tuple[int, int] | None:
    """Return the longest stretch in which the tone keeps its level: the first and the end, samples."""
    rate = recording.rate_hz
    size = round(_PIECE_S * rate)
    turn = np.exp(-2j * np.pi * TONE_HZ * np.arange(size) / rate) * np.hanning(size)
    turn /= np.sum(np.hanning(size)) / 2
    levels = []
    step = size * 200
    for start in range(0, recording.frames - size + 1, step):
        block = np.nan_to_num(
            recording.read(start, min(step, recording.frames - start))[:, channel], posinf=0.0, neginf=0.0
        )
        levels += list(np.abs(block[: len(block) // size * size].reshape(-1, size) @ turn))
    found = np.array(levels)
    if not len(found) or found.max() <= 0:
        return None
    loud = found[found > found.max() / 4]
    near = np.abs(20 * np.log10(np.maximum(found, 1e-15) / np.median(loud))) < _STEADY_DB
    edges = np.flatnonzero(np.diff(np.concatenate([[0], near.astype(int), [0]])))
    runs = sorted(zip(edges[::2], edges[1::2], strict=True), key=lambda run: run[0] - run[1])
    if not runs or (runs[0][1] - runs[0][0]) * size < SHORTEST_S * rate - 2 * size:
        return None
    first, end = int(runs[0][0]) * size, int(runs[0][1]) * size
    return first, min(end, first + round(_LONGEST_S * rate))


def _window(count: int) -> Samples:
    """Return a window of four cosines: side lobes 92 dB down keep hum and offset off the tone."""
    turn = 2 * np.pi * (np.arange(count) + 0.5) / count
    window = 0.35875 - 0.48829 * np.cos(turn) + 0.14128 * np.cos(2 * turn) - 0.01168 * np.cos(3 * turn)
    return np.asarray(window / window.sum())


def _line(wave: Samples, window: Samples, hertz: float, rate: int) -> complex:
    """Return the amplitude and phase of a sine in a wave."""
    turn = np.exp(-2j * np.pi * hertz * np.arange(len(wave)) / rate)
    return complex(2 * np.dot(wave * window, turn))


def _frequency(wave: Samples, window: Samples, rate: int) -> float:
    """Return the frequency next to 997 Hz: a search, then the turn of the phase between both halves."""
    coarse = np.linspace(1 - _STRAY_PPM * 1e-6, 1 + _STRAY_PPM * 1e-6, 25) * TONE_HZ
    hertz = float(coarse[int(np.argmax([abs(_line(wave, window, f, rate)) for f in coarse]))])
    half = len(wave) // 2
    part = _window(half)
    for _ in range(3):
        early, late = _line(wave[:half], part, hertz, rate), _line(wave[half : 2 * half], part, hertz, rate)
        # Both are counted from their own first sample: what the nominal frequency turns between them comes off.
        turned = late * np.conj(early) * np.exp(-2j * np.pi * hertz * half / rate)
        hertz += float(np.angle(turned)) / (2 * np.pi * half / rate)
    return hertz
