"""An allocation as plain rows, for scripts and dialogs."""

from collections.abc import Sequence
from typing import Any

from ennead.planning.growing.remedies import Remedy, by_way
from ennead.planning.seating.allocation import Proposal, cables_of
from ennead.planning.seating.corded import laid
from ennead.planning.seating.problem import About, LeftOut
from ennead.studio.ids import LETTERS, DestinationId, SourceId
from ennead.studio.session import AIM_LABELS
from ennead.survey.survey import Survey


def placed_rows(survey: Survey, proposal: Proposal) -> list[dict[str, Any]]:
    """Return every channel of every source that has a place with the proposal carried out."""
    survey = laid(survey, [c for cords in proposal.cords.values() for c in cords])
    studio = survey.studio
    proposed = {p.source: p for p in proposal.placements}
    # What stands wired, or stays where it is, arrives where its line does.
    stays = {(run.source, run.channel): run.driver.number for run in survey.signal_paths if run.driver is not None}
    rows: list[dict[str, Any]] = []
    for source in studio.session_sources:
        if source.id in proposal.unplaced:
            continue
        new = proposed.get(source.id)
        ends = [s.end for s in new.points] if new is not None else [c.end for c in cables_of(survey, source)]
        points = [survey.input_point_at.get((e.unit, e.port)) for e in ends]
        numbers = [d.number for s in points if s is not None for d in s.drivers]
        for channel in range(1, source.channels + 1):
            if not ends:
                continue
            end = ends[min(channel, len(ends)) - 1]
            number = numbers[channel - 1] if channel <= len(numbers) else None
            if number is None and new is None:
                number = stays.get((source.id, channel))
            rows.append(
                {
                    "source": source.name,
                    "channel": channel,
                    "port": studio.end_text(end),
                    "driver_number": number,
                    "moves": new is not None,
                }
            )
    return rows


def cord_rows(survey: Survey, proposal: Proposal) -> list[dict[str, str]]:
    """Return every cord that is to be laid."""
    text = survey.studio.end_text
    return [
        {_role_of(key): _name_of(survey, key), "from": text(cord.start), "to": text(cord.end)}
        for key, cords in proposal.cords.items()
        for cord in cords
    ]


def _role_of(key: SourceId | DestinationId) -> str:
    return "destination" if key[:1] == LETTERS["destinations"] else "source"


def _name_of(survey: Survey, key: SourceId | DestinationId) -> str:
    destination = survey.studio.destinations.get(DestinationId(key))
    return destination.name if destination is not None else survey.studio.source(SourceId(key)).name


def out_rows(survey: Survey, proposal: Proposal) -> list[dict[str, Any]]:
    """Return every destination that has an output with the proposal carried out."""
    studio = survey.studio
    numbers = {(s.unit, s.port.key, s.lane): s.number for s in survey.output_points}
    rows: list[dict[str, Any]] = []
    for destination in survey.destinations:
        new = proposal.out_of(destination.id)
        outputs, returns = (new.outputs, new.returns) if new is not None else (destination.outputs, destination.returns)
        if not outputs:
            continue
        lanes = [outputs[:i].count(end) + 1 for i, end in enumerate(outputs)]
        rows.append(
            {
                "destination": destination.name,
                "kind": destination.kind,
                "ports": [studio.end_text(e) for e in outputs],
                "driver_numbers": [numbers.get((e.unit, e.port, lane)) for e, lane in zip(outputs, lanes, strict=True)],
                "returns": [studio.end_text(e) for e in returns],
                "moves": new is not None,
            }
        )
    return rows


def switch_rows(survey: Survey, proposal: Proposal) -> list[dict[str, Any]]:
    """Return the 48 V switches that are set anew with the proposal carried out."""
    rows = []
    for unit, key, on in proposal.switches:
        bank = next(b for b in survey.profiles[unit].banks if b.key == key)
        rows.append({"unit": survey.studio.units[unit].name, "bank": bank.label, "on": on})
    return rows


def aim_rows(proposal: Proposal) -> list[dict[str, Any]]:
    """Return the stages in their order, each with its value and what nothing can be below."""
    return [{"aim": aim_text(s.name), "value": float(s.value), "bound": float(s.bound)} for s in proposal.stages]


def aim_text(about: About) -> str:
    """Return a stage in words."""
    if isinstance(about, LeftOut):
        return {2: "sources that must be in left out", 0: "sources that may wait left out"}.get(
            about.level, "sources and destinations left out"
        )
    return AIM_LABELS[about]


def remedy_rows(remedies: Sequence[Remedy]) -> list[dict[str, Any]]:
    """Return the ways out, the best first, each with its price in parts; one that takes another box as well has all of them under ``boxes``."""
    return [
        {
            "remedy": best.label,
            "left_out": best.left,
            "moves": best.moves,
            "parts": list(best.parts),
            "price": best.price,
            "without_price": list(best.unpriced),
        }
        | (
            {
                "way": best.way,
                "boxes": [
                    {"box": r.box, "parts": list(r.parts), "price": r.price, "without_price": list(r.unpriced)}
                    for r in (best, *others)
                ],
            }
            if others
            else {}
        )
        for best, *others in by_way(remedies)
    ]


def price_text(remedy: Remedy) -> str:
    """Return what a remedy costs, as far as prices were entered."""
    if not remedy.buys:
        return "nothing to buy"
    if remedy.price is None:
        return "no price entered"
    return f"price {remedy.price:g}" + (" and what has none entered" if remedy.unpriced else "")
