"""The driver sheet: every number of the computer, what the driver calls it, and which track arrives there."""

from typing import Any

from ennead.survey.numbering import DriverChannel
from ennead.survey.survey import Survey


def driver_rows(survey: Survey) -> dict[str, list[dict[str, Any]]]:
    """Return the rows of inputs and of outputs, each with number, unit, port, lane, label and track: of an output, who hears it."""
    tracks = {(r.driver.unit, r.driver.channel.index): r.track for r in survey.runs if r.driver is not None}
    heard = {
        (r.driver.unit, r.driver.channel.index): survey.destination_by_id[r.to].name
        for r in survey.output_runs
        if r.driver and r.to
    }
    return {
        "inputs": [_row(survey, d, tracks.get((d.unit, d.channel.index))) for d in survey.numbering.inputs],
        "outputs": [_row(survey, d, heard.get((d.unit, d.channel.index))) for d in survey.numbering.outputs],
    }


def _row(survey: Survey, driver: DriverChannel, track: str | None) -> dict[str, Any]:
    channel = driver.channel
    port = survey.views[driver.unit].profile.port_by_key.get(channel.port)
    return {
        "number": driver.number,
        "unit": survey.studio.units[driver.unit].name,
        "port": port.label if port else None,
        "lane": channel.lane if channel.port else None,
        "label": channel.label if channel.live else f"{channel.label} (dead at this rate)",
        "track": track,
    }
