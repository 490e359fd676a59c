"""What the margin says about a point of a bay: its label, its normal, what is behind it, its cord, and the way through it."""

from ennead.desk.margin.about_port import about_cable_parts
from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.bays import label_point, set_normal, straight_below
from ennead.edits.change import change
from ennead.edits.house import clear_fault, mark_fault
from ennead.edits.scenes import pull_cord
from ennead.planning.routing.other_box import box_behind, other_boxes
from ennead.reports.bay_rows import normal_text
from ennead.reports.lit_run import lit_run
from ennead.reports.point_labels import behind_text
from ennead.standards.signals import CONNECTOR_LABELS
from ennead.studio.bays import NORMAL_LABELS, PointLabel
from ennead.studio.house import PortEnd
from ennead.survey.survey import Survey
from ennead.survey.words import gap_text, stop_texts

#: What a plug does to each kind of normal, as the working says it.
_BREAKS = {
    "full": "normalled: a plug in either point breaks it",
    "half": "half-normalled: a plug below breaks it, one above only taps it",
    "parallel": "joined: no plug breaks it",
}
_MOST_RUNS = 3


def about_point(survey: Survey, end: PortEnd) -> Notes:
    """Return the notes about a point."""
    studio, bay = survey.studio, survey.bays[end.unit]
    unit, port = studio.units[end.unit], studio.port(end)
    label = bay.labels.get(end.port, PointLabel())
    name = f"{unit.name} · {port.label}"
    facts = [
        Fact("Behind it", behind_text(studio, end) or "nothing"),
        *_normal_facts(survey, end),
        Fact("Label", label.first, edit=lambda t: change(f"Label {name}", label_point, end, first=t)),
        Fact("Second line", label.second, edit=lambda t: change(f"Label {name}", label_point, end, second=t)),
        Fact("Own number", label.number, edit=lambda t: change(f"Number {name}", label_point, end, number=t)),
        Fact(
            "In service",
            "",
            ticked=end.port not in unit.faults,
            edit=lambda on: (
                change(f"Mark {name}", clear_fault, end)
                if on == "1"
                else change(f"Mark {name}", mark_fault, end, "out of service")
            ),
        ),
    ]
    if end.port in unit.faults:
        facts.append(
            Fact("Fault", unit.faults[end.port], edit=lambda t: change("Describe the fault", mark_fault, end, t))
        )
    deeds = []
    cord = next((c for c in survey.cords if end in c.plugs), None)
    if cord is not None:
        other = [studio.end_text(p) for p in cord.plugs if p != end]
        facts.insert(0, Fact(f"Cord {cord.id}", f"to {other[0]}" if other else "its other end hangs loose"))
        deeds.append(Deed(f"Pull cord {cord.id}", change(f"Pull cord {cord.id}", pull_cord, cord.id)))
    box = box_behind(studio, end)
    deeds += [
        Deed(wanted.label, wanted) for _, wanted in (other_boxes(studio, box) if box is not None and cord else ())
    ]
    for cable in survey.cables_at(end):
        more, can = about_cable_parts(survey, cable)
        facts += more
        deeds += can
    working = tuple(_BREAKS[n.mode] for n in bay.normals if end.port in (n.start, n.end))
    socket = CONNECTOR_LABELS[port.connector]
    below = " · ".join(part for part in (bay.note, socket, normal_text(studio, bay, end.port)) if part)
    return Notes(name, below, tuple(facts), tuple(deeds), working, _ways(survey, end), "Its way")


def _normal_facts(survey: Survey, end: PortEnd) -> list[Fact]:
    """Return how the point is joined to the one straight below it, to choose from; of a lower one, what comes from above is only told."""
    bay = survey.bays[end.unit]
    if not straight_below(bay, end.port):
        return []
    mode = next((n.mode for n in bay.normals if n.start == end.port), "")
    name = survey.studio.end_text(end)
    choices = tuple((key, NORMAL_LABELS[key]) for key in ("", "full", "half", "parallel"))
    return [Fact("To the point below", mode, choices, edit=lambda key: change(f"Join {name}", set_normal, end, key))]


def _ways(survey: Survey, end: PortEnd) -> tuple[Fact, ...]:
    facts = []
    for run in lit_run(survey, end).runs[:_MOST_RUNS]:
        arrives = f"driver input {run.driver.number}" if run.driver is not None and not run.out else ""
        stops = list(stop_texts(survey, run))
        title = stops[0] if stops else run.signal
        rest = [*stops[1:], *([arrives] if arrives else []), *([gap_text(survey, run)] if run.gap is not None else [])]
        facts.append(Fact(title, "\n".join(f"→ {text}" for text in rest)))
    return tuple(facts)
