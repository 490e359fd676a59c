"""What the margin says about a destination and its way."""

from collections.abc import Callable
from datetime import datetime

from ennead.desk.margin.about_level import samples_of
from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.change import Change, change
from ennead.edits.delays import set_loop_delay
from ennead.edits.destinations import change_destination, send_out, set_width
from ennead.reports.out_rows import way_of
from ennead.standards.rates import rate_text
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId
from ennead.studio.session import DESTINATION_KINDS, DESTINATION_LABELS, PlacedDestination
from ennead.studio.widths import width_text, width_typed
from ennead.survey.loop_delay import nearest, stale_since
from ennead.survey.numbering import number_working
from ennead.survey.output_points import output_point_at
from ennead.survey.survey import Survey


def about_destination(survey: Survey, key: DestinationId) -> Notes:
    """Return the notes about a destination."""
    studio = survey.studio
    destination = survey.placed(key)

    def said(**facts: object) -> Change:
        return change(f"Change {destination.name}", change_destination, key, **facts)

    way = way_of(survey, destination)
    facts = [
        Fact("Name", destination.name, edit=lambda t: said(name=t)),
        Fact(
            "Kind",
            destination.kind,
            tuple((k, DESTINATION_LABELS[k]) for k in DESTINATION_KINDS),
            lambda k: said(kind=k),
        ),
        _width(destination, said),
        Fact("Place", studio.places[destination.place].name if destination.place else "", edit=lambda t: said(place=t)),
        Fact("Outputs", way.sockets or "none yet"),
    ]
    if destination.kind == "loop":
        facts.append(Fact("Comes back by", way.returns or "nothing yet"))
        if destination.outputs and destination.returns:
            facts += _measured_facts(survey, destination)
    facts.append(Fact("Stays put", "", edit=lambda on: said(pinned=on == "1"), ticked=destination.pinned))
    facts.append(Fact("May tap another's output", "", edit=lambda on: said(tap=on == "1"), ticked=destination.tap))
    deeds: tuple[Deed, ...] = ()
    if destination.outputs:
        off = f"Take {destination.name} off its outputs"
        deeds = (
            Deed("Why is it here?", wish="why_here"),
            Deed("Take it off its outputs", change(off, send_out, key, ())),
        )
    below = f"{width_text(destination)} {DESTINATION_LABELS[destination.kind]}"
    working = destination_working(survey, destination)
    if destination.kind != "loop":
        return Notes(destination.name, below, tuple(facts), deeds, working)
    from ennead.desk.margin.about_loop import loop_facts
    from ennead.desk.margin.about_recall import loop_recall

    working += loop_working(survey, key)
    stood, again = loop_recall(studio, key)
    more = (*loop_facts(survey, destination), *stood)
    return Notes(destination.name, below, tuple(facts), (*deeds, *again), working, more, "Use and level")


def _width(destination: PlacedDestination, said: Callable[..., Change]) -> Fact:
    """Return the width: chosen, of a loop also typed, for it may come back with more or fewer channels than it goes out with."""
    if destination.kind != "loop":
        shown = (("1", "mono"), ("2", "stereo pair"))
        return Fact("Width", str(destination.channels), shown, lambda c: said(channels=int(c)))

    text = f"Change {destination.name}"
    return Fact("Width", width_typed(destination), edit=lambda t: change(text, set_width, destination.id, t))


def loop_working(survey: Survey, key: DestinationId) -> tuple[str, ...]:
    """Return the arithmetic behind a loop's delay and levels."""
    from ennead.reports.loop_rows import figures_of, level_working, time_working
    from ennead.survey.circuits import circuits

    circuit = next((c for c in survey.once(circuits) if c.loop.id == key), None)
    if circuit is None:
        return ()
    figures = figures_of(survey, circuit)
    return (time_working(survey, figures.time) if figures.time is not None else ()) + level_working(survey, figures)


def _measured_facts(survey: Survey, loop: PlacedDestination) -> list[Fact]:
    """Return how late a loop was measured to be, and whether that still holds."""
    last = nearest(survey, loop)
    stale = stale_since(survey, loop, last) if last is not None else ""
    text = f"Note the delay of {loop.name}"

    def noted(typed: str) -> Change:
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        several = [samples_of(part, f"the delay of {loop.name}") for part in typed.split("/")]
        known = [s for s in several if s is not None]
        if len(several) == 1:
            return change(text, set_loop_delay, loop.id, several[0], now)
        if len(known) != max(loop.channels, loop.backs):
            raise BadValue(
                f"the delay of {loop.name}", typed, "Type one figure, or one a channel, such as 41.2 / 41.3."
            )
        return change(text, set_loop_delay, loop.id, sum(known) / len(known), now, by_channel=known)

    shown = "" if last is None else " / ".join([f"{d:g}" for d in last.by_channel or (last.samples,)])
    facts = [Fact("Delay, samples", shown, edit=noted)]
    if last is not None:
        when = last.at[:10] or rate_text(last.rate_hz)
        facts.append(Fact("Measured", f"{when}; stale, {_STALE[stale]}" if stale else when))
    return facts


_STALE = {"rate": "another rate", "buffer": "another buffer", "clock": "another clock", "wiring": "wired otherwise"}


def destination_working(survey: Survey, destination: PlacedDestination) -> tuple[str, ...]:
    """Return the arithmetic behind each driver output of a destination."""
    lines: list[str] = []
    at = output_point_at(survey.output_points)
    for i, end in enumerate(destination.outputs):
        lanes, lane = at.get(end, ()), destination.outputs[:i].count(end)
        if lane >= len(lanes):
            continue
        point = lanes[lane]
        channel = point.driver.channel
        first = point.driver.before + channel.block_first
        last = point.driver.before + channel.block_last
        lines.append(
            f"{channel.block.label} of {survey.studio.units[point.driver.unit].name} at {rate_text(survey.rate_hz)}:"
            f" {first}–{last}"
        )
        lines.append(f"channel {channel.index - channel.block_first + 1} of that block: {point.number}")
        if point.delay is not None:
            lines.append(f"delay out: {point.delay:g} samples = {point.delay / survey.rate_hz * 1000:.3f} ms (stated)")
    for end in destination.returns:
        driver = survey.arrival(end)
        if driver is not None:
            lines += number_working(driver, survey.views[driver.unit], survey.studio.units, rate_text(survey.rate_hz))
    return tuple(lines)
