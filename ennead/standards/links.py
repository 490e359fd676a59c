"""What each digital link carries, over which plug, and how far."""

from typing import Final, NamedTuple

from ennead.standards.rates import Speed


class LinkStandard(NamedTuple):
    """One kind of digital link.

    Parameters
    ----------
    label : str
        How it is written on screen.
    lanes : dict of Speed to int
        Audio channels on one connector at each speed; zero for a pure clock.
    longest_m : float, m
        Longest sensible cable.
    source : str
        The standard or house default the figures come from.
    """

    label: str
    lanes: dict[Speed, int]
    longest_m: float
    source: str


def _lanes(single: int, double: int, quad: int) -> dict[Speed, int]:
    return {"single": single, "double": double, "quad": quad}


#: References: ADAT optical (de-facto, 256 bit a frame; S/MUX2, S/MUX4); IEC 60958-3; AES3; AES-3id;
#: AES10 (MADI); AES11 annex (word clock). Lengths of TOSLINK, AES-3id and word clock are house defaults.
LINKS: Final[dict[str, LinkStandard]] = {
    "adat": LinkStandard("ADAT", _lanes(8, 4, 2), 5, "ADAT optical; S/MUX2 and S/MUX4 above single speed"),
    "spdif": LinkStandard("S/PDIF", _lanes(2, 2, 2), 10, "IEC 60958-3"),
    "spdif-optical": LinkStandard("S/PDIF", _lanes(2, 2, 0), 5, "IEC 60958-3; optical usually ends at 96 kHz"),
    "aes3": LinkStandard("AES3", _lanes(2, 2, 2), 100, "AES3, IEC 60958-4"),
    "madi": LinkStandard("MADI", _lanes(64, 32, 16), 50, "AES10, 64-channel framing"),
    "cue": LinkStandard("cue bus", _lanes(12, 12, 12), 100, "house default: a cue system's own cable; see its profile"),
    "word": LinkStandard("word clock", _lanes(0, 0, 0), 100, "AES11 annex; length is a house default"),
}

DIGITAL: Final = frozenset(LINKS)

#: TOSLINK plastic fibre, m. House default; good fibre reaches 10 m.
LONGEST_PLASTIC_FIBRE_M: Final = 5.0
