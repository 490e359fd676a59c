"""Kind and level of a source must suit its socket."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import seated
from ennead.rules.source_fits_port import signal_wanted, why_unfit
from ennead.standards.signals import SIGNAL_LABELS
from ennead.studio.house import Lead
from ennead.studio.profile import Port
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source in a socket that does not suit it."""
    for source, cable, port, reason in _misfits(survey):
        takes = " or ".join(dict.fromkeys(SIGNAL_LABELS[c] for c in port.carries))
        yield Finding(
            "source_does_not_fit",
            "trouble",
            subject_of(source.id),
            (source.id, cable.end.unit),
            f"{reason[:1].upper()}{reason[1:]}.",
            "Too little gain, a dull and thin sound, or overload: it will not sound as it should.",
            (Fix(f"Find another place for {source.name}", Request("place", source.id)),),
            (
                f"{source.name} needs: {SIGNAL_LABELS.get(signal_wanted(source), 'digital')}",
                f"{port.label} takes: {takes}",
            ),
            cause=at(cable.end),
        )


def _misfits(survey: Parts) -> list[tuple[Source, Lead, Port, str]]:
    fits: set[tuple[str, str, int]] = set()
    found = []
    for source, cable, port in seated(survey):
        # Whether it fits hangs on these alone; a house has hundreds of microphones and a handful of such pairs.
        alike = source.kind, source.di, id(port)
        if alike in fits:
            continue
        reason = why_unfit(source, port)
        if reason:
            found.append((source, cable, port, reason))
        else:
            fits.add(alike)
    return found
