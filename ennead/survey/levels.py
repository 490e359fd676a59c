"""Levels into the box: what a source gives at its loudest, and what its socket takes."""

from typing import NamedTuple

from ennead.standards.levels import microphone_dbu
from ennead.studio.house import Settings
from ennead.studio.profile import Level, Port
from ennead.studio.session import Source


class Into(NamedTuple):
    """A source at a socket.

    Parameters
    ----------
    peak_dbu : float, dBu
        What the source gives at its loudest.
    limit_dbu : float, dBu
        What clips the input, its pad as it stands.
    pad_db : float or None, dB
        Of the socket's pad; None where it has none.
    padded : bool
        Whether it is on.
    """

    peak_dbu: float
    limit_dbu: float
    pad_db: float | None
    padded: bool


def line_level(port: Port, settings: Settings) -> Level | None:
    """Return what a socket states of its level, its box as it is set; of several, that of a line."""
    levels = port.levels_as_set(settings.modes)
    return levels.get("line") or next(iter(levels.values()), None)


def input_level(source: Source, port: Port, settings: Settings) -> Level | None:
    """Return what a socket states for the signal a source brings, its box as it is set, or None."""
    signal = "mic" if source.is_microphone else "hiz" if source.kind == "instrument" else "line"
    return port.levels_as_set(settings.modes).get(signal)  # type: ignore[call-overload,no-any-return]


def peak_dbu(source: Source) -> float | None:
    """Return what a source gives at its loudest, dBu; None where it cannot be said."""
    if source.level_dbu is not None:
        return source.level_dbu
    if source.is_microphone and source.sensitivity_mv_pa is not None and source.loudest_db_spl is not None:
        return microphone_dbu(source.sensitivity_mv_pa, source.loudest_db_spl)
    return None


def into_socket(source: Source, port: Port, settings: Settings) -> Into | None:
    """Return how a source's loudest meets a socket's limit, or None where one of the two is not stated."""
    level, peak = input_level(source, port, settings), peak_dbu(source)
    if level is None or peak is None:
        return None
    padded = port.pad_db is not None and port.key in settings.pads
    return Into(peak, level.max_dbu + (port.pad_db or 0.0) * padded, port.pad_db, padded)


def peak_working(source: Source, into: Into) -> tuple[str, ...]:
    """Return the arithmetic behind a level, line by line."""
    lines = []
    if source.level_dbu is None and source.sensitivity_mv_pa is not None and source.loudest_db_spl is not None:
        pascals = 10 ** ((source.loudest_db_spl - 93.979) / 20)
        lines.append(f"{source.loudest_db_spl:g} dB = {pascals:.2f} Pa (re 20 µPa, ISO 1683)")
        lines.append(
            f"{source.sensitivity_mv_pa:g} mV/Pa × {pascals:.2f} Pa = {source.sensitivity_mv_pa * pascals:.0f} mV ="
            f" {into.peak_dbu:+.1f} dBu (0 dBu = 0.775 V)"
        )
    else:
        lines.append(f"stated peak: {into.peak_dbu:+.1f} dBu")
    pad = f", pad {into.pad_db:g} dB {'on' if into.padded else 'off'}" if into.pad_db is not None else ""
    lines.append(
        f"the input clips at {into.limit_dbu:+.1f} dBu{pad}; headroom {into.limit_dbu - into.peak_dbu:+.1f} dB"
    )
    return tuple(lines)
