"""From a studio to its seating problem: what may sit where by the hard rules, and what each place is like."""

from collections.abc import Iterable, Iterator
from typing import Final

from ennead.planning.seating.corded import within_reach
from ennead.planning.seating.corded_outs import outs_within_reach
from ennead.planning.seating.demands import demands_of
from ennead.planning.seating.problem import Problem, Slot
from ennead.planning.seating.problem_builder import ProblemBuilder, gather_inputs, gather_outputs, neighbours
from ennead.planning.seating.studio_problem import DemandOwner, Posed, numbers_of
from ennead.planning.seating.switching import fed_by_phantom, wishes
from ennead.planning.seating.wide_loops import wide_blocks
from ennead.planning.seating.wired import made_up_ends
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId
from ennead.studio.session import AIM_LABELS
from ennead.survey.survey import Survey

#: Hard rules that can be looked away from, to see which of them bind.
RULES: Final = (
    "48 V needed",
    "48 V forbidden",
    "pairs",
    "kinds of input",
    "wishes",
    "pins",
    "faults",
    "returns",
    "same numbers",
)


def pose(
    survey: Survey,
    *,
    without: Iterable[PortEnd] = (),
    aims: tuple[str, ...] = (),
    relaxed: frozenset[str] = frozenset(),
    loose: DestinationId | None = None,
) -> Posed:
    """Return the seating problem of the current session.

    Parameters
    ----------
    without : iterable of PortEnd
        Sockets to do without.
    aims : tuple of str
        The order of the aims; empty for the session's own.
    relaxed : set of str
        Hard rules, of `RULES`, to look away from.
    loose : DestinationId, optional
        A loop that is placed like any other although it could stand in the house.
    """
    survey, cords = within_reach(survey)
    session = survey.studio.current
    same = session.loop_numbers == "always" and "same numbers" not in relaxed
    survey, out_cords = outs_within_reach(survey, same=same)
    ground = ProblemBuilder(survey, relaxed, cords, out_cords)
    if loose is not None:
        ground.standing.pop(loose, None)
        ground.loose = loose
    shut = {*without, *made_up_ends(survey), *(_held_apart(survey) if "pins" not in relaxed else ())}
    shut |= {end for ways in ground.standing.values() for ends in ways for end in ends}
    blocks = wide_blocks(survey, ground.standing, shut)
    ground.standing |= blocks.found
    shut |= blocks.sockets
    gather_inputs(ground, shut)
    gather_outputs(ground, shut)
    pairs = neighbours(ground)
    slots = tuple(
        Slot(tuple(faces), numbers_of(held[0])[0]) for faces, held in zip(ground.faces, ground.sockets, strict=True)
    )
    banks = tuple(bank in survey.phantom_on[unit] for unit, bank in ground.banks)
    found = demands_of(ground)
    demands, asked, apart = tuple(found.demands), tuple(found.asked), tuple(found.apart)
    held = _held_switches(ground, apart)
    # A switch that has to be turned in every assignment costs nothing.
    banks = tuple(held.get(number, on) for number, on in enumerate(banks))
    problem = Problem(
        tuple(ground.trait_list),
        slots,
        pairs,
        banks,
        demands,
        found.fits,
        dict(session.spare),
        aims or session.aims or tuple(AIM_LABELS),
        same,
        held,
        session.loop_numbers != "free",
    )
    return Posed(survey, problem, asked, ground.sockets, apart, ground.standing, cords, out_cords, blocks.missing)


def _held_apart(survey: Survey) -> Iterator[PortEnd]:
    """Yield the sockets reserved by pinned sources that do not arrive on every channel."""
    for source in survey.studio.session_sources:
        if source.pinned:
            ends = [c.end for key, c in survey.leads.items() if key[0] == source.id]
            points = [survey.input_point_at.get((e.unit, e.port)) for e in ends]
            wanted = 1 if source.kind == "digital" else source.channels
            if len(ends) < wanted or any(point is None or point.fault for point in points):
                yield from ends


def _held_switches(ground: ProblemBuilder, apart: tuple[DemandOwner, ...]) -> dict[int, bool]:
    """Return the 48 V switch positions required outside the demands: by boxes that run on it, and by sources that stay where they are.

    A switch that cannot suit them all stays as it is, and so does one that cannot suit all sources pinned behind it.
    """
    survey, studio = ground.survey, ground.survey.studio
    asked: dict[tuple[UnitId, str], set[int]] = {bank: {1} for bank in fed_by_phantom(survey)}
    silent = {who.key for who in apart if who.leg == "source"}
    pinned: dict[tuple[UnitId, str], set[int]] = {}
    for source in studio.session_sources:
        if not source.pinned and source.id not in silent:
            continue
        ends = [c.end for key, c in survey.leads.items() if key[0] == source.id]
        for bank, wish in wishes(survey, source, ends):
            if source.pinned:
                pinned.setdefault(bank, set()).add(wish)
            if source.id in silent:
                asked.setdefault(bank, set()).add(wish)
    held: dict[int, bool] = {}
    for switch, number in ground.banks.items():
        wanted = asked.get(switch, set()), pinned.get(switch, set())
        if len(wanted[0] | wanted[1]) == 2:
            held[number] = switch[1] in studio.settings_of(switch[0]).phantom
        elif wanted[0]:
            held[number] = 1 in wanted[0]
    return held
