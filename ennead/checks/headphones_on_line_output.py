"""Headphones want an amplifier: a line output drives them weakly, or not at all."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.output_points import output_point_at
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every cue that is taken from a line output behind which nothing stands."""
    cues = [d for d in survey.destinations if d.kind == "cue" and d.outputs]
    if not cues:
        return
    points = output_point_at(survey.output_points)
    for cue in cues:
        bare = [
            s
            for end in dict.fromkeys(cue.outputs)
            for s in points.get(end, ())[:1]
            if "headphone" not in s.port.carries
        ]
        if bare and not any(s.feeds for s in bare):
            where = survey.end_text(bare[0].end)
            yield Finding(
                "headphones_on_line_output",
                "note",
                subject_of(cue.id),
                (cue.id, bare[0].unit),
                f"{cue.name} is taken from {where}, and nothing stands behind it yet.",
                "Headphones straight on a line output are faint and thin, and one side may be missing: the socket is"
                " balanced and made for thousands of ohm. Put a headphone amplifier or a cue system behind it, or use a"
                " headphone socket. Start quietly.",
                (),
                (f"{where} carries line level; its cable ends nowhere",),
                cause=at(*[s.end for s in bare]),
            )
