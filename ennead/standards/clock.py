"""Clock tolerances and the arithmetic of drift."""

from typing import Final

#: ppm. References: AES11 grades 1 and 2; IEC 60958 levels I and II.
TOLERANCE_PPM: Final[dict[str, float]] = {
    "AES11 grade 1": 1.0,
    "AES11 grade 2": 10.0,
    "IEC 60958 level I": 50.0,
    "IEC 60958 level II": 1000.0,
}

#: ppm, for a crystal whose maker states nothing. House default, after IEC 60958 level I.
UNSTATED_PPM: Final = 50.0


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
