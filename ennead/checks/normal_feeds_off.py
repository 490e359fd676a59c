"""A normal into a box that is switched off."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.settings import switch_off
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each box that is switched off and that live normals feed."""
    off = {unit for unit, view in survey.views.items() if view.off} if survey.bays else set[UnitId]()
    if not off:
        return
    there, fed = survey.behind, dict[UnitId, list[PortEnd]]()
    for unit, bay in survey.bays.items():
        plugged = {p.port for c in survey.cords for p in c.plugs if p.unit == unit}
        for normal in bay.live_normals(plugged):
            comes = any(b.way == "in" for b in there.get((unit, normal.start), ()))
            for b in there.get((unit, normal.end), ()):
                if comes and b.way == "out" and isinstance(b.far, PortEnd) and b.far.unit in off:
                    fed.setdefault(b.far.unit, []).append(PortEnd(unit, normal.end))
    for box, points in fed.items():
        name = survey.units[box].name
        text = f"Switch {name} on"
        yield Finding(
            "normal_feeds_off",
            "note",
            subject_of(box),
            (box,),
            f"{name} is switched off, and {len(points)} normal{'s' * (len(points) != 1)} still"
            f" feed{'s' * (len(points) == 1)} it.",
            "Many inputs without power load what drives them or cut its peaks. Break the normal with a plug, or switch"
            " it on.",
            (Fix(text, change(text, switch_off, box, off=False)),),
            (f"fed at {', '.join(survey.end_text(p) for p in points[:6])}",),
            cause=at(*points),
        )
