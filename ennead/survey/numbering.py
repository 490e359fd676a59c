"""The numbers the recording software shows: every interface's channels, one computer after the other."""

from collections.abc import Mapping
from functools import cached_property
from typing import NamedTuple

from ennead.studio.house import Computer, Unit
from ennead.studio.ids import ComputerId, UnitId
from ennead.survey.unit_view import UnitChannel, UnitView


class DriverChannel(NamedTuple):
    """One number of the computer.

    Parameters
    ----------
    number : int
        What one picks in the recording software.
    before : int
        Channels of the interfaces numbered before this one.
    """

    number: int
    unit: UnitId
    channel: UnitChannel
    before: int

    @property
    def label(self) -> str:
        """What the driver calls it."""
        return self.channel.label


class Numbering:
    """All driver channels, inputs and outputs apart, in the order of their numbers.

    Parameters
    ----------
    before_in, before_out : map of UnitId to int
        Channels of the interfaces numbered before each interface on its computer.
    """

    def __init__(self, hosts: Mapping[ComputerId, Computer], views: Mapping[UnitId, UnitView]) -> None:
        self.computer_of: dict[UnitId, ComputerId] = {}
        self.before_in: dict[UnitId, int] = {}
        self.before_out: dict[UnitId, int] = {}
        self._views = {u: views[u] for computer in hosts.values() for u in computer.interfaces}
        for computer in hosts.values():
            ins = outs = 0
            for unit in computer.interfaces:
                self.computer_of[unit], self.before_in[unit], self.before_out[unit] = computer.id, ins, outs
                ins += len(views[unit].inputs)
                outs += len(views[unit].outputs)

    def input_at(self, unit: UnitId, port: str, lane: int) -> DriverChannel | None:
        """Return the driver input at which a lane of a port arrives, or None."""
        before = self.before_in.get(unit)
        if before is None:
            return None
        channel = self._views[unit].input_at.get((port, lane))
        return None if channel is None else DriverChannel(before + channel.index, unit, channel, before)

    @cached_property
    def inputs(self) -> tuple[DriverChannel, ...]:
        """Every driver input."""
        before = self.before_in
        return tuple(DriverChannel(before[u] + c.index, u, c, before[u]) for u, v in self._views.items() for c in v.inputs)

    @cached_property
    def outputs(self) -> tuple[DriverChannel, ...]:
        """Every driver output."""
        before = self.before_out
        return tuple(DriverChannel(before[u] + c.index, u, c, before[u]) for u, v in self._views.items() for c in v.outputs)


def number_channels(hosts: Mapping[ComputerId, Computer], views: Mapping[UnitId, UnitView]) -> Numbering:
    """Return the numbering of every computer.

    A second interface's numbers start after the first's last driver channel, in the order the user set.
    """
    return Numbering(hosts, views)


def number_working(found: DriverChannel, view: UnitView, units: Mapping[UnitId, Unit], rate: str) -> tuple[str, ...]:
    """Return the arithmetic behind a driver number, line by line."""
    channel = found.channel
    lines = []
    names = [
        f"{other.block.label} {other.block_last - other.block_first + 1}"
        for other in view.inputs
        if other.index < channel.block_first and other.index == other.block_first
    ]
    name = units[found.unit].name
    if found.before:
        lines.append(f"interfaces numbered before {name}: {found.before} channels")
    if names:
        lines.append(f"before {channel.block.label} on {name}: {' + '.join(names)} = {channel.block_first - 1}")
    lines.append(
        f"{channel.block.label} at {rate}: {found.before + channel.block_first}–{found.before + channel.block_last}"
    )
    place = channel.index - channel.block_first + 1
    first = found.before + channel.block_first
    lines.append(f"channel {place} of that block: {first} + {place} − 1 = {found.number}")
    return tuple(lines)
