"""Loops measured through the running audio server: pings out of their sends, their returns recorded, only whole takes believed."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Final, NamedTuple

import numpy as np

from ennead.live.server_child import ask
from ennead.measure.loop_reading import ChannelReading, read_pings
from ennead.measure.overlay import Overlay, overlay_of
from ennead.measure.ping_signal import MOST_CHANNELS, REPEATS, find_pings, ping_file
from ennead.measure.recording import ArrayRecording
from ennead.measure.take_check import damaged_block
from ennead.measure.zero import with_zero

#: A take that is damaged is repeated, so often altogether.
MOST_TAKES: Final = 6
#: Pings of a take at least: they are compared with each other.
LEAST_REPEATS: Final = 3
#: How much of the progress is the take, before it is read.
_TAKE_PART: Final = 0.9


class LoopPorts(NamedTuple):
    """A loop at the server.

    Parameters
    ----------
    loop : str
        Its name.
    sends, returns : tuple of str
        The ports it is sent out of and comes back by.
    """

    loop: str
    sends: tuple[str, ...]
    returns: tuple[str, ...]


class LiveTake(NamedTuple):
    """What the takes of one loop say.

    Parameters
    ----------
    readings : tuple of ChannelReading
        One a return, numbered from 1, as a whole round trip; without a delay where no take could be believed.
    reported : tuple of int, samples
        What the driver reports of each return's way, out and in together.
    refused : tuple of str
        Why each take before was repeated.
    interruptions : int
        How often the server announced one during the take that counts; of damage it proves nothing.
    period : int, samples
        Of the server.
    """

    ports: LoopPorts
    rate_hz: int
    readings: tuple[ChannelReading, ...]
    overlays: tuple[Overlay | None, ...]
    reported: tuple[int, ...]
    refused: tuple[str, ...]
    interruptions: int
    period: int

    @property
    def is_whole(self) -> bool:
        """Whether every return has a delay."""
        return all(r.delay_samples is not None for r in self.readings)

    @property
    def residuals(self) -> tuple[ChannelReading, ...]:
        """The same as what the software leaves that takes off what the driver reports."""
        return tuple([_less(r, late) for r, late in zip(self.readings, self.reported, strict=True)])


def _less(reading: ChannelReading, reported: int) -> ChannelReading:
    late = reading.delay_samples - reported if reading.delay_samples is not None else None
    return replace(reading, delay_samples=late, delay_is="residual")


def take_loops(
    loops: Sequence[LoopPorts],
    rate_hz: int,
    *,
    in_turn: bool = False,
    repeats: int = REPEATS,
    overlays: bool = False,
    progress: Callable[[float], None] = lambda _: None,
) -> list[LiveTake]:
    """Return what loops say: measured together, as many at a time as the ping has sequences, or one after the other.

    Parameters
    ----------
    rate_hz : int, Hz
    in_turn : bool
        Whether one after the other.
    repeats : int
        Pings in a take, `LEAST_REPEATS` at least.
    progress : callable
        Told the part that is done; what it raises ends the work.

    Raises
    ------
    NoServer, ServerGone, BadTake, BadSound
    """
    batches = [[loop] for loop in loops] if in_turn else _batches(loops)
    out: list[LiveTake] = []
    for n, batch in enumerate(batches):

        def within(part: float, n: int = n) -> None:
            progress((n + part) / len(batches))

        out += _Batch(batch, rate_hz, repeats, overlays).taken(within)
    return out


def _batches(loops: Sequence[LoopPorts]) -> list[list[LoopPorts]]:
    """Return loops in groups that have no more sends than there are sequences."""
    batches: list[list[LoopPorts]] = []
    left = 0
    for loop in loops:
        if len(loop.sends) > left or not batches:
            batches.append([])
            left = MOST_CHANNELS
        left -= len(loop.sends)
        batches[-1].append(loop)
    return batches


class _Batch:
    """Loops that are measured at once."""

    def __init__(self, loops: Sequence[LoopPorts], rate_hz: int, repeats: int, overlays: bool) -> None:
        self.loops, self.rate_hz, self.overlays = loops, rate_hz, overlays
        self.sends = [port for loop in loops for port in loop.sends]
        self.returns = [port for loop in loops for port in loop.returns]
        self.bases = [sum(len(loop.sends) for loop in loops[:n]) for n in range(len(loops))]
        self.sent = ArrayRecording(ping_file(rate_hz, len(self.sends), repeats), rate_hz)
        self.train = find_pings(self.sent)

    def taken(self, progress: Callable[[float], None]) -> list[LiveTake]:
        """Return the first take that can be believed, or the last one without a delay."""
        refused: list[str] = []
        while True:
            answer = ask(self._question(), self._played(), lambda part: progress(_TAKE_PART * part))
            said = answer.said
            if said["end"] == "broken":
                bad = f"the server lost its place: {said['why']}"
            else:
                flat = np.frombuffer(answer.raw, np.float32).reshape(len(self.returns), self.sent.frames)
                recorded = ArrayRecording(flat.T.astype(np.float64), self.rate_hz)
                readings = read_pings(self.sent, recorded, lambda part: progress(_TAKE_PART + (1 - _TAKE_PART) * part))
                bad = self._damage(recorded, readings)
                if not bad:
                    return self._told(recorded, readings, said, refused)
            refused.append(bad)
            if len(refused) == MOST_TAKES:
                return self._given_up(refused)

    def _question(self) -> dict[str, object]:
        pairs = [(loop.sends[n % len(loop.sends)], port) for loop in self.loops for n, port in enumerate(loop.returns)]
        return {
            "what": "take",
            "rate_hz": self.rate_hz,
            "frames": self.sent.frames,
            "sends": self.sends,
            "returns": self.returns,
            "pairs": pairs,
        }

    def _played(self) -> bytes:
        return self.sent.samples.T.astype(np.float32).tobytes()

    def _damage(self, recorded: ArrayRecording, readings: Sequence[ChannelReading]) -> str:
        """Return why a take cannot be believed, or nothing."""
        for reading in readings:
            if not reading.sent:
                continue
            where = f"return {self.returns[reading.channel - 1]}"
            if reading.slips or reading.heard < reading.pings or reading.found_samples is None:
                return f"{where} steps, or lacks a ping"
            at = damaged_block(recorded, reading.channel - 1, self.train, round(reading.found_samples))
            if at is not None:
                return f"{where} is damaged at {at / self.rate_hz:.2f} s"
        return ""

    def _told(
        self,
        recorded: ArrayRecording,
        readings: Sequence[ChannelReading],
        said: dict[str, object],
        refused: Sequence[str],
    ) -> list[LiveTake]:
        placed = with_zero(readings, self.rate_hz, "round_trip")
        reported = [out + back for out, back in said["reported"]]  # type: ignore[attr-defined]
        interruptions, period = int(str(said["interruptions"])), int(str(said["period"]))
        found, first = [], 0
        for loop, base in zip(self.loops, self.bases, strict=True):
            end = first + len(loop.returns)
            curves = [
                overlay_of(self.sent, recorded, self.train, r) if self.overlays else None for r in placed[first:end]
            ]
            own = [self._own(loop, base, n, r) for n, r in enumerate(placed[first:end], start=1)]
            found.append(
                LiveTake(
                    loop,
                    self.rate_hz,
                    tuple(own),
                    tuple(curves),
                    tuple(reported[first:end]),
                    tuple(refused),
                    interruptions,
                    period,
                )
            )
            first = end
        return found

    def _own(self, loop: LoopPorts, base: int, channel: int, reading: ChannelReading) -> ChannelReading:
        """Return a reading as one of its loop: by the channels of the loop alone."""
        across = reading.crosstalk
        if across is not None and not base < across[0] <= base + len(loop.sends):
            across = None
        reading = replace(reading, channel=channel, crosstalk=(across[0] - base, across[1]) if across else None)
        if not reading.sent or base < reading.sent <= base + len(loop.sends):
            return replace(reading, sent=max(0, reading.sent - base))
        other = next(
            other.loop
            for other, start in zip(self.loops, self.bases, strict=True)
            if start < reading.sent <= start + len(other.sends)
        )
        said = f"What was sent into {other} comes back here: the two are cabled the wrong way round."
        return ChannelReading(channel, pings=reading.pings, verdict=said)

    def _given_up(self, refused: Sequence[str]) -> list[LiveTake]:
        said = f"None of {len(refused)} takes could be believed; of the last, {refused[-1]}. A longer period may help."
        found = []
        for loop in self.loops:
            none = tuple(
                [ChannelReading(n + 1, pings=len(self.train.starts), verdict=said) for n in range(len(loop.returns))]
            )
            found.append(
                LiveTake(loop, self.rate_hz, none, (None,) * len(none), (0,) * len(none), tuple(refused), 0, 0)
            )
        return found
