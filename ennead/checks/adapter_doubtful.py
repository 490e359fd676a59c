"""Adapters that join the plugs, but not all of what goes over them."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.checks.link_kinds import link_kinds
from ennead.standards.links import LINKS
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every link with an adapter that leaves a difference."""
    for link in link_kinds(survey).adapted:
        for adapter in link.adapters:
            if adapter.caution:
                yield Finding(
                    "adapter_doubtful",
                    "caution",
                    subject_of(link.cable),
                    (link.cable, link.start.unit, link.end.unit),
                    f"{link.cable} needs a {adapter.label}, which is more than a plug.",
                    f"{adapter.caution[:1].upper()}{adapter.caution[1:]}. Try it before the session, and use sockets of"
                    " one kind where you can.",
                    (),
                    (
                        f"{LINKS[link.sends].label} into {LINKS[link.takes].label}",
                        LINKS[link.sends].source,
                        LINKS[link.takes].source,
                    ),
                )
