"""What each digital link carries, over which plug, and how far."""

from functools import cache
from typing import Final, NamedTuple

from ennead.standards.rates import Speed
from ennead.standards.signals import SIGNAL_LABELS


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
    "aes3-id": LinkStandard("AES3-id", _lanes(2, 2, 2), 300, "AES-3id; length is a house default"),
    "madi": LinkStandard("MADI 64", _lanes(64, 32, 16), 50, "AES10, 64 channels"),
    "madi-56": LinkStandard("MADI 56", _lanes(56, 28, 14), 50, "AES10, 56 channels"),
    "madi-48k": LinkStandard("MADI 64 in 48k frames", _lanes(64, 32, 16), 50, "AES10, 64 channels, legacy framing"),
    "madi-56-48k": LinkStandard("MADI 56 in 48k frames", _lanes(56, 28, 14), 50, "AES10, 56 channels, legacy framing"),
    "cue": LinkStandard("cue bus", _lanes(12, 12, 12), 100, "house default: a cue system's own cable; see its profile"),
    "word": LinkStandard("word clock", _lanes(0, 0, 0), 100, "AES11 annex; length is a house default"),
    "word-base": LinkStandard(
        "word clock at base rate", _lanes(0, 0, 0), 100, "AES11 annex; length is a house default"
    ),
    "word-256": LinkStandard(
        "word clock at 256 × rate", _lanes(0, 0, 0), 100, "older practice; length is a house default"
    ),
}

DIGITAL: Final = frozenset(LINKS)

#: Pure clocks, without sound.
WORD: Final = frozenset({"word", "word-base", "word-256"})

#: TOSLINK, m. House defaults: plastic fibre, and good (glass or selected) fibre.
LONGEST_PLASTIC_FIBRE_M: Final = 5.0
LONGEST_GOOD_FIBRE_M: Final = 10.0

#: MADI by its medium, m. References: AES10 (50 m coaxial), ISO/IEC 9314-3 (2 km multimode); good coaxial and
#: single-mode are house defaults.
LONGEST_MADI_M: Final[dict[str, float]] = {
    "coaxial": 50.0,
    "good coaxial": 100.0,
    "multimode": 2_000.0,
    "single-mode": 10_000.0,
}

#: Units on one word-clock line with T-pieces. House default; more load the output too much.
MOST_ON_T_LINE: Final = 3

#: Hops from the leader above which word clock is worth a note. House default.
MANY_HOPS: Final = 2


def at_speed(carried: str, speed: Speed) -> str:
    """Return a format as it is told from others at a speed.

    At single speed MADI's two framings are one and the same, and so are word clock at the rate and at the base rate.
    """
    if speed == "single":
        return {"madi-48k": "madi", "madi-56-48k": "madi-56", "word-base": "word"}.get(carried, carried)
    return carried


def family(carried: str) -> str:
    """Return what a receiver must be made for to lock: framings and channel counts of MADI lock to each other."""
    return "madi" if carried.startswith("madi") else carried


def carried_text(carried: str) -> str:
    """Return what a socket carries as it is written on screen, analogue signals too."""
    return LINKS[carried].label if carried in LINKS else SIGNAL_LABELS[carried]


class Adapter(NamedTuple):
    """A part between two sockets that are not alike.

    Parameters
    ----------
    caution : str
        What it does not mend; empty where it is only a plug.
    """

    label: str
    caution: str = ""


_PLUG: Final = Adapter("mini-TOSLINK plug adapter")
_RCA_BNC: Final = Adapter(
    "RCA–BNC adapter",
    "S/PDIF gives 0.5 V and AES3-id expects 1 V, and their channel status differs: it often works, and sometimes not",
)
_BALUN: Final = Adapter("110/75 ohm balun, XLR–BNC")
_MISMATCH: Final = Adapter(
    "110/75 ohm balun, XLR–RCA",
    "AES3 gives volts where S/PDIF expects half a volt, and their channel status differs: it often works, and"
    " sometimes not",
)
_RCA_BNC_PLUG: Final = Adapter("RCA–BNC adapter")


@cache
def adapters_between(out: tuple[str, str], into: tuple[str, str]) -> tuple[Adapter, ...] | None:
    """Return the parts needed between an output and an input, or None where no part joins them.

    Parameters
    ----------
    out, into : pair of (connector, format)

    References
    ----------
    IEC 60958-3 (0.5 Vpp, 75 ohm), AES-3id (1 Vpp, 75 ohm), AES3 (110 ohm balanced).
    """
    (plug, sends), (socket, takes) = out, into
    fibres = {"toslink", "mini-toslink"}
    if plug in fibres and socket in fibres:
        return tuple(_PLUG for one in (plug, socket) if one == "mini-toslink")
    if plug == socket:
        return ()
    kinds = {sends, takes}
    if {plug, socket} == {"rca", "bnc"}:
        return (_RCA_BNC,) if kinds == {"spdif", "aes3-id"} else (_RCA_BNC_PLUG,) if len(kinds) == 1 else None
    if {plug, socket} == {"xlr", "bnc"} and kinds <= {"aes3", "aes3-id"}:
        return (_BALUN,)
    if {plug, socket} == {"xlr", "rca"} and kinds == {"aes3", "spdif"}:
        return (_MISMATCH,)
    return None


def formats_join(sends: str, takes: str) -> bool:
    """Say whether a receiver set to one format understands another, given the right adapter."""
    two = frozenset({"spdif", "aes3", "aes3-id"})
    return sends == takes or {sends, takes} <= two
