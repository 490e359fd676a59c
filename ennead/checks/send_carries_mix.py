"""A send carries its track alone."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.mixes import lane_name
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop whose output is fed by a mix of the interface's own and not by its playback channel."""
    for loop, _ in survey.once(circuits):
        for n, end in enumerate(loop.outputs):
            feed = survey.settings[end.unit].feeds.get(lane_name(end.port, loop.outputs[:n].count(end) + 1), "")
            if feed.rpartition("/")[0] not in {mix.key for mix in survey.profiles[end.unit].mixes}:
                continue
            name = survey.units[end.unit].name
            yield Finding(
                "send_carries_mix",
                "trouble",
                subject_of(loop.id),
                (loop.id, end.unit),
                f"{survey.end_text(end)}, the send of {loop.name}, is fed by a mix that {name}"
                f" makes by itself ({feed}).",
                "The box works on whatever is in that mix, inputs included: what it sends back is"
                " heard twice, or feeds"
                " back. Feed that output by its own playback channel.",
                cause=at(end),
            )
            break
