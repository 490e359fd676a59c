"""A box that is not there on this session, with what would be plugged into it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.session import set_missing
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for each missing box into which cables run, a note for each other."""
    for unit in survey.session_facts.missing:
        name = survey.units[unit].name
        session = survey.session_facts.session
        loose = [
            cable.id
            for cable in survey.named("every_cable").values()
            if (not cable.sessions or session in cable.sessions)
            and any(isinstance(p, PortEnd) and p.unit == unit for p in cable.plugs)
        ]
        text = f"{name} is there after all"
        yield Finding(
            "unit_missing",
            "caution" if loose else "note",
            subject_of(unit),
            (unit, *loose),
            f"{name} is missing on this session"
            + (
                f", and {len(loose)} cable{'s' * (len(loose) != 1)} to it hang{'s' * (len(loose) == 1)} loose."
                if loose
                else "."
            ),
            "Lines that would go by it do not arrive, and nothing is planned on it. Find them another box, or"
            " bring it.",
            (Fix(text, change(text, set_missing, unit, False)),),
            (f"hanging loose: {', '.join(loose[:12])}{' and others' if len(loose) > 12 else ''}",) if loose else (),
        )
