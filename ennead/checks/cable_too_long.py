"""A digital cable longer than its medium carries cleanly."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.cables import set_length
from ennead.edits.change import change
from ennead.standards.links import LINKS, LONGEST_PLASTIC_FIBRE_M
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a caution for every digital cable beyond the longest sensible length."""
    studio = survey.studio
    for link in survey.links.values():
        length = link.of.length_m
        if not link.digital or length is None:
            continue
        fibre = studio.port(link.start).connector == "toslink"
        longest = LONGEST_PLASTIC_FIBRE_M if fibre else LINKS[link.sends].longest_m
        if length <= longest:
            continue
        text = f"Plan {longest:g} m for {link.cable}"
        yield Finding(
            "cable_too_long",
            "caution",
            "Rig",
            link.cable,
            (link.cable, link.start.unit, link.end.unit),
            f"{link.cable} is {length:g} m; {link.label} over {'plastic fibre' if fibre else 'this cable'} "
            f"is good for {longest:g} m.",
            "Near its limit a link drops out now and then, heard as clicks that nobody can reproduce. "
            "Use a shorter or better cable.",
            (Fix(text, change(text, set_length, link.cable, longest)),),
            (f"planned {length:g} m, longest {longest:g} m ({LINKS[link.sends].source})",),
        )
