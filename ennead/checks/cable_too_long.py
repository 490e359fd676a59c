"""A digital cable longer than its medium carries cleanly."""

from collections.abc import Iterator
from typing import Final

from ennead.checks.finding import Finding, Fix
from ennead.edits.cables import set_length
from ennead.edits.change import change
from ennead.standards.links import LINKS, LONGEST_GOOD_FIBRE_M, LONGEST_MADI_M, LONGEST_PLASTIC_FIBRE_M, family
from ennead.studio.ids import CableId
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts

_SHORTEST_M: Final = min(LONGEST_PLASTIC_FIBRE_M, *(link.longest_m for link in LINKS.values()))


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every digital cable beyond the longest sensible length."""
    for cable, length in survey.once(_long):
        link = survey.links.get(cable)
        if link is None or not link.digital:
            continue
        fibre = survey.port(link.start).connector in ("toslink", "mini-toslink")
        longest = _longest(link, fibre=fibre)
        if length <= longest:
            continue
        text = f"Plan {longest:g} m for {link.cable}"
        yield Finding(
            "cable_too_long",
            "caution",
            subject_of(link.cable),
            (link.cable, link.start.unit, link.end.unit),
            f"{link.cable} is {length:g} m; {link.label} over"
            f" {'good fibre' if link.of.grade else 'plastic fibre' if fibre else 'this cable'} is good for"
            f" {longest:g} m.",
            "Near its limit a link drops out now and then, heard as clicks that nobody can reproduce. "
            "Use a shorter or better cable.",
            (Fix(text, change(text, set_length, link.cable, longest)),),
            (f"planned {length:g} m, longest {longest:g} m ({LINKS[link.sends].source})",),
        )


def _longest(link: Link, *, fibre: bool) -> float:
    """Return how far the medium of a link reaches, m."""
    good = link.of.grade == "good"
    if fibre:
        return LONGEST_GOOD_FIBRE_M if good else LONGEST_PLASTIC_FIBRE_M
    if family(link.sends) == "madi":
        glass = link.out_view.profile.port_by_key[link.start.port]
        if glass.connector == "sc":
            return LONGEST_MADI_M[glass.fibre or "multimode"]
        return LONGEST_MADI_M["good coaxial" if good else "coaxial"]
    return LINKS[link.sends].longest_m


def _long(survey: Parts) -> list[tuple[CableId, float]]:
    """Return the cables that are too long for one medium at least."""
    return [(c.id, c.length_m) for c in survey.spans.values() if c.length_m is not None and c.length_m > _SHORTEST_M]
