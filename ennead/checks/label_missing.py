"""Every point that is wired has a label."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay on which some wired points have a label and others have none."""
    if not survey.bays:
        return
    there = survey.behind
    for unit, bay in survey.bays.items():
        if not bay.labels:
            continue
        wired = [key for row in bay.rows for key in row if key and (unit, key) in there]
        bare = [key for key in wired if key not in bay.labels or not (bay.labels[key].first or bay.labels[key].second)]
        if bare and len(bare) < len(wired):
            texts = [survey.port(PortEnd(unit, key)).label for key in bare[:6]]
            yield Finding(
                "label_missing",
                "note",
                subject_of(unit),
                (unit,),
                f"{len(bare)} wired points of {survey.units[unit].name} have no label:"
                f" {', '.join(texts[:5])}{' …' if len(texts) > 5 else ''}.",
                "A strip with gaps is not trusted, and then not read.",
                cause=at(*[(unit, key) for key in bare]),
            )
