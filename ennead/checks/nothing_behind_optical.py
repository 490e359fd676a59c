"""A purely digital interface hears nothing by itself: a converter must stand behind each port."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for every interface without analogue inputs into which no digital cable runs."""
    views = survey.views
    for unit in survey.once(_purely_digital):
        view = views[unit]
        sockets = [p.key for p in view.sockets]
        if not sockets or not survey.taken.get(unit, set()).isdisjoint(sockets):
            continue
        name = survey.units[unit].name
        yield Finding(
            "nothing_behind_optical",
            "note",
            subject_of(unit),
            (unit,),
            f"{name} has no socket for a microphone; nothing stands behind its digital inputs yet.",
            "Its channels appear in the software and stay silent. Put an expander or a converter behind a port, with"
            " its fibre and its clock.",
            (),
            (f"{name}: {len(sockets)} digital inputs, none cabled, no analogue ones",),
            cause=at(*[(unit, key) for key in sockets]),
        )


def _purely_digital(survey: Parts) -> list[UnitId]:
    """Return the interfaces without an analogue input."""
    views = survey.views
    kinds = {id(v): v.profile.role == "interface" and all(p.is_digital for p in v.sockets) for v in views.values()}
    return [u for u, v in views.items() if kinds[id(v)]]
