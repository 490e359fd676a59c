"""A layout in words: what it would change, and what is awkward about it before and after."""

from typing import Final

from ennead.planning.bay_layout.bench_of import ELSEWHERE, EVERYDAY, TONIGHT
from ennead.planning.bay_layout.layout import LaidOut
from ennead.planning.bay_layout.neighbours import (
    BOX_APART,
    FURTHER_BAY,
    KINDS_MIXED,
    LEFT_FROM_RIGHT,
    MIC_BESIDE_LINE,
    NO_ROOM_TO_GROW,
    OUT_OF_ORDER,
)


def count_text(count: int, noun: str) -> str:
    """Return how many there are of something, as words."""
    return f"{count} {noun}{'s' * (count != 1)}"


def layout_text(found: LaidOut) -> str:
    """Return what a layout would change, in a few sentences, with the weights it goes by."""
    if not found.change.steps:
        return "Nothing would be better elsewhere: no planned cable has to move."
    proven = (
        "no layout that leaves what is soldered saves more"
        if found.saved == found.bound
        else f"at most {found.bound - found.saved:g} more could be saved"
    )
    return (
        f"{count_text(found.cords_before, 'cord')} now, {found.cords_after} with this layout;"
        f" {count_text(found.moved, 'planned cable')} to move, {count_text(found.laid, 'socket')} to bring to the bays,"
        f" nothing soldered moves. Weight of the pairs that need no cord: {found.saved:g} ({proven}; in the order of"
        f" the units {found.plain:g}). An everyday pair weighs {EVERYDAY:g} and is not given up for cords, one of"
        f" tonight {TONIGHT:g}, of another scene {ELSEWHERE:g}."
    )


#: What is awkward, in words, with what each weighs.
_AWKWARD: Final = (
    ("mics", "points of microphone beside line level", MIC_BESIDE_LINE), ("boxes", "boxes whose output stands far from their input", BOX_APART),
    ("sides", "lefts away from their rights", LEFT_FROM_RIGHT), ("order", "others out of their row", OUT_OF_ORDER),
    ("mixed", "lines right beside outboard", KINDS_MIXED), ("growth", "spare points lacking beside a kind", NO_ROOM_TO_GROW),
    ("further", "everyday sockets on a further bay", FURTHER_BAY),
)  # fmt: skip


def neighbour_texts(found: LaidOut) -> tuple[str, ...]:
    """Return the adjacency penalties before and after: a sum, and a line for each kind that occurs."""
    known = (
        "no layout is below that"
        if found.now.weight <= found.least
        else f"no layout is below {found.least:g}; this is the best that was found"
    )
    rows = [
        f"{text[:1].upper()}{text[1:]}: {getattr(found.was, name)} now, {getattr(found.now, name)} then ({weight:g}"
        " each)."
        for name, text, weight in _AWKWARD
        if getattr(found.was, name) or getattr(found.now, name)
    ]
    rows += [
        f"A pair goes on needing its cord, for a normal would be heard elsewhere: {message}"
        for message in found.given_up.values()
    ]
    return (
        f"Awkward neighbours: {found.was.total} now, {found.now.total} then. By their weights that is"
        f" {found.was.weight:g} and {found.now.weight:g} ({known}).",
        *rows,
    )
