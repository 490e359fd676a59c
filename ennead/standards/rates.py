"""Sample rates and the three speeds they belong to."""

from typing import Final, Literal

Speed = Literal["single", "double", "quad"]

SPEEDS: Final[tuple[Speed, ...]] = ("single", "double", "quad")

#: Sample rates, Hz. References: AES5 (preferred rates and their multiples).
RATES_HZ: Final[tuple[int, ...]] = (44_100, 48_000, 88_200, 96_000, 176_400, 192_000)

_SPEED_OF_RATE: Final[dict[int, Speed]] = {
    44_100: "single",
    48_000: "single",
    88_200: "double",
    96_000: "double",
    176_400: "quad",
    192_000: "quad",
}


def speed_of(rate_hz: int) -> Speed:
    """Return the speed a sample rate belongs to.

    Parameters
    ----------
    rate_hz : int, Hz

    Raises
    ------
    ValueError
        If the rate is not one of `RATES_HZ`.

    Examples
    --------
    >>> [speed_of(rate) for rate in (44_100, 96_000, 192_000)]
    ['single', 'double', 'quad']
    """
    try:
        return _SPEED_OF_RATE[rate_hz]
    except KeyError:
        raise ValueError(f"{rate_hz} Hz is not one of the six studio rates") from None


def single_speed_of(rate_hz: int) -> int:
    """Return the rate of the same family at single speed, Hz: 96 kHz belongs to 48, 88.2 kHz to 44.1."""
    return 44_100 if rate_hz % 11_025 == 0 else 48_000


def is_faster(speed: Speed, than: Speed) -> bool:
    """Say whether one speed lies above another."""
    return SPEEDS.index(speed) > SPEEDS.index(than)


def rate_text(rate_hz: int) -> str:
    """Return a rate as an engineer writes it: ``44.1 kHz``, ``48 kHz``."""
    return f"{rate_hz / 1000:g} kHz"


def pull_text(pull_ppm: float) -> str:
    """Return how far clocks run off the rate: ``0.1 % down``, ``12 ppm up``."""
    return f"{pull_size_text(pull_ppm)} {'down' if pull_ppm < 0 else 'up'}"


def pull_size_text(pull_ppm: float) -> str:
    """Return how far clocks run off the rate, whichever way: ``0.1 %``, ``12 ppm``."""
    size = abs(pull_ppm)
    return f"{round(size / 1e4, 2):g} %" if size >= 500 else f"{size:g} ppm"
