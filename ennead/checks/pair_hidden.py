"""Two lines of the list that are named as left and right are mostly one stereo source."""

import re
from collections.abc import Iterator
from typing import Final

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.session import join_pair
from ennead.studio.session import Source
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts

_ENDS: Final = frozenset("lLrRtT)")
_SIDE: Final = re.compile(r"^(.*\S)[\s_-]+\(?(l|r|left|right)\)?$", re.IGNORECASE)


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every two mono sources of one kind with names that differ by their side alone."""
    for left, right, name in hidden_pairs(survey.sources):
        text = f"Make them one stereo source, {name}"
        yield Finding(
            "pair_hidden",
            "note",
            subject_of(left.id),
            (left.id, right.id),
            f"{left.name} and {right.name} look like the two sides of one source.",
            "As one they sit side by side, move together, keep in step and are one line of the chart; as two they may"
            " be torn apart.",
            (Fix(text, change(text, join_pair, left.id, right.id, name)),),
            (f"both are mono and {left.kind}; their names differ by the side alone",),
        )


def hidden_pairs(sources: tuple[Source, ...]) -> list[tuple[Source, Source, str]]:
    """Return the sources that are two sides of one, with the name they have in common."""
    sides: dict[tuple[str, str, str], dict[str, list[Source]]] = {}
    stems: dict[tuple[str, str, str], str] = {}
    for source in sources:
        # Most names end otherwise; looked at first, that spares the pattern.
        may = source.name[-1:] in _ENDS and source.channels == 1 and source.kind != "digital"
        found = _SIDE.match(source.name) if may else None
        if found:
            key = found[1].casefold(), source.kind, source.phantom
            stems.setdefault(key, found[1])
            sides.setdefault(key, {}).setdefault(found[2][0].lower(), []).append(source)
    return [
        (s["l"][0], s["r"][0], stems[key])
        for key, s in sides.items()
        if len(s.get("l", ())) == 1 == len(s.get("r", ()))
    ]
