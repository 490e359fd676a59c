"""A phase-coherent group must arrive together: its channels over converters of equal delay."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import paths_by_source, stated
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.skew import skew_of, skew_text, skew_working
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every group, or stereo pair of one, with channels a sample or more apart.

    Units in step with equal stated delays have no skew; less than a sample is not reported.
    """
    groups: dict[str, list[Source]] = {}
    for source in stated(survey).coherent:
        groups.setdefault(source.group, []).append(source)
    by_source = paths_by_source(survey) if groups else {}
    for name, members in groups.items():
        runs = [r for s in members for r in by_source[s.id] if r.latency_samples is not None]
        if len(runs) < 2:
            continue
        late = max(runs, key=lambda r: r.latency_samples or 0.0)
        soon = min(runs, key=lambda r: r.latency_samples or 0.0)
        apart = (late.latency_samples or 0.0) - (soon.latency_samples or 0.0)
        if apart < 1.0:
            continue
        skew = skew_of(apart, survey.rate_hz)
        yield Finding(
            "group_out_of_step",
            "caution",
            subject_of(members[0].id),
            tuple(s.id for s in members),
            f"{name} does not arrive together: {late.signal} comes {skew_text(skew)} after {soon.signal}.",
            "Summed, the same drum or voice in both cancels in a comb; the image moves. Put the group on converters of"
            " one delay.",
            (Fix(f"Find places for {name}", Request("allocate", members[0].id)),),
            (
                f"{soon.signal}: {soon.latency_samples:g} samples to the computer",
                f"{late.signal}: {late.latency_samples:g} samples",
                *skew_working(skew, survey.rate_hz),
            ),
            cause=at(*[r.into for r in runs]),
        )
