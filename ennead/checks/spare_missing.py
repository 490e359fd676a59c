"""So many inputs are to stay free as the session wishes."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.session import SPARES
from ennead.studio.subjects import Subject
from ennead.survey.survey_interface import Parts

_NAMES = {
    "phantom": "microphone inputs with 48 V",
    "mic": "microphone inputs",
    "line": "line inputs",
    "hiz": "Hi-Z inputs",
    "all": "inputs",
}


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every kind of input of which fewer are free than wished."""
    session = survey.session_facts
    if not session.spare:
        return
    used = {c.end for c in survey.leads.values()} | {e for d in survey.destinations for e in d.returns}
    free = [s for s in survey.input_points if not s.fault and s.end not in used]
    # In the order of their kinds, in whichever the wishes came.
    for need in (n for n in SPARES if n in session.spare):
        wish = session.spare[need]
        able = [
            s
            for s in free
            if need == "all"
            or (need in s.port.carries)
            or (need == "phantom" and "mic" in s.port.carries and s.powered_port in s.powered_by.bank_of_port)
        ]
        if len(able) >= wish:
            continue
        yield Finding(
            "spare_missing",
            "caution",
            Subject("need", need),
            (),
            f"{wish} {_NAMES[need]} are to stay free, and {len(able)} are.",
            "When one crackles in the middle of a take there is none to go to.",
            (),
            (f"free and in service: {len(able)}; wished: {wish}",),
        )
