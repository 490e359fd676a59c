"""A purely digital interface hears nothing by itself: a converter must stand behind each port."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a note for every interface without analogue inputs into which no digital cable runs."""
    for unit, view in survey.views.items():
        profile = view.profile
        if profile.role != "interface" or any(not p.is_digital for p in view.sockets):
            continue
        sockets = [p.key for p in view.sockets]
        if not sockets or not survey.taken.get(unit, set()).isdisjoint(sockets):
            continue
        name = survey.studio.units[unit].name
        yield Finding(
            "nothing_behind_optical", "note", "Links", unit, (unit,),
            f"{name} has no socket for a microphone; nothing stands behind its digital inputs yet.",
            "Its channels appear in the software and stay silent. Put an expander or a converter behind a port, with its fibre and its clock.",
            (), (f"{name}: {len(sockets)} digital inputs, none cabled, no analogue ones",),
        )  # fmt: skip
