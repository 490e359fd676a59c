"""The links that some rule has to look at, found in one walk over all of them."""

from typing import NamedTuple

from ennead.standards.links import WORD
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


class LinkKinds(NamedTuple):
    """Links by what is special about them; most are in none of these."""

    word: list[Link]
    resampled: list[Link]
    adapted: list[Link]
    disagreeing: list[Link]
    generators: list[Link]


def link_kinds(survey: Parts) -> LinkKinds:
    """Return the links of each kind, in the order of their cables."""
    return survey.once(_sort)


def _sort(survey: Parts) -> LinkKinds:
    kinds = LinkKinds([], [], [], [], [])
    for link in survey.links.values():
        if not link.digital:
            continue
        if link.sends in WORD:
            kinds.word.append(link)
            if link.out_view.profile.role == "clock":
                kinds.generators.append(link)
        if link.resampled:
            kinds.resampled.append(link)
        if link.adapters:
            kinds.adapted.append(link)
        if not link.agrees:
            kinds.disagreeing.append(link)
    return kinds
