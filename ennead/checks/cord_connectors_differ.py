"""A cord between points with different connectors."""

from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every cord of the scene that would need a different plug at either end."""
    profiles = survey.profiles
    for cord in survey.cords:
        plain = [profiles[p.unit].port_by_key[p.port].connector for p in cord.plugs]
        if plain[0] == plain[-1]:
            continue
        kinds = [CONNECTOR_LABELS[p] for p in plain]
        if set(kinds) != {"TRS jack", "TS jack"}:
            yield Finding(
                "cord_connectors_differ",
                "trouble",
                subject_of(cord.id),
                (cord.id, *(p.unit for p in cord.plugs)),
                f"{cord_text(survey, cord)[:1].upper()}{cord_text(survey, cord)[1:]} needs a {kinds[0]} at one end and"
                f" a {kinds[1]} at the other.",
                "A plug of the other kind does not fit, or touches the wrong contacts and spreads the spring. Use an"
                " adapter cord, or a tie line.",
            )
