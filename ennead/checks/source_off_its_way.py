"""A source that is wanted on a preamp, or through outboard, should go that way."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import stated
from ennead.rules.may_sit import obstacles, sentence, wanted_of, where_of
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every plugged source that takes another way than the wanted one."""
    for source in stated(survey).wishes:
        cable = survey.leads.get((source.id, 1))
        point = survey.input_point_at.get((cable.end.unit, cable.end.port)) if cable is not None else None
        if point is None:
            continue
        against = next((o for o in obstacles(wanted_of(source), where_of(survey, point)) if o.rule == "wishes"), None)
        reason = sentence(survey, source, point.port, point.end, against) if against is not None else ""
        if reason:
            yield Finding(
                "source_off_its_way",
                "caution",
                subject_of(source.id),
                (source.id, point.unit),
                f"{source.name} sits on {survey.end_text(point.end)}: {reason}.",
                "It will not sound as was asked for.",
                (Fix(f"Find another place for {source.name}", Request("place", source.id)),),
                (
                    (
                        "its way passes"
                        f" {', '.join(survey.units[u].name for u in dict.fromkeys(survey.way(point.unit, point.port.key).passes))}"
                    ),
                ),
                cause=at(point.end),
            )
