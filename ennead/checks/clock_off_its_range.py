"""A receiver locks only so far off the nominal rate: pull-down and varispeed may be more than it follows."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.session import set_pull
from ennead.standards.clock import TOLERANCE_PPM, UNSTATED_LOCK_PPM
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link, lock_range_ppm
from ennead.survey.survey_interface import Parts
from ennead.survey.words import samples_text


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every unit that follows a clock further off the rate than its lock range.

    References
    ----------
    AES11 grades, IEC 60958 levels: pull-down by 1000/1001 is −999.0 ppm, within level II only.
    """
    pull = survey.pull_ppm
    if not pull:
        return
    for clock in survey.clocks.astray:
        link = out_of_range(survey, clock.unit, clock.source)
        if link is None:
            continue
        name, there = survey.units[clock.unit].name, survey.units[link.start.unit].name
        most = lock_range_ppm(link.in_view, link.end.port)
        stated = link.in_view.profile.lock_ppm is not None
        text = "Run at the rate itself"
        within = [f"{grade} (±{ppm:g} ppm)" for grade, ppm in TOLERANCE_PPM.items() if abs(pull) <= ppm]
        yield Finding(
            "clock_off_its_range",
            "trouble",
            subject_of(clock.unit),
            (clock.unit, link.start.unit, link.cable),
            f"{name} does not lock to {there} at {samples_text(survey)}.",
            "It was made for clocks nearer to the nominal rate: its lock light blinks, and its channels are silent or"
            " click. Run at the rate itself, or put a box that follows further in its place.",
            (Fix(text, change(text, set_pull, 0.0)),),
            (
                f"{name} locks within ±{most:g} ppm"
                + ("" if stated or most != UNSTATED_LOCK_PPM else " (not stated; house default, IEC 60958 level II)"),
                f"asked: {pull:+.1f} ppm, "
                + (f"within {', '.join(within)}" if within else "beyond every grade and level"),
            ),
        )


def out_of_range(survey: Parts, unit: str, source: str) -> Link | None:
    """Return the cable a unit would follow, were its clock not further off the rate than the unit locks."""
    entry = survey.profiles[unit].clock_source(source)  # type: ignore[index]
    if not survey.pull_ppm or entry is None or entry.port is None:
        return None
    for link in survey.links.values():
        if link.end.unit == unit and link.end.port == entry.port and link.clock is None and link.agrees:
            return link if abs(survey.pull_ppm) > lock_range_ppm(link.in_view, entry.port) else None
    return None
