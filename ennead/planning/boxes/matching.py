"""Which sockets the entries of a pasted list number."""

from typing import Literal

from ennead.planning.boxes.software_list import ListedBlock
from ennead.standards.links import WORD
from ennead.studio.profile import Block, Port

#: What stands in the software's list without a socket of the box behind it.
_INSIDE = frozenset({"loopback", "talkback", "gap"})


def match_blocks(
    listed: tuple[ListedBlock, ...], ports: tuple[Port, ...], direction: Literal["in", "out"] = "in"
) -> tuple[tuple[Block, ...], tuple[str, ...]]:
    """Return the blocks of a pasted list with the sockets they most likely number, and what was assumed.

    Sockets are dealt out in order within their kind; entries that no socket is left for become channels without
    one, as a loopback is. Labels keep the numbers they bear in the list.
    """
    left: dict[str, list[Port]] = {}
    for port in ports:
        if port.direction == direction and port.carries[0] not in WORD:
            kind = "phones" if "headphone" in port.carries else port.carries[0] if port.is_digital else "analogue"
            left.setdefault(kind, []).append(port)
    blocks: list[Block] = []
    assumed: list[str] = []
    for n, entry in enumerate(listed, start=1):
        taken = _deal(entry, left)
        numbers = f"{entry.label} {entry.first}–{entry.last}"
        if not taken and entry.guess not in _INSIDE:
            assumed.append(f"{numbers}: no socket is left for it; taken as channels inside the computer.")
        carried = sum(p.channels for p in taken)
        keys = tuple(p.key for p in taken)
        blocks.append(
            Block(f"b{n}", entry.label[:60], keys, 0 if keys else entry.channels, first_label=entry.first_label)
        )
        if taken and not taken[0].is_digital and carried < entry.channels:
            # The software counts them all: what comes after keeps its numbers.
            assumed.append(
                f"{numbers}: {entry.channels} listed, {carried} sockets fit; the rest is taken as channels inside the"
                " computer. Check it."
            )
            blocks.append(
                Block(
                    f"b{n}_rest",
                    entry.label[:60],
                    (),
                    entry.channels - carried,
                    first_label=entry.first_label + carried,
                )
            )
    missing = [p.label for kind in left.values() for p in kind]
    if missing:
        assumed.append(f"The list names no number for {', '.join(missing[:4])}{' …' if len(missing) > 4 else ''}.")
    return tuple(blocks), tuple(assumed)


def _deal(entry: ListedBlock, left: dict[str, list[Port]]) -> list[Port]:
    """Take the sockets an entry numbers out of those that are left."""
    if entry.guess in ("mic", "line", "analogue", "unknown", "phones"):
        pool = "phones" if entry.guess == "phones" else "analogue"
        analogue = left.get(pool, [])
        wanted = {"mic": "mic", "line": "line"}.get(entry.guess)
        fitting = [p for p in analogue if wanted is None or (p.carries[0] == wanted)] or analogue
        taken: list[Port] = []
        for port in fitting:
            # A headphone socket is two channels.
            if sum(p.channels for p in taken) + port.channels <= entry.channels:
                taken.append(port)
        left[pool] = [p for p in analogue if p not in taken]
        return taken
    kind: str = entry.guess
    if not left.get(kind):
        return []
    # One socket a name is the rule; a list that runs through, such as ADAT 1–16, spans several.
    each = {"adat": 8, "madi": 64}.get(kind, 2)
    many = max(1, -(-entry.channels // each))
    taken, left[kind] = left[kind][:many], left[kind][many:]
    return taken
