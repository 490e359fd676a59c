"""Describe your box: seven answers make a profile with its sockets, its clock menu and its driver map."""

from dataclasses import dataclass, field
from typing import Literal

from ennead.planning.software_list import ListedBlock, read_software_list
from ennead.standards.links import WORD
from ennead.standards.signals import Signal
from ennead.studio.errors import BadValue
from ennead.studio.ids import ProfileId
from ennead.studio.profile import Bank, Block, Choice, ClockSource, DriverMap, InnerPath, Mode, Port, Profile

Optical = Literal["none", "in", "pair", "two", "two-fast"]
Pair = Literal["none", "in", "both"]

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
    software_inputs : str
        The recording software's list of inputs as pasted; empty means the usual order.
    """

    name: str = "my box"
    mics: int = 2
    hiz: int = 0
    lines: int = 0
    line_outs: int = 2
    optical: Optical = "none"
    optical_spdif: bool = False
    spdif: Pair = "none"
    phones: int = 1
    own_clock: bool = True
    word_in: bool = False
    word_out: bool = False
    on_computer: bool = True
    software_inputs: str = ""


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
        """Return the keys of the ports of a direction whose key begins with one of some words."""
        return tuple(p.key for p in self.ports if p.direction == direction and p.key.startswith(starts))


def describe_box(answers: Answers) -> Described:
    """Return the profile that seven answers make.

    Raises
    ------
    BadValue
        If a number is out of reach, or the box has no socket at all.
    """
    for name, count in (("microphone inputs", answers.mics), ("line inputs", answers.lines), ("Hi-Z inputs", answers.hiz),
                        ("line outputs", answers.line_outs), ("headphone outputs", answers.phones)):  # fmt: skip
        if not 0 <= count <= MOST_SOCKETS:
            raise BadValue(f"a number of {name}", count, f"Give 0 to {MOST_SOCKETS}.")
    box = _Box(answers)
    _add_analogue(box)
    _add_digital(box)
    if not box.ports:
        raise BadValue("a box", "no socket at all", "Say how many inputs or outputs it has.")
    modes: tuple[Mode, ...] = ()
    if answers.optical != "none" and answers.optical_spdif:
        modes = (Mode("optical", "optical sockets", (Choice("adat", "ADAT"), Choice("spdif-optical", "S/PDIF"))),)
    mics = box.keys("mic")
    banks = (Bank("all", f"48 V {1}–{len(mics)}" if len(mics) > 1 else "48 V", mics),) if mics else ()
    if len(mics) > 1:
        box.assumed.append("48 V is taken to be switched for all microphone inputs at once; split the bank if it is not.")
    maps = _driver_maps(box) if answers.on_computer else ()
    paths = () if answers.on_computer else _inner_paths(box)
    digital = bool(box.clocks)
    role: Literal["interface", "expander", "preamp", "converter"] = "interface"
    if not answers.on_computer:
        role = ("expander" if mics else "converter") if digital else "preamp"
    clocks = tuple(box.clocks) if digital else ()
    profile = Profile(
        ProfileId("F0"), " ".join(answers.name.split())[:200] or "my box", role, _summary(answers), tuple(box.ports),
        modes, banks, maps, paths, clocks,
    )  # fmt: skip
    return Described(profile, tuple(box.assumed))


def _add_analogue(box: _Box) -> None:
    answers = box.answers
    late = 20.0 if answers.on_computer or answers.optical != "none" else None
    if late is not None:
        box.assumed.append("Converters are taken to add 20 samples each way until you measure them.")
    for n in range(1, answers.mics + 1):
        carries: tuple[Signal, ...] = ("mic", "line", "hiz") if n <= answers.hiz else ("mic", "line")
        box.ports.append(Port(f"mic{n}", f"Mic {n}", "in", "combo", carries, "inputs", latency_samples=late))
    for n in range(1, answers.lines + 1):
        carries = ("line", "hiz") if answers.mics + n <= answers.hiz else ("line",)
        box.ports.append(Port(f"line_in{n}", f"Line in {n}", "in", "trs", carries, "inputs", latency_samples=late))
    for n in range(1, answers.line_outs + 1):
        box.ports.append(Port(f"line_out{n}", f"Line out {n}", "out", "trs", ("line",), "outputs", latency_samples=late))
    for n in range(1, answers.phones + 1):
        label = f"Phones {n}" if answers.phones > 1 else "Phones"
        box.ports.append(Port(f"phones{n}", label, "out", "trs", ("headphone",), "outputs", 2, latency_samples=late))


def _add_digital(box: _Box) -> None:
    answers = box.answers
    digital = answers.on_computer or answers.optical != "none" or answers.spdif != "none"
    if digital and answers.own_clock:
        box.clocks.append(ClockSource("internal", "Internal"))
    pairs = {"none": 0, "in": 1, "pair": 1, "two": 2, "two-fast": 2}[answers.optical]
    for n in range(pairs):
        letter = "ab"[n]
        key, label = ("optical", "Optical") if pairs == 1 else (f"optical_{letter}", f"Optical {letter.upper()}")
        speeds = ("double", "quad") if n == 1 and answers.optical == "two-fast" else ()
        carries = ("adat", "spdif-optical") if answers.optical_spdif else ("adat",)
        for way in ("in",) if answers.optical == "in" else ("in", "out"):
            box.ports.append(
                Port(f"{key}_{way}", f"{label} {way}", way, "toslink", carries, "digital",  # type: ignore[arg-type]
                     format_mode="optical" if answers.optical_spdif else None, only_speeds=speeds, latency_samples=2.0)  # type: ignore[arg-type]
            )  # fmt: skip
        if n == 0 or answers.optical == "two":
            box.clocks.append(ClockSource(key, label, f"{key}_in"))
    if answers.spdif != "none":
        for way in ("in",) if answers.spdif == "in" else ("in", "out"):
            box.ports.append(Port(f"spdif_{way}", f"S/PDIF {way}", way, "rca", ("spdif",), "digital", latency_samples=2.0))  # type: ignore[arg-type]
        box.clocks.append(ClockSource("spdif", "S/PDIF", "spdif_in"))
    if answers.word_in:
        box.ports.append(Port("word_in", "Word clock in", "in", "bnc", ("word",), "digital"))
        box.clocks.append(ClockSource("word", "Word clock", "word_in"))
    if answers.word_out:
        box.ports.append(Port("word_out", "Word clock out", "out", "bnc", ("word",), "digital"))


def _inner_paths(box: _Box) -> tuple[InnerPath, ...]:
    """Return an expander's ways: its inputs out digitally in order, and what comes back to its line outputs."""
    ins, outs = box.keys("mic", "line_in"), box.keys("line_out", direction="out")
    sends = box.keys("optical", direction="out") or box.keys("spdif", direction="out")
    returns = box.keys("optical") or box.keys("spdif")
    paths = []
    if ins and sends:
        paths.append(InnerPath(ins, sends))
    if returns and outs:
        paths.append(InnerPath(returns, outs))
    if not paths and ins and outs:
        paths.append(InnerPath(ins, outs))
    return tuple(paths)


def _driver_maps(box: _Box) -> tuple[DriverMap, ...]:
    """Return the map: inputs as the software lists them, or in the usual order where nothing was pasted."""
    usual = _usual(box, "in")
    outputs = tuple(_usual(box, "out").values())
    listed = read_software_list(box.answers.software_inputs)
    if not listed:
        box.assumed.append("The driver is taken to list analogue, then S/PDIF, then optical; paste your software's list to be sure.")
        return (DriverMap("standard", "As described", "collapsing", tuple(usual.values()), outputs),)
    inputs, assumed = match_blocks(listed, tuple(box.ports))
    box.assumed += assumed
    box.assumed.append("Numbers lost at a higher rate are taken to close up (collapsing); choose fixed if yours stay.")
    return (DriverMap("standard", "As pasted", "collapsing", inputs, outputs),)


def _usual(box: _Box, direction: Literal["in", "out"]) -> dict[str, Block]:
    """Return the blocks of a direction by their kind, in the usual order."""
    analogue = ("mic", "line_in") if direction == "in" else ("line_out",)
    found = {
        "analogue": Block("analogue", "Analogue", box.keys(*analogue, direction=direction)),
        "phones": Block("phones", "Phones", box.keys("phones", direction=direction)),
        "spdif": Block("spdif", "S/PDIF", box.keys("spdif", direction=direction)),
    }
    for port in box.keys("optical", direction=direction):
        label = "ADAT" if port.startswith(("optical_in", "optical_out")) else f"ADAT {port[8].upper()}"
        found[port] = Block(port, label, (port,))
    return {k: b for k, b in found.items() if b.ports}


def match_blocks(listed: tuple[ListedBlock, ...], ports: tuple[Port, ...]) -> tuple[tuple[Block, ...], tuple[str, ...]]:
    """Return the input blocks of a pasted list with the sockets they most likely number, and what was assumed.

    Sockets are dealt out in order within their kind; entries that no socket is left for become channels without
    one, as a loopback is.
    """
    left: dict[str, list[Port]] = {}
    for port in ports:
        if port.direction == "in" and port.carries[0] not in WORD:
            left.setdefault(port.carries[0] if port.is_digital else "analogue", []).append(port)
    blocks: list[Block] = []
    assumed: list[str] = []
    for n, entry in enumerate(listed, start=1):
        taken = _deal(entry, left)
        numbers = f"{entry.label} {entry.first}–{entry.last}"
        if not taken and entry.guess not in ("loopback", "talkback"):
            assumed.append(f"{numbers}: no socket is left for it; taken as channels inside the computer.")
        carried = sum(p.channels for p in taken)
        keys = tuple(p.key for p in taken)
        blocks.append(Block(f"b{n}", entry.label[:60], keys, 0 if keys else entry.channels))
        if taken and not taken[0].is_digital and carried < entry.channels:
            # The software counts them all: what comes after keeps its numbers.
            assumed.append(f"{numbers}: {entry.channels} listed, {carried} sockets fit; the rest is taken as channels inside the computer. Check it.")
            blocks.append(Block(f"b{n}_rest", entry.label[:60], (), entry.channels - carried))
    missing = [p.label for kind in left.values() for p in kind]
    if missing:
        assumed.append(f"The list names no number for {', '.join(missing[:4])}{' …' if len(missing) > 4 else ''}.")
    return tuple(blocks), tuple(assumed)


def _deal(entry: ListedBlock, left: dict[str, list[Port]]) -> list[Port]:
    """Take the sockets an entry numbers out of those that are left."""
    if entry.guess in ("mic", "line", "analogue", "unknown"):
        analogue = left.get("analogue", [])
        wanted = {"mic": "mic", "line": "line"}.get(entry.guess)
        fitting = [p for p in analogue if wanted is None or (p.carries[0] == wanted)] or analogue
        taken = fitting[: entry.channels]
        left["analogue"] = [p for p in analogue if p not in taken]
        return taken
    kind: str = entry.guess
    if not left.get(kind):
        return []
    # One socket a name is the rule; a list that runs through, such as ADAT 1–16, spans several.
    each = {"adat": 8, "madi": 64}.get(kind, 2)
    many = max(1, -(-entry.channels // each))
    taken, left[kind] = left[kind][:many], left[kind][many:]
    return taken


def _summary(answers: Answers) -> str:
    parts = []
    for count, one, many in (
        (answers.mics, "microphone input", "microphone inputs"), (answers.lines, "line input", "line inputs"),
        (answers.line_outs, "line output", "line outputs"), (answers.phones, "headphone output", "headphone outputs"),
    ):  # fmt: skip
        if count:
            parts.append(f"{count} {one if count == 1 else many}")
    optical = {"none": "", "in": "optical in", "pair": "one optical pair", "two": "two optical pairs",
               "two-fast": "two optical pairs, the second above 48 kHz only"}[answers.optical]  # fmt: skip
    spdif = {"none": "", "in": "S/PDIF in", "both": "S/PDIF in and out"}[answers.spdif]
    return ", ".join([*parts, *filter(None, (optical, spdif))]) + "; described by its owner."
