"""Describe your box: seven answers make a profile with its sockets, its clock menu and its driver map."""

from dataclasses import dataclass, field
from typing import Literal

from ennead.planning.boxes.matching import match_blocks
from ennead.planning.boxes.software_list import read_software_list
from ennead.standards.computer_ports import Bus
from ennead.standards.rates import RATES_HZ, Speed
from ennead.standards.signals import Connector, Signal
from ennead.studio.errors import BadValue
from ennead.studio.ids import ProfileId
from ennead.studio.profile import Bank, Block, Choice, ClockSource, DriverMap, InnerPath, Mode, Port, Profile

Optical = Literal["none", "in", "pair", "two", "two-fast"]
OpticalWays = Literal["none", "in", "both"]
Phantom = Literal["all", "fours", "each"]

MOST_SOCKETS = 128


@dataclass(frozen=True, slots=True)
class Answers:
    """What a person says of a box.

    Parameters
    ----------
    optical : Optical
        ``two-fast`` is a second pair that is used above 48 kHz only.
    optical_spdif : bool
        Whether the optical sockets can be set to S/PDIF.
    own_clock, word_in, word_out : bool
        Whether it can lead; whether it takes and gives word clock.
    on_computer : bool
        Whether a computer sees it; else it is an expander, or a box without a clock.
    software_inputs, software_outputs : str
        The recording software's lists as pasted; empty means the usual order.
    optical_apart : bool
        Whether the optical inputs and outputs are set to ADAT or S/PDIF separately.
    aes3, madi : OpticalWays
    phantom : Phantom
        Whether 48 V is switched for all microphone inputs at once, in fours, or one by one.
    bus : Bus
        How it hangs on the computer; empty where it is not said.
    fastest_hz : int, Hz
        The highest rate it runs at.
    """

    name: str = "my box"
    mics: int = 2
    hiz: int = 0
    lines: int = 0
    line_outs: int = 2
    optical: Optical = "none"
    optical_spdif: bool = False
    spdif: OpticalWays = "none"
    phones: int = 1
    own_clock: bool = True
    word_in: bool = False
    word_out: bool = False
    on_computer: bool = True
    software_inputs: str = ""
    software_outputs: str = ""
    optical_apart: bool = False
    aes3: OpticalWays = "none"
    madi: OpticalWays = "none"
    phantom: Phantom = "all"
    bus: Bus = ""
    fastest_hz: int = 192_000

    @property
    def is_digital(self) -> bool:
        """Whether it has a digital socket that carries sound."""
        return self.optical != "none" or any(pair != "none" for pair in (self.spdif, self.aes3, self.madi))


@dataclass(frozen=True, slots=True)
class Described:
    """A profile, and what was assumed where the answers left it open."""

    profile: Profile
    assumed: tuple[str, ...] = ()


@dataclass
class _Box:
    answers: Answers
    ports: list[Port] = field(default_factory=list)
    clocks: list[ClockSource] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)

    def keys(self, *starts: str, direction: str = "in") -> tuple[str, ...]:
        """Return the keys of the ports of a direction that begin with one of some words."""
        return tuple(p.key for p in self.ports if p.direction == direction and p.key.startswith(starts))


def describe_box(answers: Answers) -> Described:
    """Return the profile that seven answers make.

    Raises
    ------
    BadValue
        If a number is out of reach, or the box has no socket at all.
    """
    for name, count in (
        ("microphone inputs", answers.mics),
        ("line inputs", answers.lines),
        ("Hi-Z inputs", answers.hiz),
        ("line outputs", answers.line_outs),
        ("headphone outputs", answers.phones),
    ):
        if not 0 <= count <= MOST_SOCKETS:
            raise BadValue(f"a number of {name}", count, f"Give 0 to {MOST_SOCKETS}.")
    box = _Box(answers)
    _add_analogue(box)
    _add_digital(box)
    if not box.ports:
        raise BadValue("a box", "no socket at all", "Say how many inputs or outputs it has.")
    mics = box.keys("mic")
    banks = _banks(mics, answers.phantom)
    if len(banks) == 1 < len(mics):
        box.assumed.append("48 V is taken to be switched for all microphone inputs at once.")
    maps = _driver_maps(box) if answers.on_computer else ()
    paths = () if answers.on_computer else _inner_paths(box)
    digital = bool(box.clocks)
    role: Literal["interface", "expander", "preamp", "converter"] = "interface"
    if not answers.on_computer:
        role = ("expander" if mics else "converter") if digital else "preamp"
    clocks = tuple(box.clocks) if digital else ()
    profile = Profile(
        ProfileId("F0"),
        " ".join(answers.name.split())[:200] or "my box",
        role,
        _summary(answers),
        tuple(box.ports),
        _modes(answers),
        banks,
        maps,
        paths,
        clocks,
        tuple(r for r in RATES_HZ if r <= answers.fastest_hz) or RATES_HZ[:1],
        bus=answers.bus if answers.on_computer else "",
    )
    return Described(profile, tuple(box.assumed))


def _modes(answers: Answers) -> tuple[Mode, ...]:
    """Return the switches: of the optical sockets, inputs and outputs apart where they are, and of MADI."""
    modes: list[Mode] = []
    either = Choice("adat", "ADAT"), Choice("spdif-optical", "S/PDIF")
    if answers.optical != "none" and answers.optical_spdif:
        if answers.optical_apart and answers.optical != "in":
            modes += [Mode("optical_in", "optical inputs", either), Mode("optical_out", "optical outputs", either)]
        else:
            modes.append(Mode("optical", "optical sockets", either))
    if answers.madi != "none":
        modes.append(Mode("madi", "MADI carries", (Choice("madi", "64 channels"), Choice("madi-56", "56 channels"))))
    return tuple(modes)


def _banks(mics: tuple[str, ...], phantom: Phantom) -> tuple[Bank, ...]:
    """Return the 48 V switches of the microphone inputs."""
    each = {"all": max(1, len(mics)), "fours": 4, "each": 1}[phantom]
    banks = []
    for first in range(0, len(mics), each):
        some = mics[first : first + each]
        span = f" {first + 1}–{first + len(some)}" if len(some) > 1 else f" {first + 1}" if len(mics) > 1 else ""
        banks.append(Bank("all" if each >= len(mics) else f"b{first // each + 1}", f"48 V{span}", some))
    return tuple(banks)


def _add_analogue(box: _Box) -> None:
    answers = box.answers
    late = 20.0 if answers.on_computer or answers.is_digital else None
    if late is not None:
        box.assumed.append("Converters are taken to add 20 samples each way until you measure them.")
    for n in range(1, answers.mics + 1):
        carries: tuple[Signal, ...] = ("mic", "line", "hiz") if n <= answers.hiz else ("mic", "line")
        box.ports.append(Port(f"mic{n}", f"Mic {n}", "in", "combo", carries, "inputs", latency_samples=late))
    for n in range(1, answers.lines + 1):
        carries = ("line", "hiz") if answers.mics + n <= answers.hiz else ("line",)
        box.ports.append(Port(f"line_in{n}", f"Line in {n}", "in", "trs", carries, "inputs", latency_samples=late))
    for n in range(1, answers.line_outs + 1):
        box.ports.append(
            Port(f"line_out{n}", f"Line out {n}", "out", "trs", ("line",), "outputs", latency_samples=late)
        )
    for n in range(1, answers.phones + 1):
        label = f"Phones {n}" if answers.phones > 1 else "Phones"
        box.ports.append(Port(f"phones{n}", label, "out", "trs", ("headphone",), "outputs", 2, latency_samples=late))


def _add_digital(box: _Box) -> None:
    answers = box.answers
    digital = answers.on_computer or answers.is_digital
    if digital and answers.own_clock:
        box.clocks.append(ClockSource("internal", "Internal"))
    pairs = {"none": 0, "in": 1, "pair": 1, "two": 2, "two-fast": 2}[answers.optical]
    for n in range(pairs):
        letter = "ab"[n]
        key, label = ("optical", "Optical") if pairs == 1 else (f"optical_{letter}", f"Optical {letter.upper()}")
        speeds: tuple[Speed, ...] = ("double", "quad") if n == 1 and answers.optical == "two-fast" else ()
        carries: tuple[Signal, ...] = ("adat", "spdif-optical") if answers.optical_spdif else ("adat",)
        for way in _ways(in_only=answers.optical == "in"):
            box.ports.append(
                Port(
                    f"{key}_{way}",
                    f"{label} {way}",
                    way,
                    "toslink",
                    carries,
                    "digital",
                    format_mode=_optical_mode(answers, way),
                    only_speeds=speeds,
                    latency_samples=2.0,
                )
            )
        if n == 0 or answers.optical == "two":
            box.clocks.append(ClockSource(key, label, f"{key}_in"))
    links: tuple[tuple[str, str, str, Connector, tuple[Signal, ...]], ...] = (
        ("spdif", "S/PDIF", answers.spdif, "rca", ("spdif",)),
        ("aes3", "AES3", answers.aes3, "xlr", ("aes3",)),
        ("madi", "MADI", answers.madi, "bnc", ("madi", "madi-56")),
    )
    for key, label, pair, plug, carried in links:
        if pair == "none":
            continue
        for way in _ways(in_only=pair == "in"):
            box.ports.append(
                Port(
                    f"{key}_{way}",
                    f"{label} {way}",
                    way,
                    plug,
                    carried,
                    "digital",
                    format_mode="madi" if key == "madi" else None,
                    latency_samples=2.0,
                )
            )
        box.clocks.append(ClockSource(key, label, f"{key}_in"))
    if answers.word_in:
        box.ports.append(Port("word_in", "Word clock in", "in", "bnc", ("word",), "digital"))
        box.clocks.append(ClockSource("word", "Word clock", "word_in"))
    if answers.word_out:
        box.ports.append(Port("word_out", "Word clock out", "out", "bnc", ("word",), "digital"))


def _ways(*, in_only: bool) -> tuple[Literal["in", "out"], ...]:
    return ("in",) if in_only else ("in", "out")


def _optical_mode(answers: Answers, way: str) -> str | None:
    """Return the switch that says what an optical socket carries."""
    if not answers.optical_spdif:
        return None
    return f"optical_{way}" if answers.optical_apart and answers.optical != "in" else "optical"


def _inner_paths(box: _Box) -> tuple[InnerPath, ...]:
    """Return an expander's ways: its inputs out digitally in order, and what comes back to its outputs and headphones.

    Where more outputs are there than channels come back, the rest begin again at the first: they are mostly a second
    pair for the same sound.
    """
    ins, outs = box.keys("mic", "line_in"), box.keys("line_out", direction="out")
    phones = box.keys("phones", direction="out")
    sends, returns = _digital_paths(box, "out"), _digital_paths(box, "in")
    paths = []
    if ins and sends:
        paths.append(InnerPath(ins, sends))
    if returns:
        lanes = sum(_LANES.get(key.split("_")[0], 2) for key in returns)
        paths += [InnerPath(returns, outs[first : first + lanes]) for first in range(0, len(outs), lanes)]
        paths += [InnerPath(returns, (socket,)) for socket in phones]
        if len(outs) > lanes:
            box.assumed.append(
                f"Line outputs {lanes + 1}–{len(outs)} are taken to repeat channels 1–{len(outs) - lanes}: only {lanes}"
                " come back."
            )
        if phones:
            box.assumed.append("Headphones are taken to hear channels 1–2 of what comes back.")
    if not paths and ins and outs:
        paths.append(InnerPath(ins, outs))
    return tuple(paths)


#: Channels on a socket at single speed, by the first word of its key.
_LANES = {"optical": 8, "madi": 64}


def _digital_paths(box: _Box, direction: Literal["in", "out"]) -> tuple[str, ...]:
    """Return the sockets by which an expander's sound goes or comes: the widest kind it has."""
    kinds = ("madi", "optical", "aes3", "spdif")
    return next((keys for kind in kinds if (keys := box.keys(kind, direction=direction))), ())


def _driver_maps(box: _Box) -> tuple[DriverMap, ...]:
    """Return the map: inputs as the software lists them, or in the usual order where nothing was pasted."""
    sides: list[tuple[Block, ...]] = []
    pasted = False
    directions: tuple[tuple[Literal["in", "out"], str, str], ...] = (
        ("in", box.answers.software_inputs, "inputs"),
        ("out", box.answers.software_outputs, "outputs"),
    )
    for direction, text, words in directions:
        listed, counted = read_software_list(text)
        if not listed:
            box.assumed.append(
                f"The driver is taken to list its {words} analogue first, then S/PDIF, then optical; paste your"
                " software's list to be sure."
            )
            sides.append(tuple(_usual(box, direction).values()))
            continue
        pasted = True
        blocks, assumed = match_blocks(listed, tuple(box.ports), direction)
        box.assumed += [*counted, *assumed]
        sides.append(blocks)
    if pasted:
        box.assumed.append(
            "Numbers lost at a higher rate are taken to close up (collapsing); choose fixed if yours stay."
        )
    return (DriverMap("standard", "As pasted" if pasted else "As described", "collapsing", *sides),)


def _usual(box: _Box, direction: Literal["in", "out"]) -> dict[str, Block]:
    """Return the blocks of a direction by their kind, in the usual order."""
    analogue = ("mic", "line_in") if direction == "in" else ("line_out",)
    found = {
        "analogue": Block("analogue", "Analogue", box.keys(*analogue, direction=direction)),
        "phones": Block("phones", "Phones", box.keys("phones", direction=direction)),
        "spdif": Block("spdif", "S/PDIF", box.keys("spdif", direction=direction)),
        "aes3": Block("aes3", "AES3", box.keys("aes3", direction=direction)),
    }
    for port in box.keys("optical", direction=direction):
        label = "ADAT" if port.startswith(("optical_in", "optical_out")) else f"ADAT {port[8].upper()}"
        found[port] = Block(port, label, (port,))
    found["madi"] = Block("madi", "MADI", box.keys("madi", direction=direction))
    return {k: b for k, b in found.items() if b.ports}


def _summary(answers: Answers) -> str:
    parts = []
    for count, one, many in (
        (answers.mics, "microphone input", "microphone inputs"),
        (answers.lines, "line input", "line inputs"),
        (answers.line_outs, "line output", "line outputs"),
        (answers.phones, "headphone output", "headphone outputs"),
    ):
        if count:
            parts.append(f"{count} {one if count == 1 else many}")
    optical = {
        "none": "",
        "in": "optical in",
        "pair": "one optical pair",
        "two": "two optical pairs",
        "two-fast": "two optical pairs, the second above 48 kHz only",
    }[answers.optical]
    spdif = {"none": "", "in": "S/PDIF in", "both": "S/PDIF in and out"}[answers.spdif]
    others = tuple(
        f"{label} {'in' if pair == 'in' else 'in and out'}"
        for label, pair in (("AES3", answers.aes3), ("MADI", answers.madi))
        if pair != "none"
    )
    return ", ".join([*parts, *filter(None, (optical, spdif, *others))]) + "; described by its owner."
