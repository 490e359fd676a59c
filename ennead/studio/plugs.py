"""The validity of a cable: the one place where its plugs and wires are judged, for edits and for files."""

from collections.abc import Iterator
from typing import Final

from ennead.studio.document import Studio
from ennead.studio.house import Cable, LineEnd, PortEnd
from ennead.studio.ids import LETTERS, DestinationId, SourceId
from ennead.studio.looms import Loom, SpareLoom
from ennead.studio.pieces import pieces

LONGEST_CABLE_M: Final = 20_000.0
#: Characters of a name, or of a mark.
LONGEST_NAME: Final = 500
#: Of one cable: two multipins of 32 lines with all their tails.
MOST_PLUGS: Final = 66


def own_faults(cable: Cable) -> Iterator[str]:
    """Yield what is wrong with a cable whatever it is plugged into."""
    if cable.length_m is not None and not 0 < cable.length_m <= LONGEST_CABLE_M:
        yield f"{cable.length_m} m is no length"
    if cable.loom is not None:
        yield from loom_faults(cable.loom)
    count = len(cable.plugs)
    if not 2 <= count <= MOST_PLUGS or not any(isinstance(p, PortEnd) for p in cable.plugs):
        yield f"a cable has 2 to {MOST_PLUGS} plugs, of which one at least sits in a socket"
        return
    if len(set(cable.plugs)) != count:
        yield "two of its plugs are in the same place"
    for plug in cable.plugs:
        if isinstance(plug, LineEnd) and plug.line[:1] not in (LETTERS["sources"], LETTERS["destinations"]):
            yield f"“{plug.line[:40]}” is no line"
    if count == 2 and not cable.wires:
        first, last = cable.plugs
        if isinstance(first, LineEnd) and first.line[:1] == LETTERS["destinations"] and not first.side:
            yield "it runs out of what hears"
        if isinstance(last, LineEnd) and (last.line[:1] == LETTERS["sources"] or last.side):
            yield "it runs into what makes sound"
    if not cable.wires:
        if count > 2:
            yield "a plug of it has no wire"
        return
    for wire in cable.wires:
        if not (
            0 <= wire.a < count and 0 <= wire.b < count and wire.a != wire.b and wire.a_lane >= 1 and wire.b_lane >= 1
        ):
            yield "a wire of it joins nothing"
    joined = {(w.a, w.a_lane, w.b, w.b_lane) for w in cable.wires} | {
        (w.b, w.b_lane, w.a, w.a_lane) for w in cable.wires
    }
    if len(joined) != 2 * len(cable.wires):
        yield "two of its wires are one"
    if {p for w in cable.wires for p in (w.a, w.b)} != set(range(count)):
        yield "a plug of it has no wire"


def loom_faults(loom: Loom) -> Iterator[str]:
    """Yield what is wrong with how a loom is said to be made up."""
    if len(loom.marks) >= MOST_PLUGS:
        yield f"a loom has at most {MOST_PLUGS - 1} lines to mark"
    if max([len(text) for text in (loom.name, *loom.marks)]) > LONGEST_NAME:
        yield f"a mark of it, or its name, has more than {LONGEST_NAME} characters"


def spare_faults(spare: SpareLoom) -> Iterator[str]:
    """Yield what is wrong with a loom that lies in a drawer."""
    if not 1 <= spare.lanes < MOST_PLUGS:
        yield f"a loom has 1 to {MOST_PLUGS - 1} lines, not {spare.lanes}"
    if spare.length_m is not None and not 0 < spare.length_m <= LONGEST_CABLE_M:
        yield f"{spare.length_m} m is no length of a loom"
    if len(spare.ends) > 2 or max([len(text) for text in (*spare.ends, spare.note)], default=0) > LONGEST_NAME:
        yield f"it has more than two ends, or more than {LONGEST_NAME} characters to say what they are"


def cable_faults(studio: Studio, cable: Cable) -> Iterator[str]:
    """Yield what is wrong with a cable where it is plugged in.

    Raises
    ------
    UnknownObject, NoSuchPort
        If what it is plugged into is not there.
    """
    wrong = tuple(own_faults(cable))
    if wrong:
        yield from wrong
        return
    ports = [studio.port(p) for p in cable.plugs if isinstance(p, PortEnd)]
    digital = [p.is_digital for p in ports]
    if any(digital) and not all(digital):
        yield "a digital and an analogue socket do not join"
        return
    if any(digital) and (
        len(cable.plugs) > 2 or (cable.wires and not any(isinstance(p, LineEnd) for p in cable.plugs))
    ):
        yield "a digital cable has two plugs and is straight"
    for at, plug in enumerate(cable.plugs):
        lanes = [w.a_lane for w in cable.wires if w.a == at] + [w.b_lane for w in cable.wires if w.b == at]
        yield from _plug_faults(studio, plug, max(lanes, default=1))
    if not cable.wires and any(p.direction == "both" for p in ports):
        yield "a socket that sends and returns takes a cable with wires of its own"
    elif not cable.wires:
        yield from _end_faults(studio, cable)
    elif not pieces(cable, studio.profile_of):
        yield "nothing in it runs from an output to an input"


def _plug_faults(studio: Studio, plug: PortEnd | LineEnd, most: int) -> Iterator[str]:
    if isinstance(plug, PortEnd):
        port = studio.port(plug)
        if most > port.channels and not port.is_digital:
            yield f"{studio.end_text(plug)} has no channel {most}"
        return
    if plug.line[:1] == LETTERS["sources"]:
        if most > studio.source(SourceId(plug.line)).channels:
            yield f"its source has no channel {most}"
        if plug.side:
            yield "only a loop comes back"
        return
    destination = studio.destination(DestinationId(plug.line))
    if most > (destination.backs if plug.side else destination.channels):
        yield f"its destination has no channel {most}"
    if plug.side and destination.kind != "loop":
        yield "only a loop comes back"


def _end_faults(studio: Studio, cable: Cable) -> Iterator[str]:
    """Yield what is wrong with the ends of a straight cable: the first drives, the last takes."""
    first, last = cable.plugs
    if isinstance(first, PortEnd) and studio.port(first).direction == "in":
        yield "it begins at an input"
    if isinstance(last, PortEnd) and studio.port(last).direction == "out":
        yield "it ends in an output"
