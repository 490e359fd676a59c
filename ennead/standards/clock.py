"""Clock tolerances and the arithmetic of drift."""

from typing import Final

#: ppm. References: AES11 grades 1 and 2; IEC 60958 levels I and II.
TOLERANCE_PPM: Final[dict[str, float]] = {
    "AES11 grade 1": 1.0,
    "AES11 grade 2": 10.0,
    "IEC 60958 level I": 50.0,
    "IEC 60958 level II": 1000.0,
}

#: ppm, for a crystal of unstated accuracy. House default, after IEC 60958 level I.
UNSTATED_PPM: Final = 50.0


#: How far off the nominal rate a clock may be for a receiver to lock, ppm, where its maker states nothing. House default,
#: after IEC 60958 level II, which receivers for studio use are commonly made for.
UNSTATED_LOCK_PPM: Final = 1_000.0

#: Varispeed of MADI in 56-channel mode, ppm. Reference: AES10, ±12.5 %.
MADI_56_LOCK_PPM: Final = 125_000.0

#: The furthest a session may run off its rate, ppm: nothing carries more. Reference: AES10.
MOST_PULL_PPM: Final = 125_000.0

#: Pull-down by 1000/1001 and its inverse, ppm, as a picture at 29.97 frames a second asks for it.
PULL_DOWN_PPM: Final = (1 / 1.001 - 1) * 1e6
PULL_UP_PPM: Final = (1.001 - 1) * 1e6

#: What a MADI line carries, bit/s. Reference: AES10, 125 Mbaud with 4B5B coding.
MADI_BIT_S: Final = 100e6


def pulled_hz(rate_hz: float, pull_ppm: float) -> float:
    """Return the samples a second at a rate that all clocks run off by so much.

    Parameters
    ----------
    rate_hz : float, Hz
    pull_ppm : float, ppm

    Examples
    --------
    >>> round(pulled_hz(48_000, PULL_DOWN_PPM), 3)
    47952.048
    """
    return rate_hz * (1 + pull_ppm * 1e-6)


def madi_bit_s(channels: int, rate_hz: float) -> float:
    """Return what so many MADI channels need at a rate, bit/s: 32 bit each in every sample.

    References
    ----------
    AES10: 64 channels at 48 kHz take 98.3 of 100 Mbit/s, so that they leave no room for varispeed.

    Examples
    --------
    >>> madi_bit_s(64, 48_000) / 1e6
    98.304
    """
    return channels * 32 * rate_hz


def slip_s(rate_hz: float, difference_ppm: float) -> float:
    """Return the time in which two free-running clocks drift apart by one sample.

    Parameters
    ----------
    rate_hz : float, Hz
    difference_ppm : float, ppm
        Sum of both tolerances: the worst case.

    Returns
    -------
    float, s

    Raises
    ------
    ValueError
        If either figure is not positive and finite.

    Examples
    --------
    >>> round(slip_s(48_000, 100), 3), round(slip_s(48_000, 1), 1)
    (0.208, 20.8)
    """
    if not (0 < rate_hz < float("inf") and 0 < difference_ppm < float("inf")):
        raise ValueError("a slip time needs a rate and a difference above zero")
    return 1.0 / (rate_hz * difference_ppm * 1e-6)


#: By how much of a frame a unit's outputs may stand off the reference, and its inputs must accept. Reference: AES11.
OUTPUT_WINDOW: Final = 0.05
INPUT_WINDOW: Final = 0.25

#: Delay of a cable, ns/m: about two thirds of the speed of light. Physics.
WIRE_NS_PER_M: Final = 5.0


def frame_us(rate_hz: float) -> float:
    """Return how long a frame is at a rate, µs."""
    return 1e6 / rate_hz


def wire_delay_us(length_m: float) -> float:
    """Return by how much a cable delays what it carries, µs."""
    return length_m * WIRE_NS_PER_M / 1_000
