"""Rule: the main outputs stay with the monitors, listed or not, unless the session says that these are not used."""

from collections.abc import Iterable

from ennead.studio.session import PlacedDestination, Session
from ennead.survey.output_points import OutputPoint
from ennead.survey.survey_interface import Parts
from ennead.survey.wiring import SessionFacts


def kept_ahead(survey: Parts) -> frozenset[int]:
    """Return the driver outputs that a new loop leaves to the loudspeakers, be they listed without outputs or not listed at all."""
    placed = [d for d in survey.destinations if d.kind != "mains" or d.outputs]
    return kept_for_mains(survey.session_facts, placed, survey.output_points)


def kept_for_mains(
    session: Session | SessionFacts, destinations: Iterable[PlacedDestination], points: Iterable[OutputPoint]
) -> frozenset[int]:
    """Return the driver outputs that are kept for loudspeakers although the session lists none.

    They are the first pair that is wired to loudspeakers, else outputs 1–2 where they are bare and there are more than
    two. An output that one of the session's destinations has already was given by hand and is not kept.
    """
    listed = tuple(destinations)
    if session.mains_silent or any(d.kind == "mains" for d in listed):
        return frozenset()
    lines = [s for s in points if "line" in s.port.carries]
    wired = sorted({s.number for s in lines if s.feeds == "loudspeakers"})
    if wired:
        pair = {wired[0], wired[0] + 1} & set(wired)
    elif len({s.number for s in lines}) > 2:
        pair = {s.number for s in lines if s.number in (1, 2) and s.feeds in ("", "point")}
    else:
        pair = set()
    given = {end for d in listed for end in d.outputs}
    return frozenset() if any(s.end in given for s in lines if s.number in pair) else frozenset(pair)
