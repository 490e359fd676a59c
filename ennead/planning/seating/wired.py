"""What stands wired in the house, so that no search moves it: loops out of a box and back, sources that are outputs."""

from collections.abc import Iterator

from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId
from ennead.studio.session import Source
from ennead.survey.survey import Survey

#: Outputs and returns, channel by channel.
Ways = tuple[tuple[PortEnd, ...], tuple[PortEnd, ...]]


def standing_loops(studio: Studio) -> dict[DestinationId, Ways]:
    """Return the evening's loops that stand wired in the house: nobody moves them.

    A loop that has no place yet is one of them where a box with its channels is wired and waits.
    """
    sent, destinations = studio.sent, studio.session_destinations
    loops = [d for d in destinations if d.kind == "loop" and not d.tap]
    found = {d.id: (d.outputs, d.returns) for d in loops if sent.stands_wired(d) and d.outputs and d.returns}
    claimed = {end for d in destinations for end in (*d.at, *d.outputs, *d.returns)}
    free = [
        [
            way
            for way in zip(w.outputs, w.returns, strict=True)
            if claimed.isdisjoint(way) and "line" in studio.port(way[0]).carries
        ]
        for w in sent.wired_loops()
    ]
    for loop in loops:
        if not loop.outputs and not loop.returns and not loop.at:
            # A box with just these channels before one of which some would be left.
            fitting = min((ways for ways in free if len(ways) >= loop.channels), key=len, default=None)
            if fitting is not None:
                outputs, returns = zip(*fitting[: loop.channels], strict=True)
                del fitting[: loop.channels]
                found[loop.id] = outputs, returns
    return found


def wired_back(studio: Studio) -> frozenset[PortEnd]:
    """Return the outputs behind which a box stands that is wired back: where a loop goes out by one, it comes back by that box."""
    return frozenset(end for wired in studio.sent.wired_loops() for end in wired.outputs)


def stands_wired(survey: Survey, source: Source) -> bool:
    """Say whether a source comes in by a cable of the house, or by a lead made up for it, which nobody moves."""
    channels = [(source.id, c) for c in range(1, source.channels + 1)]
    held = [lead for at in channels for lead in (survey.leads.get(at), *survey.further_leads.get(at, ()))]
    cables = [survey.in_use[lead.id] for lead in held if lead is not None]
    return any(not c.is_plain or (source.at and not c.sessions) for c in cables)


def made_up_ends(survey: Survey) -> Iterator[PortEnd]:
    """Yield the sockets of leads made up for a source: no other may have them."""
    for several in (((lead,) for lead in survey.leads.values()), survey.further_leads.values()):
        for leads in several:
            yield from [lead.end for lead in leads if not survey.in_use[lead.id].is_plain]
