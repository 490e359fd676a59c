"""Level references."""

import math
from typing import Final

#: 0 dBu: the voltage that puts 1 mW into 600 ohm, V (IEC 60268-17 and AES common practice).
DBU_V: Final = math.sqrt(0.6)

#: Reference sound pressure, Pa (ISO 1683).
REFERENCE_PA: Final = 20e-6

#: How many times the source's impedance an input should be at least, so that it takes no level and no treble. House default.
BRIDGING: Final = 5.0

#: A working level this far under an input's own is a mismatch one turns up for. −10 dBV against +4 dBu is 11.8 dB. House default.
LEVEL_GAP_DB: Final = 10.0

#: The longest cable a bare pickup bears without losing its treble, m. House default.
PICKUP_CABLE_M: Final = 6.0


def microphone_dbu(sensitivity_mv_pa: float, sound_db: float) -> float:
    """Return the level a microphone gives, dBu.

    Parameters
    ----------
    sensitivity_mv_pa : float, mV/Pa
    sound_db : float, dB
        Sound pressure level at the microphone.

    References
    ----------
    ISO 1683: sound pressure level re 20 µPa, so that 1 Pa is 94.0 dB.

    Examples
    --------
    >>> round(microphone_dbu(20, 130), 1)
    4.3
    """
    pascals = REFERENCE_PA * 10 ** (sound_db / 20)
    return 20 * math.log10(sensitivity_mv_pa / 1000 * pascals / DBU_V)


def loaded_db(source_ohm: float, load_ohm: float) -> float:
    """Return what is left of an open-circuit level at a load, dB; at most zero.

    Examples
    --------
    >>> round(loaded_db(600, 600), 2)
    -6.02
    """
    return 20 * math.log10(load_ohm / (load_ohm + source_ohm))


def dbu_of_dbv(dbv: float) -> float:
    """Return a level in dBV as dBu.

    References
    ----------
    IEC 60268-17: dBV re 1 V, dBu re 0.775 V.

    Examples
    --------
    >>> round(dbu_of_dbv(-10), 2)
    -7.78
    """
    return dbv - 20 * math.log10(DBU_V)
