"""A hardware loop played period by period, as an audio server asks for it: the settings of the loop that is played from a file."""

from typing import Any, Final

import numpy as np
import numpy.typing as npt

from ennead.standin.loop_signal import Compressor, LoopSettings, Wave, hum_at
from ennead.studio.errors import BadValue

#: A sinc this long, weighted after Kaiser, is late by parts of a sample as exactly as single precision shows, to 21 kHz at 44.1 kHz.
_TAPS: Final = 192
_BETA: Final = 12.3
#: Steps between two samples at which a moving delay finds its weights; between them a straight line is exact to 1e-7.
_STEPS: Final = 2048
#: A clock that drifts may move the delay so far before it is put back, s.
_FARTHEST_S: Final = 0.5
#: Slips and gaps are counted from the first sound after so much silence, s.
_REST_S: Final = 5.0


class LiveLoop:
    """The loop as it stands after the periods that it has played.

    Parameters
    ----------
    settings : LoopSettings
        No resonance and no linear-phase filter; times of slips and gaps are from the first sound after 5 s of silence.
    channels : int
    rate_hz : int, Hz
    seed : int
        Of the noise.

    Raises
    ------
    BadValue
        If it is late by parts of a sample, or drifts, and less late than the weights of its sinc are long.
    """

    def __init__(self, settings: LoopSettings, channels: int, rate_hz: int, seed: int = 0) -> None:
        least = _TAPS // 2
        moves = settings.drift_ppm != 0 or settings.delay_samples != round(settings.delay_samples)
        if settings.delay_samples < (least if moves else 0):
            raise BadValue(
                "how late the loop is",
                f"{settings.delay_samples:g} samples",
                f"Played live it is late by whole samples, or by {least} at least.",
            )
        self.settings, self.rate_hz = settings, rate_hz
        reach = (
            settings.delay_samples
            + sum(abs(n) for _, n in settings.slips)
            + _FARTHEST_S * rate_hz * bool(settings.drift_ppm)
        )
        self._past = np.zeros((int(reach) + 2 * _TAPS, channels))
        self._random = np.random.default_rng(seed)
        self._at, self._rest = 0, round(_REST_S * rate_hz)
        self._since: int | None = None
        self._compressor = Compressor(rate_hz, *settings.compress) if settings.compress is not None else None
        self._filter: tuple[Any, Any] | None = None
        if settings.low_pass is not None:
            from scipy.signal import butter  # type: ignore[import-untyped]

            sections = butter(4, settings.low_pass[0], fs=rate_hz, output="sos")
            self._filter = sections, np.zeros((len(sections), 2, channels))

    def play(self, sent: Wave) -> Wave:
        """Return the next period: what comes back while this is sent.

        Parameters
        ----------
        sent : array of float, shape (frames, channels), full scale = 1
        """
        settings, frames = self.settings, len(sent)
        self._count(sent)
        source = sent[:, ::-1] if settings.swapped else sent
        if self._compressor is not None:
            source = source * self._compressor.gains(np.max(np.abs(source), axis=1))[:, None]
        if self._filter is not None:
            from scipy.signal import sosfilt

            source, state = sosfilt(self._filter[0], source, axis=0, zi=self._filter[1])
            self._filter = self._filter[0], state
        whole = np.concatenate([self._past, source])
        self._past = whole[frames:]
        out = np.zeros(sent.shape) if settings.dead else self._late(whole, frames)
        out *= (-1 if settings.inverted else 1) * 10 ** (settings.gain_db / 20)
        times = self._times(frames)
        for at, length in settings.gaps:
            out[(times >= at) & (times < at + length)] = 0.0
        if settings.hum is not None:
            out += hum_at(*settings.hum, (self._at + np.arange(frames)) / self.rate_hz)[:, None]
        out += settings.dc
        if settings.noise_dbfs is not None:
            out += self._random.normal(0.0, 10 ** (settings.noise_dbfs / 20), out.shape)
        self._at += frames
        self._since = self._since + frames if self._since is not None else None
        return np.clip(out, -settings.clip, settings.clip) if settings.clip is not None else out

    def _count(self, sent: Wave) -> None:
        """Start counting at the first sound after a rest."""
        if not np.any(sent):
            self._rest += len(sent)
            return
        if self._rest >= _REST_S * self.rate_hz:
            self._since = -int(np.flatnonzero(np.any(sent, axis=1))[0])
        self._rest = 0

    def _times(self, frames: int) -> Wave:
        """Return the time of each sample of the period since the first sound, s; below zero before it."""
        return (self._since + np.arange(frames)) / self.rate_hz if self._since is not None else np.full(frames, -1.0)

    def _late(self, whole: Wave, frames: int) -> Wave:
        """Return the period that ends a history, late."""
        places = np.arange(len(whole) - frames, len(whole), dtype=float) - self.settings.delay_samples
        times = self._times(frames)
        for at, samples in self.settings.slips:
            places -= samples * (times >= at)
        if self.settings.drift_ppm:
            apart = self._at + np.arange(frames)
            # The recorder's clock is faster: what is sent lasts longer by it.
            moved = apart * (1 - 1 / (1 + self.settings.drift_ppm * 1e-6))
            places -= np.fmod(moved, _FARTHEST_S * self.rate_hz)
        first = np.floor(places).astype(int)
        part = places - first
        if not np.any(part):
            return np.asarray(whole[first])
        begin = first - _TAPS // 2 + 1
        if not np.ptp(part) and begin[-1] - begin[0] == frames - 1:
            # Nothing moves in this period: one filter for all of it.
            weights, heard = _sinc(part[:1])[0, ::-1], whole[begin[0] : begin[-1] + _TAPS]
            return np.stack([np.convolve(heard[:, n], weights, "valid") for n in range(whole.shape[1])], axis=1)
        windows = np.lib.stride_tricks.sliding_window_view(whole, _TAPS, axis=0)[begin]
        return np.asarray(np.einsum("nck,nk->nc", windows, _weights(part)))


_TABLE: list[Wave] = []


def _weights(part: Wave) -> "npt.NDArray[np.float64]":
    """Return the weights of the samples about places between two, shape (places, taps)."""
    if not _TABLE:
        _TABLE.append(_sinc(np.arange(_STEPS + 1) / _STEPS))
    at = part * _STEPS
    low = np.minimum(at.astype(int), _STEPS - 1)
    share = (at - low)[:, None]
    return np.asarray((1 - share) * _TABLE[0][low] + share * _TABLE[0][low + 1])


def _sinc(part: Wave) -> Wave:
    away = np.arange(_TAPS) - (_TAPS // 2 - 1) - part[:, None]
    inside = np.clip(1 - (away / (_TAPS / 2)) ** 2, 0.0, None)
    return np.asarray(np.sinc(away) * np.i0(_BETA * np.sqrt(inside)) / np.i0(_BETA))
