"""Digital links as rows: capacity at the rate, what is used of it, and the cable with its adapters."""

from collections import Counter
from typing import Any

from ennead.reports.cable_schedule import cable_type
from ennead.reports.lane_rows import lanes_in_use
from ennead.survey.survey import Survey


def link_rows(survey: Survey) -> list[dict[str, Any]]:
    """Return one row a digital link, in the order in which they were planned; lengths in metres."""
    used = Counter(cable for cable, _ in lanes_in_use(survey))
    studio = survey.studio
    return [
        {
            "id": link.cable,
            "kind": link.sends,
            "from": studio.end_text(link.start),
            "to": studio.end_text(link.end),
            "channels_capacity": link.lanes,
            "channels_used": used[link.cable],
            "cable": cable_type(studio, link.of),
            "length_m": link.of.length_m,
        }
        for link in survey.links.values()
        if link.digital
    ]
