"""What a recording of pings says, channel by channel: as rows, and in words."""

import math
from collections.abc import Sequence
from typing import Any, Final

from ennead.measure.loop_reading import ChannelReading
from ennead.measure.tone import ToneLevel

#: So many standard deviations hold 95 of 100.
_SURE: Final = 1.96
#: Finer than this nothing is said, samples or ppm: it would be the arithmetic's rounding.
_FINEST: Final = 0.0001
_IS: Final = {
    "round_trip": "round trip",
    "residual": "left over after the software’s own correction",
    "between_channels": "against the reference channel",
}


def reading_row(reading: ChannelReading, rate_hz: int) -> dict[str, Any]:
    """Return a channel as the command line prints it."""
    late = reading.delay_samples
    return {
        "channel": reading.channel,
        "sent_channel": reading.sent or None,
        "delay_samples": late,
        "delay_ms": late * 1000 / rate_hz if late is not None else None,
        "std_samples": reading.std_samples,
        "crlb_samples": reading.crlb_samples,
        "at_s": reading.at_s if late is not None else None,
        "phase": ("straight" if reading.is_pure else "bent") if late is not None else None,
        "spread_samples": reading.spread_samples if late is not None else None,
        "gain_db": reading.gain_db,
        "gain_range_db": reading.gain_range_db,
        "polarity": reading.polarity,
        "snr_db": reading.snr_db,
        "hum_dbfs": reading.hum_dbfs,
        "hum_hz": reading.hum_hz,
        "drift_ppm": reading.drift_ppm,
        "drift_std_ppm": reading.drift_std_ppm,
        "slips": [{"from_s": s.from_s, "to_s": s.to_s, "samples": s.samples} for s in reading.slips],
        "pings": reading.pings,
        "heard": reading.heard,
        "clipped": reading.clipped,
        "crosstalk_db": reading.crosstalk[1] if reading.crosstalk is not None else None,
        "delay_is": reading.delay_is,
        "verdict": reading.verdict or None,
    }


def reading_lines(reading: ChannelReading, rate_hz: int) -> tuple[str, ...]:
    """Return the same in words, the delay first."""
    lines = []
    if reading.delay_samples is not None and reading.std_samples is not None:
        lines.append(
            f"{_samples(reading.delay_samples, reading.std_samples)} samples"
            f" ({reading.delay_samples * 1000 / rate_hz:.3f} ms), {_IS[reading.delay_is]}"
        )
        wide = max(_FINEST, _SURE * reading.std_samples)
        lines.append(f"within ±{_two(wide)} samples in 95 of 100 such takes")
        if not reading.is_pure:
            lines.append(
                f"its phase is bent, as of every real filter: its delay is that of 100 Hz to 10 kHz, lows most;"
                f" single frequencies differ by {reading.spread_samples:.1f} samples rms"
            )
    if reading.verdict:
        lines.append(reading.verdict)
    if reading.gain_db is not None:
        half = (reading.gain_range_db or 0.0) / 2
        low, high = reading.gain_db - half, reading.gain_db + half
        lines.append(f"gain {low:+.1f} to {high:+.1f} dB" if half else f"gain {reading.gain_db:+.2f} dB")
    if reading.heard:
        polarity = {1: "kept", -1: "inverted", None: "undefined: it turns the phase too far to say"}[reading.polarity]
        lines.append(f"polarity {polarity}")
    if reading.sent not in (0, reading.channel):
        lines.append(
            f"channel {reading.sent} of the sent file is heard here: the sides are swapped, or it was sent elsewhere"
        )
    if reading.crosstalk is not None:
        lines.append(f"channel {reading.crosstalk[0]} is heard too, at {reading.crosstalk[1]:.0f} dB")
    if reading.snr_db is not None:
        lines.append(f"{reading.snr_db:.0f} dB above the noise")
    if reading.heard:
        hum = (
            f"hum of {reading.hum_hz:.1f} Hz at {reading.hum_dbfs:.0f} dBFS"
            if reading.hum_hz is not None and reading.hum_dbfs is not None
            else "no hum that stands out of the noise"
        )
        lines.append(hum)
        lines += _clock(reading)
    if reading.clipped:
        lines.append(f"{reading.clipped:.1%} of the samples are clipped, and were put right")
    return tuple(line.replace("-", "−") if line != reading.verdict else line for line in lines)


def _clock(reading: ChannelReading) -> list[str]:
    lines = []
    if reading.drift_ppm is not None and reading.drift_std_ppm is not None:
        wide = _SURE * reading.drift_std_ppm
        if abs(reading.drift_ppm) > 2 * wide:
            faster = "faster" if reading.drift_ppm > 0 else "slower"
            lines.append(
                f"the recorder’s clock is {abs(reading.drift_ppm):.3f} ± {_two(wide)} ppm {faster}:"
                " the two are not locked"
            )
        else:
            lines.append(f"no drift seen, below {_two(max(_FINEST, abs(reading.drift_ppm) + wide))} ppm")
    lines += [
        f"slipped by {slip.samples:+d} samples between {slip.from_s:.1f} and {slip.to_s:.1f} s"
        for slip in reading.slips
    ]
    if reading.heard < reading.pings:
        lines.append(f"{reading.pings - reading.heard} of {reading.pings} pings are damaged or missing, and left out")
    return lines


def _samples(value: float, std: float) -> str:
    digits = 4 if std < 0.002 else 3 if std < 0.02 else 2 if std < 0.2 else 1
    return f"{value:.{digits}f}"


def _two(value: float) -> str:
    """Return a figure with two that count."""
    places = 1 - math.floor(math.log10(value)) if value > 0 else 0
    return f"{value:.{min(9, max(0, places))}f}"


def tone_row(level: ToneLevel, sent_dbfs: float) -> dict[str, Any]:
    """Return a channel of a tone as the command line prints it."""
    return {
        "level_dbfs": level.level_dbfs,
        "trim_db": sent_dbfs - level.level_dbfs if level.level_dbfs is not None else None,
        "frequency_hz": level.frequency_hz,
        "thd_percent": level.thd_percent,
        "verdict": level.verdict or None,
    }


def mismatch_db(levels: Sequence[ToneLevel]) -> float | None:
    """Return how far the channels that hold the tone lie apart, dB; None for fewer than two."""
    known = [level.level_dbfs for level in levels if level.level_dbfs is not None]
    return max(known) - min(known) if len(known) > 1 else None
