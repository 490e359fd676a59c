"""A follower's clock source must really arrive on a cable."""

from collections.abc import Iterator

from ennead.checks.clock_off_its_range import out_of_range
from ennead.checks.finding import Finding, Fix
from ennead.checks.formats_disagree import agreeing_fixes
from ennead.checks.leading import cable_back_fixes, is_idle, lead_fixes
from ennead.edits.change import change
from ennead.edits.settings import set_clock_source
from ennead.standards.links import carried_text
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every unit set to follow a socket where no clock arrives."""
    for clock in survey.clocks.astray:
        if clock.state != "silent" or out_of_range(survey, clock.unit, clock.source) is not None:
            continue
        domain = survey.clocks.domain_of(clock.unit)
        if is_idle(survey, domain):
            continue
        unit, profile = survey.units[clock.unit], survey.profiles[clock.unit]
        entry = profile.clock_source(clock.source)
        if entry is None or entry.port is None:
            continue
        label = profile.port_by_key[entry.port].label
        link = next((n for n in survey.links.values() if n.end.unit == clock.unit and n.end.port == entry.port), None)
        if link is None:
            message = f"{unit.name} follows {label}, but no cable arrives there."
        elif link.digital and link.agrees and link.out_view.off:
            message = (
                f"{unit.name} follows {label}, but {survey.units[link.start.unit].name}, from which it comes, is"
                " switched off."
            )
        else:
            sends, takes = carried_text(link.sends), carried_text(link.takes)
            set_to = f"and the port is set to {takes}" if link.digital and not link.agrees else "which brings no clock"
            message = f"{unit.name} follows {label}, but {sends} arrives there {set_to}."
        fixes = lead_fixes(survey, domain)
        if link is None:
            fixes += tuple([fix for u in domain.leaders for fix in cable_back_fixes(survey, domain, u)])
        elif link.digital and not link.agrees:
            fixes = agreeing_fixes(survey, link)
        own = next((c for c in profile.clock_sources if c.port is None), None)
        if not fixes and own is not None:
            label_own = f"Set {unit.name} to {own.label}"
            fixes = (Fix(label_own, change(label_own, set_clock_source, unit.id, own.key)),)
        yield Finding(
            "clock_does_not_arrive",
            "trouble",
            subject_of(unit.id),
            (unit.id,),
            message,
            f"Without a clock {unit.name} mutes or drifts: its channels are silent or click.",
            fixes,
            (
                f"{unit.name}'s clock menu: {entry.label}, taken from {label}",
                f"at {label}: {'no cable' if link is None else f'{link.cable} from {survey.end_text(link.start)}'}",
            ),
            cause=(clock.source, *([link.cable] if link is not None else [])),
        )
