"""What an edit does to tracks and to what is heard, before it is done: what is lost, what changes its number."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.widths import side_text
from ennead.survey.output_points import OutputPoint, output_point_at
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class Renumbered:
    """One track that moves to another driver input."""

    track: str
    source: SourceId
    before: int
    after: int


@dataclass(frozen=True, slots=True)
class HeardChannel:
    """One channel of a destination and its driver output before and after; None where nothing comes out, or comes back."""

    destination: DestinationId
    name: str
    before: int | None
    after: int | None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """The difference an edit makes.

    Parameters
    ----------
    lost : tuple of Run
        Input runs that arrived before and do not arrive afterwards, as they stand afterwards.
    found : tuple of Run
        Those that did not arrive before and do afterwards.
    renumbered : tuple of Renumbered
        In the order of their present numbers.
    heard : tuple of HeardChannel
        Every channel of every destination that had an output before or has one afterwards.
    inputs, outputs : pair of int
        Driver channels that carry something before and after.
    """

    before: Survey
    after: Survey
    lost: tuple[SignalPath, ...]
    found: tuple[SignalPath, ...]
    renumbered: tuple[Renumbered, ...]
    heard: tuple[HeardChannel, ...]
    inputs: tuple[int, int]
    outputs: tuple[int, int]

    @property
    def silent(self) -> tuple[HeardChannel, ...]:
        """What was heard before and is not afterwards."""
        return tuple(h for h in self.heard if h.before is not None and h.after is None)

    @property
    def heard_elsewhere(self) -> tuple[HeardChannel, ...]:
        """What comes out by another number afterwards."""
        return tuple(h for h in self.heard if h.before is not None and h.after is not None and h.before != h.after)


def rehearse(before: Survey, after: Survey) -> Rehearsal:
    """Return what changes for the tracks between two surveys of one house."""
    old, new = _by_channel(before), _by_channel(after)
    both = [(old[key], new[key]) for key in old if key in new]
    lost = tuple(now for was, now in both if was.driver is not None and now.driver is None)
    found = tuple(now for was, now in both if was.driver is None and now.driver is not None)
    moved = [
        Renumbered(now.track, was.of.id, was.driver.number, now.driver.number)
        for was, now in both
        if was.of is not None
        and was.driver is not None
        and now.driver is not None
        and was.driver.number != now.driver.number
    ]
    moved.sort(key=lambda m: m.before)
    return Rehearsal(before, after, lost, found, tuple(moved), tuple(_heard(before, after)), *_live(before, after))


def _heard(before: Survey, after: Survey) -> Iterator[HeardChannel]:
    """Yield the channels of the destinations with their driver outputs, and of loops where they came back."""
    destinations = [d for d in before.destinations if d.id in after.studio.destinations]
    if not any(d.outputs or d.returns for d in destinations):
        return
    then, now = output_point_at(before.output_points), output_point_at(after.output_points)
    for destination in destinations:
        for channel, end in enumerate(destination.outputs, start=1):
            side = f" {side_text(destination.channels, channel)}".rstrip()
            lane = destination.outputs[: channel - 1].count(end)
            was, new = _number(then, end, lane), _number(now, end, lane)
            why = "" if new is not None else f"no driver output comes out at {before.studio.end_text(end)} any more"
            if was is not None or new is not None:
                yield HeardChannel(destination.id, destination.name + side, was, new, why)
        for end in destination.returns:
            arrived = before.arrival(end)
            if arrived is not None and (end.unit not in after.profiles or after.arrival(end) is None):
                yield HeardChannel(
                    destination.id,
                    f"{destination.name}, return",
                    arrived.number,
                    None,
                    f"nothing leads from {before.studio.end_text(end)} to the computer any more",
                )


def _number(points: Mapping[PortEnd, tuple[OutputPoint, ...]], end: PortEnd, lane: int) -> int | None:
    held = points.get(end, ())
    return held[lane].number if lane < len(held) else None


def _by_channel(survey: Survey) -> Mapping[tuple[SourceId, int], SignalPath]:
    return {(run.of.id, run.channel): run for run in survey.signal_paths if run.of is not None}


def _live(before: Survey, after: Survey) -> tuple[tuple[int, int], tuple[int, int]]:
    def count(survey: Survey) -> tuple[int, int]:
        numbering = survey.numbering
        return sum(d.channel.live for d in numbering.inputs), sum(d.channel.live for d in numbering.outputs)

    (ins, outs), (ins_after, outs_after) = count(before), count(after)
    return (ins, ins_after), (outs, outs_after)
