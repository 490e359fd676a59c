"""Cables as the signals see them: which ends agree, and how many lanes cross."""

from collections.abc import Mapping
from dataclasses import dataclass

from ennead.standards.links import LINKS
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import CableId, UnitId
from ennead.survey.unit_view import UnitView


@dataclass(frozen=True, slots=True)
class Link:
    """A cable between two ports.

    Parameters
    ----------
    sends, takes : str
        What the output sends and the input is set to take.
    lanes : int
        Audio channels that cross at the rate; zero where the two ends disagree.
    """

    cable: CableId
    start: PortEnd
    end: PortEnd
    sends: str
    takes: str
    lanes: int
    lanes_out: int
    lanes_in: int
    digital: bool

    @property
    def agrees(self) -> bool:
        """Whether both ends speak the same format."""
        return self.sends == self.takes or not self.digital

    @property
    def label(self) -> str:
        """The sending end's format in words; for digital links only."""
        return LINKS[self.sends].label


def link_cables(cables: Mapping[CableId, Cable], views: Mapping[UnitId, UnitView]) -> dict[CableId, Link]:
    """Return the link of every cable that runs from port to port."""
    links: dict[CableId, Link] = {}
    for cable in cables.values():
        if not isinstance(cable.start, PortEnd):
            continue
        out_view, in_view = views[cable.start.unit], views[cable.end.unit]
        sends = out_view.formats[cable.start.port]
        takes = in_view.formats[cable.end.port]
        lanes_out, lanes_in = out_view.lanes[cable.start.port], in_view.lanes[cable.end.port]
        digital = out_view.profile.port_by_key[cable.start.port].is_digital
        lanes = min(lanes_out, lanes_in) if sends == takes or not digital else 0
        links[cable.id] = Link(cable.id, cable.start, cable.end, sends, takes, lanes, lanes_out, lanes_in, digital)
    return links


def links_by_start(links: Mapping[CableId, Link]) -> dict[PortEnd, tuple[Link, ...]]:
    """Return the links that leave each output."""
    found: dict[PortEnd, tuple[Link, ...]] = {}
    for link in links.values():
        found[link.start] = (*found.get(link.start, ()), link)
    return found
