"""Microphone lines apart from line level."""

from collections.abc import Iterator, Mapping
from itertools import pairwise

from ennead.checks.at_points import behind
from ennead.checks.finding import Finding
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import UnitId
from ennead.studio.profile import Profile
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each row in which microphone and line level stand side by side without a point between."""
    if not survey.bays:
        return
    profiles = survey.profiles
    levels = {
        point: level
        for point, there in survey.once(behind).items()
        if (level := _level(survey, profiles, [b.far for b in there]))
    }
    both = {at[0] for at, level in levels.items() if level == "mic"} & {
        at[0] for at, level in levels.items() if level == "line"
    }
    for unit, bay in survey.bays.items():
        for row in bay.rows if unit in both else ():
            pairs = [
                (one, other)
                for one, other in pairwise(row)
                if {levels.get((unit, one)), levels.get((unit, other))} == {"mic", "line"}
            ]
            if not pairs:
                continue
            one, other = (survey.end_text(PortEnd(unit, key)) for key in pairs[0])
            more = f", and {len(pairs) - 1} more such pairs in the row" if len(pairs) > 1 else ""
            yield Finding(
                "mic_beside_line", "note", "Bays", unit, (unit,),
                f"{one} and {other} stand side by side, one at microphone and one at line level{more}.",
                "A hand that misses by one point sends line level into a preamp, and a long parallel loom lets line level be heard in the "
                "microphone. Keep them on different rows or bays, or leave a point between.",
            )  # fmt: skip


def _level(survey: Parts, profiles: Mapping[UnitId, Profile], far: list[object]) -> str:
    """Return the level of what is wired behind a point: of a microphone or its input, or of a line."""
    for end in far:
        if isinstance(end, SourceEnd):
            return "mic" if survey.source_by_id[end.source].is_microphone else "line"
        if isinstance(end, PortEnd) and profiles[end.unit].role != "bay":
            carries = profiles[end.unit].port_by_key[end.port].carries
            if carries[0] in ("mic", "line"):
                return carries[0]
    return ""
