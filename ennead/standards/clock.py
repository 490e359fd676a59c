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
