"""Lock is not agreement: a receiver may lock steadily and hear something else than was sent."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.checks.formats_disagree import agreeing_fixes
from ennead.edits.change import change
from ennead.edits.session import set_rate
from ennead.standards.links import LINKS, WORD
from ennead.standards.rates import rate_text, single_speed_of
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every link that locks, but at another rate or in another mode."""
    rate = survey.rate_hz
    for link in survey.links.values():
        if link.clock is None or link.sends in WORD:
            continue
        same_rate = rate in link.out_view.profile.rates_hz and rate in link.in_view.profile.rates_hz
        if same_rate and link.agrees:
            continue
        start, end = survey.units[link.start.unit].name, survey.units[link.end.unit].name
        yield Finding(
            "locks_but_wrong",
            "trouble",
            subject_of(link.cable),
            (link.cable, link.end.unit, link.start.unit),
            f"{end} would lock to {start} over {link.cable} and still hear wrong audio.",
            "The lock light is steady, so that one looks for the fault everywhere else. "
            + _why(survey, link, same_rate=same_rate),
            _fixes(survey, link, same_rate=same_rate),
            (
                f"locked? yes: {LINKS[link.sends].label} arrives in frames it can follow",
                (
                    f"same rate? {_yes(same_rate)}: session {rate_text(rate)}; {start}"
                    f" {_rates(link.out_view.profile.rates_hz)}; {end} {_rates(link.in_view.profile.rates_hz)}"
                ),
                (
                    f"same mode? {_yes(link.agrees)}: {start} sends {LINKS[link.sends].label}, {end} takes"
                    f" {LINKS[link.takes].label}"
                ),
            ),
            cause=(link.sends, link.takes),
        )


def _why(survey: Parts, link: Link, *, same_rate: bool) -> str:
    if not same_rate and link.sends == "adat":
        base = rate_text(single_speed_of(survey.rate_hz))
        return (
            f"S/MUX sends {rate_text(survey.rate_hz)} in frames at {base}: without it four channels are heard as eight,"
            " at half the rate."
        )
    if not same_rate:
        return "One of the two does not run at this rate."
    return "The channels are counted otherwise than they were sent."


def _fixes(survey: Parts, link: Link, *, same_rate: bool) -> tuple[Fix, ...]:
    if same_rate:
        return agreeing_fixes(survey, link)
    both = [r for r in link.out_view.profile.rates_hz if r in link.in_view.profile.rates_hz and r < survey.rate_hz]
    if not both:
        return ()
    text = f"Go to {rate_text(max(both))}"
    return (Fix(text, change(text, set_rate, max(both))),)


def _yes(true: bool) -> str:
    return "yes" if true else "no"


def _rates(rates: tuple[int, ...]) -> str:
    return "up to " + rate_text(max(rates))
