"""The numbers the recording software shows: every interface's channels, one computer after the other."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from ennead.studio.house import Computer, Unit
from ennead.studio.ids import ComputerId, UnitId
from ennead.survey.parts import each, part
from ennead.survey.played import UnitChannel
from ennead.survey.unit_view import UnitView


@dataclass(slots=True)
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


#: A channel of an interface at which a signal arrives, whatever its number on the computer.
Landing = tuple[UnitId, UnitChannel]


class Start(NamedTuple):
    """Where the numbers of one interface begin: the channels of those numbered before it on its computer."""

    computer: ComputerId
    before_in: int
    before_out: int


@part
def starts(computers: Mapping[ComputerId, Computer], views: Mapping[UnitId, UnitView]) -> dict[UnitId, Start]:
    """Return where the numbers of every interface begin.

    A second interface's numbers start after the first's last driver channel, in the order the user set.
    """
    found: dict[UnitId, Start] = {}
    for computer in computers.values():
        ins = outs = 0
        for unit in computer.interfaces:
            found[unit] = Start(computer.id, ins, outs)
            ins += len(views[unit].inputs)
            outs += len(views[unit].outputs)
    return found


@each("driver_inputs", of={"start": "starts", "unit": "unit_ids", "view": "views"})
def driver_inputs(start: Start, unit: UnitId, view: UnitView) -> tuple[DriverChannel, ...]:
    """Return the driver inputs of one interface."""
    before = start.before_in
    return tuple([DriverChannel(before + c.index, unit, c, before) for c in view.inputs])


@each("driver_outputs", of={"start": "starts", "unit": "unit_ids", "view": "views"})
def driver_outputs(start: Start, unit: UnitId, view: UnitView) -> tuple[DriverChannel, ...]:
    """Return the driver outputs of one interface."""
    before = start.before_out
    return tuple([DriverChannel(before + c.index, unit, c, before) for c in view.outputs])


_OfUnits = Mapping[UnitId, tuple[DriverChannel, ...]]


@dataclass(frozen=True)
class Numbering:
    """All driver channels, inputs and outputs apart, in the order of their numbers."""

    starts: Mapping[UnitId, Start]
    inputs_of: _OfUnits
    outputs_of: _OfUnits

    @cached_property
    def computer_of(self) -> dict[UnitId, ComputerId]:
        """The computer each interface is on."""
        return {unit: start.computer for unit, start in self.starts.items()}

    @cached_property
    def before_in(self) -> dict[UnitId, int]:
        """Inputs of the interfaces numbered before each interface on its computer."""
        return {unit: start.before_in for unit, start in self.starts.items()}

    @cached_property
    def before_out(self) -> dict[UnitId, int]:
        """Outputs of the interfaces numbered before each interface on its computer."""
        return {unit: start.before_out for unit, start in self.starts.items()}

    def input_at(self, landing: Landing) -> DriverChannel:
        """Return the driver input of a channel of an interface."""
        return self.inputs_of[landing[0]][landing[1].index - 1]

    @cached_property
    def inputs(self) -> tuple[DriverChannel, ...]:
        """Every driver input."""
        return tuple([driver for of_unit in self.inputs_of.values() for driver in of_unit])

    @cached_property
    def outputs(self) -> tuple[DriverChannel, ...]:
        """Every driver output."""
        return tuple([driver for of_unit in self.outputs_of.values() for driver in of_unit])


@part
def numbering(starts: Mapping[UnitId, Start], driver_inputs: _OfUnits, driver_outputs: _OfUnits) -> Numbering:
    """Return the numbering of every computer."""
    return Numbering(starts, driver_inputs, driver_outputs)


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
