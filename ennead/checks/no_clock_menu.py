"""A box with digital sockets runs on some clock; a description that names none cannot be planned with."""

from collections.abc import Collection, Iterator

from ennead.checks.finding import Finding
from ennead.standards.links import WORD
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every cabled unit that carries digital sound and has no clock source in its profile."""
    bare = [u for u, p in survey.profiles.items() if not p.clock_sources and p.has_digital_sockets]
    for unit, links in _sounding(survey, bare).items():
        name = survey.units[unit].name
        yield Finding(
            "no_clock_menu",
            "trouble",
            subject_of(unit),
            (unit, *(n.cable for n in links)),
            f"{name} carries digital sound, but its description names no clock source.",
            "It cannot be said whom it follows, so nobody knows whether it clicks. Edit its description (Ctrl+Shift+B)"
            " and add the entries of its clock menu; its own crystal is one of them unless it can only follow.",
            (),
            (f"digital cables: {', '.join(n.cable for n in links)}", "entries of its clock menu: none"),
        )


def _sounding(survey: Parts, bare: Collection[UnitId]) -> dict[UnitId, list[Link]]:
    """Return the cables of digital sound at each of some units that has any, in the order of the units."""
    at: dict[UnitId, list[Link]] = {}
    for link in survey.links.values() if bare else ():
        if link.digital and link.sends not in WORD and link.sends != "cue":
            for unit in {link.start.unit, link.end.unit}.intersection(bare):
                at.setdefault(unit, []).append(link)
    return {u: at[u] for u in bare if u in at}
