"""Above single speed eight channels need a second fibre."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import connect
from ennead.edits.change import change
from ennead.standards.rates import rate_text
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every output that would carry the rest of a link's channels, and holds no cable."""
    seen = set()
    for run in survey.broken_paths:
        gap = run.gap
        if gap is None or gap.cause != "no-cable" or gap.unit is None or (gap.unit, gap.port) in seen:
            continue
        seen.add((gap.unit, gap.port))
        view = survey.views[gap.unit]
        if gap.port not in view.digital:
            continue
        beside = [
            n
            for p in view.profile.ports
            for n in survey.passages[gap.unit].leaving.get(p.key, ())
            if n.sends == view.formats[gap.port]
        ]
        if not beside:
            continue
        start = PortEnd(gap.unit, gap.port)
        rate, there = rate_text(survey.rate_hz), survey.units[beside[0].end.unit].name
        lost = [
            r.signal
            for r in survey.broken_paths
            if r.gap is not None and (r.gap.unit, r.gap.port) == (gap.unit, gap.port)
        ]
        yield Finding(
            "second_fibre_missing",
            "trouble",
            subject_of(gap.unit),
            (
                gap.unit,
                beside[0].end.unit,
                beside[0].cable,
                *(r.source for r in survey.broken_paths if r.signal in lost and r.source),
            ),
            f"At {rate} {survey.units[gap.unit].name} needs a second fibre to {there}: {len(lost)} channels have no"
            " way.",
            "One fibre carries half as many channels at double speed, and a quarter at quad. The rest leave by the"
            " other socket.",
            _fixes(survey, start, beside[0]),
            (
                f"{beside[0].cable} carries {beside[0].lanes} channels at {rate}",
                f"on {survey.end_text(start)}: {', '.join(lost)}",
            ),
            cause=at(start),
        )


def _fixes(survey: Parts, start: PortEnd, beside: Link) -> tuple[Fix, ...]:
    """Return the fix that runs the second fibre into a free input of the same box."""
    view = survey.views[beside.end.unit]
    sends = survey.views[start.unit].formats[start.port]
    for port in view.profile.ports:
        free = port.direction == "in" and port.key not in survey.held_inputs.get(beside.end.unit, ())
        if free and port.key in view.digital and view.formats[port.key] == sends and view.lanes[port.key]:
            end = PortEnd(beside.end.unit, port.key)
            text = f"Run a second fibre: {survey.end_text(start)} to {survey.end_text(end)}"
            return (Fix(text, change(text, connect, start, end)),)
    return ()
