"""The driver sheet: every number of the computer, what the driver calls it, and which track arrives there."""

from typing import Any

from ennead.studio.mixes import lane_label, lane_name
from ennead.studio.widths import side_text
from ennead.survey.numbering import DriverChannel
from ennead.survey.survey import Survey


def driver_rows(survey: Survey) -> dict[str, list[dict[str, Any]]]:
    """Return the rows of inputs and of outputs, each with number, unit, port, lane, label and track.

    Of an output, the destination that hears it; a loop is named at its send and at its return. Of a socket with a noted gain also
    that, and of an output that is not on, how it stands.
    """
    tracks = {(r.driver.unit, r.driver.channel.index): r.track for r in survey.signal_paths if r.driver is not None}
    heard = {
        (r.driver.unit, r.driver.channel.index): survey.destination_by_id[r.to].name
        for r in survey.output_paths
        if r.driver and r.to
    }
    for loop in survey.destinations:
        for channel, end in enumerate(loop.returns, start=1):
            back = survey.arrival(end)
            if back is not None:
                side = f" {side_text(loop.backs, channel)}".rstrip()
                tracks.setdefault((back.unit, back.channel.index), f"{loop.name}{side}, return")
    return {
        "inputs": [_in_row(survey, d, tracks.get((d.unit, d.channel.index))) for d in survey.numbering.inputs],
        "outputs": [_out_row(survey, d, heard.get((d.unit, d.channel.index))) for d in survey.numbering.outputs],
    }


def _row(survey: Survey, driver: DriverChannel, track: str | None, *, outward: bool = False) -> dict[str, Any]:
    channel = driver.channel
    port = survey.views[driver.unit].profile.port_by_key.get(channel.port)
    settings = survey.settings[driver.unit]
    row = {
        "number": driver.number,
        "unit": survey.studio.units[driver.unit].name,
        "port": port.label if port else None,
        "lane": channel.lane if channel.port else None,
        "label": channel.label if channel.live else f"{channel.label} (dead at this rate)",
        "track": track,
    }
    if (name := _on_computer(survey, driver, outward=outward)) is not None:
        row["on_computer"] = name
    if channel.port in settings.gains:
        row["gain_db"] = settings.gains[channel.port]
    if channel.port in settings.outputs:
        row["output"] = settings.outputs[channel.port]
    return row


def _on_computer(survey: Survey, driver: DriverChannel, *, outward: bool) -> str | None:
    """Return what the computer calls a number, as last read from it at this rate."""
    computer = survey.numbering.computer_of.get(driver.unit)
    if computer is None:
        return None
    read = survey.computers[computer].names_at(survey.rate_hz)
    names = read.outputs if outward else read.inputs
    return names[driver.number - 1] or None if driver.number <= len(names) else None


def _out_row(survey: Survey, driver: DriverChannel, track: str | None) -> dict[str, Any]:
    """Return the row of a driver output, with where else it comes out as its box is set: by itself, and by mixes at their levels."""
    row, view = _row(survey, driver, track, outward=True), survey.views[driver.unit]
    channel, ports = driver.channel, view.profile.port_by_key
    fed = survey.settings[driver.unit].feeds
    played = [p for p in view.played if p.channel == channel.index] if fed else []
    others = [p for p in played if p.mix or p.at != (channel.port, channel.lane)]
    if others:
        row["also"] = [
            {"port": ports[p.at[0]].label, "lane": p.at[1]}
            | ({"mix": lane_label(view.profile, p.mix), "level_db": p.gain_db} if p.mix else {})
            for p in others
        ]
    return row


def _in_row(survey: Survey, driver: DriverChannel, track: str | None) -> dict[str, Any]:
    """Return the row of a driver input, with the mixes of its box that hold it."""
    row, profile = _row(survey, driver, track), survey.views[driver.unit].profile
    name = lane_name(driver.channel.port, driver.channel.lane)
    mixes = survey.settings[driver.unit].mixes.items() if driver.channel.port else ()
    if held := {lane_label(profile, mix): levels[name] for mix, levels in mixes if name in levels}:
        row["mixes_db"] = held
    return row
