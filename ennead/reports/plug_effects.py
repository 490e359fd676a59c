"""What plugs would do before they go in: which normals they break or tap, which lines that costs, which outputs would meet."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ennead.planning.routing.cord_words import cord_change
from ennead.reports.lit_run import paths_through
from ennead.studio.bays import carries
from ennead.studio.house import PortEnd
from ennead.survey.nets import Contact
from ennead.survey.survey import Survey


class Effect(NamedTuple):
    """What a plug would do, in a short sentence, and whether that is trouble."""

    text: str
    harms: bool = False


def plug_effects(survey: Survey, points: Sequence[PortEnd]) -> tuple[Effect, ...]:
    """Return what a cord in some points would do: nothing to say is an empty tuple.

    Parameters
    ----------
    points : sequence of PortEnd
        One where only one plug goes in, else both.
    """
    held = {p for c in survey.cords for p in c.plugs}
    said = [Effect(f"{survey.end_text(p)} holds a cord already") for p in points if p in held]
    if said:
        return tuple(said)
    said = [Effect(text) for point in points for text in _at_point(survey, point, held, set(points))]
    if len(points) == 2:
        said += [Effect(text, harms=True) for text in _meeting(survey, points)]
    return tuple(dict.fromkeys(said))


def _at_point(survey: Survey, point: PortEnd, held: set[PortEnd], new: set[PortEnd]) -> Iterator[str]:
    bay = survey.bays.get(point.unit)
    for normal in bay.normals if bay is not None else ():
        start, end = PortEnd(point.unit, normal.start), PortEnd(point.unit, normal.end)
        if point not in (start, end) or not carries(normal.mode, start=start in held, end=end in held):
            continue
        goes_on = carries(normal.mode, start=start in held | new, end=end in held | new)
        names = [run.signal for run in paths_through(survey, start) if run in paths_through(survey, end)]
        whom = (
            f", on which {', '.join(dict.fromkeys(names))} {'goes' if len(set(names)) == 1 else 'go'}" if names else ""
        )
        if normal.mode == "parallel":
            yield f"joins {survey.end_text(end if point == start else start)} as well{whom}"
        elif goes_on:
            yield f"taps {survey.end_text(start)} → {survey.end_text(end)}{whom}"
        else:
            yield f"breaks {survey.end_text(start)} → {survey.end_text(end)}{whom}"


def _meeting(survey: Survey, points: Sequence[PortEnd]) -> Iterator[str]:
    """Yield the outputs that a cord would join, as far as they are not joined already."""
    # Only with the cord laid it is known what its plugs have broken; nothing but the nets is worked out of it.
    after = Survey(cord_change(survey.studio, points[0], points[1]).apply(survey.studio), survey)
    net, were = after.nets.get((points[0].unit, points[0].port, 1)), survey.nets.values()
    drivers = set(net.drivers) if net is not None else set[Contact]()
    if len(drivers) > 1 and not any(drivers <= set(n.drivers) for n in were):
        yield f"joins outputs: {' and '.join(survey.contact_text(c) for c in sorted(drivers))}"
