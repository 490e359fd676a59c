"""Rows of sockets that are on no bay yet, and what wires one of them to a row of points: cable by cable, or one loom from a multipin."""

from typing import NamedTuple

from ennead.edits.bays import wire_block
from ennead.edits.cables import make_up
from ennead.edits.change import Change, change
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, Wire
from ennead.studio.profile import Port
from ennead.studio.ranges import in_ranges
from ennead.survey.survey import survey_of


class SocketBlock(NamedTuple):
    """Sockets of one box that stand in a row and hold nothing.

    Parameters
    ----------
    ports : tuple of PortEnd
        One socket where it is a multipin, else one a channel.
    lanes : int
        Channels: as many points as it takes.
    drives : bool
        Whether they are outputs.
    """

    text: str
    ports: tuple[PortEnd, ...]
    lanes: int
    drives: bool


def free_blocks(studio: Studio) -> list[SocketBlock]:
    """Return the analogue sockets that hold no cable, row by row, outputs of each box before its inputs."""
    held = {plug for cable in survey_of(studio).in_use.values() for plug in cable.plugs}
    found: list[SocketBlock] = []
    for unit in studio.units.values():
        if unit.id in studio.bays:
            continue
        rows: dict[tuple[str, str, bool], list[PortEnd]] = {}
        for port in studio.profile_of(unit.id).ports:
            end = PortEnd(unit.id, port.key)
            if end in held or port.key in unit.faults or not _may_be_wired(port):
                continue
            if port.wiring == "multi":
                text = f"{studio.end_text(end)}, {port.channels} channels"
                found.append(SocketBlock(text, (end,), port.channels, port.direction != "in"))
            else:
                rows.setdefault((port.direction, port.row, "headphone" in port.carries), []).append(end)
        found += [
            SocketBlock(in_ranges([studio.end_text(e) for e in ends]), tuple(ends), len(ends), direction != "in")
            for (direction, _, _), ends in sorted(rows.items(), key=lambda row: row[0][0] == "in")
        ]
    return found


def _may_be_wired(port: Port) -> bool:
    return (
        not port.is_digital
        and port.direction in ("in", "out")
        and (port.channels == 1 or port.wiring == "multi")
        and "speaker" not in port.carries
    )


def points_from(studio: Studio, block: SocketBlock, at: PortEnd) -> list[PortEnd]:
    """Return the points of a row on which a block would lie from one on to the right, as many as there are."""
    row = next((row for row in studio.bays[at.unit].rows if at.port in row), ())
    return [PortEnd(at.unit, key) for key in row[row.index(at.port) :] if key][: block.lanes] if row else []


def block_change(studio: Studio, block: SocketBlock, at: PortEnd) -> Change:
    """Return the change that wires a block to the points of a row from one on to the right; what finds no point there stays free.

    Raises
    ------
    BadValue
        If there is no point of a bay.
    """
    points = points_from(studio, block, at) if at.unit in studio.bays else []
    if not points:
        raise BadValue("points", studio.end_text(at), "Let it go over a point of a bay.")
    label = f"Wire {block_text(studio, block, points)}"
    if len(block.ports) < block.lanes:
        wires = tuple([Wire(0, lane, lane, 1) for lane in range(1, len(points) + 1)])
        return change(label, make_up, (block.ports[0], *points), wires)
    pairs = zip(block.ports, points, strict=False) if block.drives else zip(points, block.ports, strict=False)
    return change(label, wire_block, tuple(pairs))


def block_text(studio: Studio, block: SocketBlock, points: list[PortEnd]) -> str:
    """Return a block and where it would lie, as words: ``Harbour Line out 3–8 → A · 14–19 above``."""
    whole = len(block.ports) < block.lanes
    here = block.text if whole else in_ranges([studio.end_text(p) for p in block.ports[: len(points)]])
    first, last = studio.port(points[0]).label, studio.port(points[-1]).label
    between = f"{first.split(' ')[0]}–{last}" if len(points) > 1 else first
    there = f"{studio.units[points[0].unit].name} · {between}"
    return f"{here} → {there}" if block.drives else f"{there} → {here}"
