"""The cable schedule: every cable of the plan with its ends, type, length and state."""

from typing import Any, cast

from ennead.standards.links import Adapter
from ennead.standards.signals import CABLE_LABELS
from ennead.studio.document import Studio
from ennead.studio.house import Cable, DestinationEnd, PortEnd
from ennead.survey.survey import Survey


def cable_rows(survey: Survey) -> list[dict[str, Any]]:
    """Return one row a cable, in the order in which they were planned; lengths in metres."""
    return [
        {
            "cable": cable.id,
            "from": survey.studio.ends_text(cable)[0],
            "to": survey.studio.ends_text(cable)[1],
            "type": cable_type(survey.studio, cable),
            "length_m": cable.length_m,
            "adapters": ", ".join(a.label for a in _adapters(survey, cable)),
            "state": cable_state(survey.studio, cable),
        }
        for cable in survey.in_use.values()
    ]


def _adapters(survey: Survey, cable: Cable) -> tuple[Adapter, ...]:
    """Return the parts a cable needs between its sockets; they belong on the list of what to fetch."""
    link = survey.links.get(cable.id)
    return link.adapters if link is not None else ()


def cable_type(studio: Studio, cable: Cable) -> str:
    """Return what to take from the drawer."""
    if isinstance(cable.start, PortEnd):
        if isinstance(cable.end, DestinationEnd) and "headphone" in studio.port(cable.start).carries:
            return "stereo jack"
        return CABLE_LABELS[studio.port(cable.start).connector]
    into = studio.port(cast(PortEnd, cable.end))
    if isinstance(cable.start, DestinationEnd):
        return CABLE_LABELS[into.connector]
    source = studio.source(cable.start.source)
    if into.is_digital:
        return CABLE_LABELS[into.connector]
    if source.is_microphone:
        return CABLE_LABELS["xlr"]
    return CABLE_LABELS["ts" if source.kind == "instrument" else "xlr" if into.connector == "xlr" else "trs"]


def cable_state(studio: Studio, cable: Cable) -> str:
    """Return *as built* when it was last ticked as planned now, *changed* when it stood otherwise, else *planned*."""
    stood = studio.stood.get(cable.id)
    if stood is None:
        return "planned"
    return "as built" if (stood.cable.plugs, stood.cable.wires) == (cable.plugs, cable.wires) else "changed"


def run_is_built(studio: Studio, cables: list[Cable]) -> bool:
    """Say whether every cable of a run stands as planned."""
    return bool(cables) and all(cable_state(studio, c) == "as built" for c in cables)
