"""Kind and level of a source must suit its socket."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Wish
from ennead.rules.source_fits_port import signal_wanted, why_unfit
from ennead.standards.signals import SIGNAL_LABELS
from ennead.studio.house import SourceEnd
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield trouble for every source in a socket that does not suit it."""
    studio = survey.studio
    for cable in studio.cables.values():
        if not isinstance(cable.start, SourceEnd) or not studio.is_active(cable):
            continue
        source, port = studio.sources[cable.start.source], studio.port(cable.end)
        reason = why_unfit(source, port)
        if not reason:
            continue
        takes = " or ".join(dict.fromkeys(SIGNAL_LABELS[c] for c in port.carries))
        yield Finding(
            "source_does_not_fit",
            "trouble",
            "Lines",
            source.id,
            (source.id, cable.end.unit),
            f"{reason[:1].upper()}{reason[1:]}.",
            "Too little gain, a dull and thin sound, or overload: it will not sound as it should.",
            (Fix(f"Find another place for {source.name}", Wish("place", source.id)),),
            (f"{source.name} needs: {SIGNAL_LABELS.get(signal_wanted(source), 'digital')}", f"{port.label} takes: {takes}"),
        )
