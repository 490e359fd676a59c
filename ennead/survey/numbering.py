"""The numbers the recording software shows: every interface's channels, one computer after the other."""

from collections.abc import Mapping
from dataclasses import dataclass

from ennead.studio.house import Host, Unit
from ennead.studio.ids import HostId, UnitId
from ennead.survey.unit_view import UnitChannel, UnitView


@dataclass(frozen=True, slots=True)
class DriverChannel:
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


@dataclass(frozen=True, slots=True)
class Numbering:
    """All driver channels, inputs and outputs apart, in the order of their numbers."""

    inputs: tuple[DriverChannel, ...]
    outputs: tuple[DriverChannel, ...]
    input_at: dict[tuple[UnitId, str, int], DriverChannel]
    host_of: dict[UnitId, HostId]


def number_channels(hosts: Mapping[HostId, Host], views: Mapping[UnitId, UnitView]) -> Numbering:
    """Return the numbering of every computer.

    A second interface's numbers start after the first's last driver channel, in the order the user set.
    """
    inputs: list[DriverChannel] = []
    outputs: list[DriverChannel] = []
    host_of: dict[UnitId, HostId] = {}
    for host in hosts.values():
        ins = outs = 0
        for unit in host.interfaces:
            host_of[unit] = host.id
            view = views[unit]
            inputs += [DriverChannel(ins + c.index, unit, c, ins) for c in view.inputs]
            outputs += [DriverChannel(outs + c.index, unit, c, outs) for c in view.outputs]
            ins += len(view.inputs)
            outs += len(view.outputs)
    at = {(d.unit, d.channel.port, d.channel.lane): d for d in inputs if d.channel.port and d.channel.live}
    return Numbering(tuple(inputs), tuple(outputs), at, host_of)


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
