"""No track may feed the loop it listens to."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.tracks import set_track
from ennead.studio.ids import DestinationId, SourceId
from ennead.studio.subjects import subject_of
from ennead.survey.software_routes import software_rings
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every ring that a monitored track, or an insert, closes with the cables of the house."""
    for ring in survey.once(software_rings):
        tracks = survey.named("tracks")
        monitored = [line for line in ring.tracks if tracks[line].monitored]
        names = [_name(survey, line) for line in ring.tracks]
        said = " and ".join(names)
        fixes = [
            Fix(text, change(text, set_track, line, monitored=False))
            for line in monitored
            for text in (f"Do not monitor {_name(survey, line)}",)
        ]
        ins, outs = (", ".join(map(str, numbers)) for numbers in (ring.inputs, ring.outputs))
        yield Finding(
            "ring_through_software",
            "trouble",
            subject_of(ring.tracks[0]),
            tuple(dict.fromkeys(ring.tracks)),
            f"{said[:1].upper()}{said[1:]} {'feed each other' if len(names) > 1 else 'feeds itself'}:"
            f" what comes in by {ins} goes out by {outs} and comes back.",
            "It howls as soon as there is gain in it, or swings up beyond hearing: loudspeakers and ears are at risk."
            " Turn the monitors down first; then switch its input monitoring off, or send it elsewhere.",
            tuple(fixes),
            (
                f"through the software: input {ins} → output {outs}",
                f"through the house: output {outs} → input {ins}",
            ),
            cause=("ring", ins, outs),
        )


def _name(survey: Parts, line: SourceId | DestinationId) -> str:
    loop = survey.destination_by_id.get(DestinationId(line))
    return (
        f"the track that records {loop.name}"
        if loop is not None
        else f"the track of {survey.source_by_id[SourceId(line)].name}"
    )
