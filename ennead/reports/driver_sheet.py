"""The driver sheet: every number of the computer, what the driver calls it, and which track arrives there."""

from typing import Any

from ennead.studio.document import channel_text
from ennead.survey.numbering import DriverChannel
from ennead.survey.survey import Survey


def driver_rows(survey: Survey) -> dict[str, list[dict[str, Any]]]:
    """Return the rows of inputs and of outputs, each with number, unit, port, lane, label and track.

    Of an output, the destination that hears it; a loop is named at its send and at its return. Of a socket with a noted gain also
    that, and of an output that is not on, how it stands.
    """
    tracks = {(r.driver.unit, r.driver.channel.index): r.track for r in survey.runs if r.driver is not None}
    heard = {
        (r.driver.unit, r.driver.channel.index): survey.destination_by_id[r.to].name
        for r in survey.output_runs
        if r.driver and r.to
    }
    for loop in survey.destinations:
        for channel, end in enumerate(loop.returns, start=1):
            back = survey.arrival(end)
            if back is not None:
                side = f" {channel_text(channel)}" if loop.channels > 1 else ""
                tracks.setdefault((back.unit, back.channel.index), f"{loop.name}{side}, return")
    return {
        "inputs": [_row(survey, d, tracks.get((d.unit, d.channel.index))) for d in survey.numbering.inputs],
        "outputs": [_row(survey, d, heard.get((d.unit, d.channel.index))) for d in survey.numbering.outputs],
    }


def _row(survey: Survey, driver: DriverChannel, track: str | None) -> dict[str, Any]:
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
    if channel.port in settings.gains:
        row["gain_db"] = settings.gains[channel.port]
    if channel.port in settings.outputs:
        row["output"] = settings.outputs[channel.port]
    return row
