"""Rule: whether 48 V comes out of the socket contacts a source is plugged into."""

from ennead.rules.source_fits_port import signal_wanted
from ennead.studio.profile import Port, Profile
from ennead.studio.session import Source


def touches_phantom(source: Source, port: Port) -> bool:
    """Say whether a source sits on contacts that carry 48 V when their bank is on.

    A microphone uses the XLR. A line source or an instrument uses the jack of a combo socket, which
    carries none unless the profile says otherwise.

    References
    ----------
    IEC 61938: P48 is fed through pins 2 and 3 of the XLR.
    """
    return touches(signal_wanted(source), port.connector, xlr_only=port.phantom_on_xlr_only)


def touches(signal: str, connector: str, *, xlr_only: bool) -> bool:
    """Say the same of a kind of signal and a kind of socket."""
    return signal == "mic" or connector == "xlr" or (connector == "combo" and not xlr_only)


def phantom_wish_at(source: Source, port: Port) -> int:
    """Return 1 where 48 V must be on for a source in a socket, -1 where it must be off, else 0."""
    if source.kind == "digital" or not touches_phantom(source, port):
        return 0
    return {"needed": 1, "forbidden": -1, "tolerated": 0}[source.phantom]


def has_phantom(port_key: str, profile: Profile) -> bool:
    """Say whether 48 V can be switched to a socket at all."""
    return port_key in profile.bank_of_port


def is_live(port_key: str, profile: Profile, banks_on: tuple[str, ...]) -> bool:
    """Say whether a socket carries 48 V now."""
    bank = profile.bank_of_port.get(port_key)
    return bank is not None and bank.key in banks_on


def wants_phantom(source: Source) -> bool:
    """Say whether a source is silent without 48 V."""
    return source.phantom == "needed" and source.kind != "digital"
