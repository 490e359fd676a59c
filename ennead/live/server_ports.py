"""The ports of the running audio server, as driver numbers: which device they belong to, and what the driver reports."""

import re
from collections.abc import Sequence
from typing import NamedTuple

from ennead.live.errors import BadTake
from ennead.live.server_child import ask


class ServerPort(NamedTuple):
    """A hardware port.

    Parameters
    ----------
    number : int
        From 1, among those of its direction.
    port, alias : str
        As the server names it; the alias is empty where it has none.
    latency_samples : int
        From the converter to it, or from it to the converter, as the driver reports.
    """

    number: int
    port: str
    alias: str
    latency_samples: int

    @property
    def device(self) -> str:
        """The device it belongs to: the part of its name before the colon."""
        return self.port.partition(":")[0]

    @property
    def label(self) -> str:
        """What the driver calls it."""
        return (self.alias or self.port).rpartition(":")[2]


class ServerPorts(NamedTuple):
    """What a server offers.

    Parameters
    ----------
    server : str
        Its kind and version.
    rate_hz : int, Hz
    period : int, samples
    inputs, outputs : tuple of ServerPort
        As the computer counts them: inputs are what comes in.
    """

    server: str
    rate_hz: int
    period: int
    inputs: tuple[ServerPort, ...]
    outputs: tuple[ServerPort, ...]

    @property
    def devices(self) -> tuple[str, ...]:
        """The devices, in the order of their first ports."""
        return tuple(dict.fromkeys(p.device for p in (*self.inputs, *self.outputs)))

    def of_device(self, device: str) -> "ServerPorts":
        """Return the ports of one device, numbered anew."""
        kept = [_numbered([p for p in ports if p.device == device]) for ports in (self.inputs, self.outputs)]
        return self._replace(inputs=kept[0], outputs=kept[1])

    def device_named(self, device: str) -> "ServerPorts":
        """Return the ports of the device of a name.

        Raises
        ------
        BadTake
        """
        if device not in self.devices:
            there = ", ".join(f"“{d}”" for d in self.devices) or "none"
            raise BadTake(f"The audio server has no device “{device}”.", f"There is: {there}.")
        return self.of_device(device)

    def best_for(self, inputs: int, outputs: int) -> "ServerPorts":
        """Return those of the device, or of all together, that come nearest to so many inputs and outputs."""
        ways = [self.of_device(d) for d in self.devices] if len(self.devices) > 1 else []
        return min([*ways, self], key=lambda w: abs(len(w.inputs) - inputs) + abs(len(w.outputs) - outputs))


def _numbered(ports: Sequence[ServerPort]) -> tuple[ServerPort, ...]:
    return tuple([p._replace(number=n) for n, p in enumerate(ports, start=1)])


def _natural(port: dict[str, object], order: list[str]) -> tuple[int, list[tuple[int, str]]]:
    """Return what sorts ports by device, as they came, and by the numbers in their names."""
    name = str(port["port"])
    parts = re.split(r"(\d+)", name.partition(":")[2])
    return order.index(name.partition(":")[0]), [(int(p), "") if p.isdigit() else (0, p) for p in parts]


def read_server() -> ServerPorts:
    """Return the hardware ports of the running server.

    Raises
    ------
    NoServer, ServerGone
    """
    said = ask({"what": "ports"}).said
    found = []
    for way in ("inputs", "outputs"):
        order = list(dict.fromkeys(str(p["port"]).partition(":")[0] for p in said[way]))
        rows = sorted(said[way], key=lambda p: _natural(p, order))
        found.append(_numbered([ServerPort(0, p["port"], p["alias"], p["latency"]) for p in rows]))
    return ServerPorts(said["server"], said["rate_hz"], said["period"], found[0], found[1])
