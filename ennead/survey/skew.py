"""Skew: how far apart in time the channels of one sound arrive, and what one hears of it."""

from typing import Final, NamedTuple

from ennead.standards.rates import rate_text

#: Speed of sound in dry air at 20 °C, m/s (ISO 9613-1 gives 343.2). House default, rounded.
SOUND_M_S: Final = 343.0


class Skew(NamedTuple):
    """A difference of arrival.

    Parameters
    ----------
    samples : float, samples
    us : float, µs
    mm : float, mm
        The way sound goes in that time.
    notch_hz : float, Hz
        The lowest frequency that cancels when both are summed at equal level.
    """

    samples: float
    us: float
    mm: float
    notch_hz: float


def skew_of(samples: float, rate_hz: int) -> Skew:
    """Return what a difference in samples amounts to.

    Parameters
    ----------
    samples : float, samples
        Above zero.
    rate_hz : int, Hz

    Notes
    -----
    Two equal signals τ apart cancel where τ is half a period: f = 1 / (2 τ) = fs / (2 Δn).

    Examples
    --------
    >>> skew = skew_of(30, 48_000)
    >>> round(skew.us), round(skew.mm), round(skew.notch_hz)
    (625, 214, 800)
    """
    seconds = samples / rate_hz
    return Skew(samples, seconds * 1e6, seconds * SOUND_M_S * 1e3, rate_hz / (2 * samples))


def skew_text(skew: Skew) -> str:
    """Return a skew in words: ``30 samples, 625 µs, as 214 mm of air; first notch at 800 Hz``."""
    notch = f"{skew.notch_hz / 1000:.1f} kHz" if skew.notch_hz >= 1000 else f"{skew.notch_hz:.0f} Hz"
    return f"{skew.samples:g} samples, {skew.us:.0f} µs, as {skew.mm:.0f} mm of air; first notch at {notch}"


def skew_working(skew: Skew, rate_hz: int) -> tuple[str, ...]:
    """Return the arithmetic of a skew, line by line."""
    return (
        f"{skew.samples:g} samples / {rate_text(rate_hz)} = {skew.us:.1f} µs",
        f"{skew.us:.1f} µs × {SOUND_M_S:g} m/s = {skew.mm:.0f} mm (speed of sound at 20 °C, house default)",
        f"first notch of the sum: fs / (2 Δn) = {rate_hz} / (2 × {skew.samples:g}) = {skew.notch_hz:.0f} Hz",
    )
