"""What the margin says about a destination and its way."""

from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.change import Change, change
from ennead.edits.destinations import change_destination, send_out
from ennead.reports.out_rows import way_of
from ennead.standards.rates import rate_text
from ennead.studio.ids import DestinationId
from ennead.studio.session import GOING_LABELS, GOINGS, Destination
from ennead.survey.numbering import number_working
from ennead.survey.out_seats import out_seat_at
from ennead.survey.survey import Survey


def about_destination(survey: Survey, key: DestinationId) -> Notes:
    """Return the notes about a destination."""
    studio = survey.studio
    going = studio.destinations[key]

    def said(**facts: object) -> Change:
        return change(f"Change {going.name}", change_destination, key, **facts)

    way = way_of(survey, going)
    facts = [
        Fact("Name", going.name, edit=lambda t: said(name=t)),
        Fact("Kind", going.kind, tuple((k, GOING_LABELS[k]) for k in GOINGS), lambda k: said(kind=k)),
        Fact("Width", str(going.channels), (("1", "mono"), ("2", "stereo pair")), lambda c: said(channels=int(c))),
        Fact("Place", studio.places[going.place].name if going.place else "", edit=lambda t: said(place=t)),
        Fact("Outputs", way.sockets or "none yet"),
    ]
    if going.kind == "loop":
        facts.append(Fact("Comes back by", way.returns or "nothing yet"))
    facts.append(Fact("Stays put", "", edit=lambda on: said(pinned=on == "1"), ticked=going.pinned))
    facts.append(Fact("May tap another's output", "", edit=lambda on: said(tap=on == "1"), ticked=going.tap))
    deeds: tuple[Deed, ...] = ()
    if going.outputs:
        off = f"Take {going.name} off its outputs"
        deeds = Deed("Why is it here?", wish="why_here"), Deed("Take it off its outputs", change(off, send_out, key, ()))
    below = f"{'stereo' if going.channels == 2 else 'mono'} {GOING_LABELS[going.kind]}"
    return Notes(going.name, below, tuple(facts), deeds, going_working(survey, going))


def going_working(survey: Survey, going: Destination) -> tuple[str, ...]:
    """Return the arithmetic behind each driver output of a destination."""
    lines: list[str] = []
    at = out_seat_at(survey.out_seats)
    for i, end in enumerate(going.outputs):
        lanes, lane = at.get(end, ()), going.outputs[:i].count(end)
        if lane >= len(lanes):
            continue
        seat = lanes[lane]
        channel = seat.driver.channel
        first = seat.driver.before + channel.block_first
        last = seat.driver.before + channel.block_last
        lines.append(f"{channel.block.label} of {survey.studio.units[seat.driver.unit].name} at {rate_text(survey.rate_hz)}: {first}–{last}")
        lines.append(f"channel {channel.index - channel.block_first + 1} of that block: {seat.number}")
        if seat.delay is not None:
            lines.append(f"delay out: {seat.delay:g} samples = {seat.delay / survey.rate_hz * 1000:.3f} ms (stated)")
    for end in going.returns:
        back = survey.seat_at.get((end.unit, end.port))
        if back is not None:
            driver = back.drivers[0]
            lines += number_working(driver, survey.views[driver.unit], survey.studio.units, rate_text(survey.rate_hz))
    return tuple(lines)
