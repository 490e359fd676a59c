"""The ports of the running audio server, as driver numbers: which device they belong to, and what the driver reports."""

import re
from collections.abc import Sequence
from typing import Final, NamedTuple

from ennead.live.errors import BadTake
from ennead.live.server_child import ask

_NUMBER: Final = re.compile(r"\d+")


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


def in_order(names: Sequence[str]) -> list[str]:
    """Return names of ports as people count them: ports that differ by a number alone by it, all else as the server has it.

    Examples
    --------
    >>> in_order(["desk:in_10", "desk:in_2", "hall:FL", "hall:FR", "hall:FC"])
    ['desk:in_2', 'desk:in_10', 'hall:FL', 'hall:FR', 'hall:FC']
    """
    devices = list(dict.fromkeys(name.partition(":")[0] for name in names))
    kinds = list(dict.fromkeys(_kind(name) for name in names))

    def place(name: str) -> tuple[int, int, list[int]]:
        return devices.index(name.partition(":")[0]), kinds.index(_kind(name)), [int(n) for n in _NUMBER.findall(name)]

    return sorted(names, key=place)


def _kind(name: str) -> str:
    """Return a name without its numbers."""
    return _NUMBER.sub("#", name)


def read_server() -> ServerPorts:
    """Return the hardware ports of the running server.

    Raises
    ------
    NoServer, ServerGone
    """
    said = ask({"what": "ports"}).said
    found = []
    for way in ("inputs", "outputs"):
        rows = {p["port"]: ServerPort(0, p["port"], p["alias"], p["latency"]) for p in said[way]}
        found.append(_numbered([rows[name] for name in in_order(list(rows))]))
    return ServerPorts(said["server"], said["rate_hz"], said["period"], found[0], found[1])
