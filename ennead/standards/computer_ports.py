"""How interfaces hang on a computer: its sockets, what each takes, and the adapters between them."""

from typing import Final, Literal, NamedTuple

Bus = Literal["", "USB", "Thunderbolt", "FireWire", "Ethernet"]

SocketKind = Literal["usb-a", "usb-c", "thunderbolt-c", "thunderbolt-dp", "firewire-400", "firewire-800", "ethernet"]


#: Buses that let boxes be chained on one socket of the computer, and how many. References: IEEE 1394 (63 nodes, the
#: computer being one), Thunderbolt (six devices a chain).
CHAINS: Final[dict[str, int]] = {"FireWire": 62, "Thunderbolt": 6}


class ComputerSocket(NamedTuple):
    """A socket of a computer and the buses that work on it without an adapter."""

    label: str
    takes: tuple[Bus, ...]


#: References: IEEE 1394b (FireWire 800 takes 400 devices over a plain cable); USB Type-C with Thunderbolt
#: carries USB as well; Thunderbolt on a mini DisplayPort plug carries no USB.
COMPUTER_SOCKETS: Final[dict[SocketKind, ComputerSocket]] = {
    "usb-a": ComputerSocket("USB-A", ("USB",)),
    "usb-c": ComputerSocket("USB-C", ("USB",)),
    "thunderbolt-c": ComputerSocket("Thunderbolt on USB-C", ("Thunderbolt", "USB")),
    "thunderbolt-dp": ComputerSocket("Thunderbolt on mini DisplayPort", ("Thunderbolt",)),
    "firewire-400": ComputerSocket("FireWire 400", ("FireWire",)),
    "firewire-800": ComputerSocket("FireWire 800", ("FireWire",)),
    "ethernet": ComputerSocket("Ethernet", ("Ethernet",)),
}


class ComputerAdapter(NamedTuple):
    """A box or plug that offers one socket and itself goes into others."""

    label: str
    offers: SocketKind
    into: tuple[SocketKind, ...]


#: House list of plain adapters.
COMPUTER_ADAPTERS: Final[dict[str, ComputerAdapter]] = {
    "firewire-thunderbolt": ComputerAdapter("FireWire to Thunderbolt adapter", "firewire-800", ("thunderbolt-dp",)),
    "thunderbolt-shape": ComputerAdapter("mini DisplayPort to USB-C adapter", "thunderbolt-dp", ("thunderbolt-c",)),
    "ethernet-thunderbolt": ComputerAdapter("Ethernet to Thunderbolt adapter", "ethernet", ("thunderbolt-dp",)),
    "ethernet-usb": ComputerAdapter("Ethernet to USB-A adapter", "ethernet", ("usb-a",)),
    "usb-shape": ComputerAdapter("USB-A to USB-C adapter", "usb-a", ("usb-c", "thunderbolt-c")),
}


def why_no_way(bus: Bus, adapters: tuple[str, ...], socket: SocketKind) -> str:
    """Return why a bus does not reach a socket through a chain of adapters, or an empty string where it does."""
    plug, goes_into = f"a {bus} plug", _sockets_of(bus)
    for key in adapters:
        adapter = COMPUTER_ADAPTERS[key]
        if adapter.offers not in goes_into:
            return f"{plug} does not go into the {adapter.label}"
        plug, goes_into = f"the {adapter.label}", adapter.into
    return "" if socket in goes_into else f"{plug} does not go into {COMPUTER_SOCKETS[socket].label}"


def adapter_chain(bus: Bus, socket: SocketKind) -> tuple[str, ...] | None:
    """Return the shortest chain of adapters from a bus to a socket, or None where there is none."""
    queue: list[tuple[tuple[str, ...], tuple[SocketKind, ...]]] = [((), _sockets_of(bus))]
    for chain, goes_into in queue:
        if socket in goes_into:
            return chain
        queue += [
            ((*chain, k), a.into) for k, a in COMPUTER_ADAPTERS.items() if k not in chain and a.offers in goes_into
        ]
    return None


def _sockets_of(bus: Bus) -> tuple[SocketKind, ...]:
    return tuple(key for key, socket in COMPUTER_SOCKETS.items() if bus in socket.takes)
