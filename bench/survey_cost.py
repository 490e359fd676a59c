"""What the survey of a large house costs, whole and after one edit, against building a plain graph of the same edges."""

from collections.abc import Callable
from statistics import mean

import networkx as nx

from bench.large_house import large_house, reference_edges
from bench.report import Report, turn_about
from ennead.checks.all_checks import find_all
from ennead.edits.cables import disconnect
from ennead.edits.house import rename_unit
from ennead.edits.settings import set_mode
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd, SourceEnd
from ennead.survey.survey import Survey

#: Parts no finding reads; they belong to the survey all the same.
_PARTS = ("output_paths", "leads", "input_point_at", "powered", "wanted_by_need")


def whole(survey: Survey) -> object:
    """Work out everything that follows from a studio."""
    for part in _PARTS:
        getattr(survey, part)
    return find_all(survey)


def edits_of(studio: Studio) -> dict[str, list[Studio]]:
    """Return the studio after one edit of each kind; of a mode, after each one that some unit has."""
    cables = list(studio.cables.values())
    fibre = next(c for c in cables if isinstance(c.start, PortEnd) and c.start.port == "optical_out")
    mic = next(c for c in cables[len(cables) // 2 :] if isinstance(c.start, SourceEnd))
    modes = []
    for unit in studio.units.values():
        for mode in studio.profile_of(unit.id).modes:
            now = studio.settings_of(unit.id).modes.get(mode.key, mode.default)
            modes.append(set_mode(studio, unit.id, mode.key, next(c.key for c in mode.choices if c.key != now)))
    return {
        "rename": [rename_unit(studio, next(iter(studio.units)), "Another name")],
        "one microphone cable": [disconnect(studio, mic.id)],
        "one fibre": [disconnect(studio, fibre.id)],
        "one mode": modes,
    }


def run(report: Report, rounds: int = 15) -> None:
    """Measure all of it."""
    report.head("Survey with findings, against building a networkx.DiGraph of the same edges")
    per_edge = {}
    for size in (0.125, 0.25, 0.5, 1.0):
        studio = large_house(size)
        edges = reference_edges(size)
        ours, graph = turn_about((lambda s=studio: whole(Survey(s)), lambda e=edges: nx.DiGraph(e)), rounds)
        per_edge[size] = ours / len(edges)
        text = (
            f"size {size:g}: {len(studio.units)} units, {len(Survey(studio).signal_paths)} runs, {len(edges)} edges: "
            f"{ours * 1e3:.1f} ms against {graph * 1e3:.1f} ms: {ours / graph:.2f}"
        )
        report.figure(f"survey_size_{size:g}", round(ours / graph, 3), text, 2.0 if size == 1.0 else None)
    growth = per_edge[1.0] / per_edge[0.125]
    report.figure(
        "survey_growth", round(growth, 3), f"time an edge at size 1 against size 1/8: {growth:.2f} (1 is linear)"
    )
    _after_edits(report, studio, rounds)


def _after_edits(report: Report, studio: Studio, rounds: int) -> None:
    report.head("Survey with findings after one edit, against the whole (large house)")
    before = Survey(studio)
    whole(before)
    ratios: list[float] = []
    for name, after in edits_of(studio).items():
        deeds: list[Callable[[], object]] = [lambda: whole(Survey(studio))]
        deeds += [lambda s=one: whole(Survey(s, before)) for one in after]
        full, *each = turn_about(deeds, rounds)
        ratio = each[0] / full
        text = f"{name}: {each[0] * 1e3:.2f} ms of {full * 1e3:.1f} ms: {ratio:.2f}"
        if len(after) > 1:
            text += f" (the first unit that has one; all {len(after)}: mean {mean(each) / full:.2f}, {min(each) / full:.2f} to {max(each) / full:.2f})"
        report.figure(f"after_{name.replace(' ', '_')}", round(ratio, 3), text)
        ratios.append(mean(each) / full)
        if len(after) > 1:
            report.figures[f"after_{name.replace(' ', '_')}_worst"] = round(max(each) / full, 3)
    report.figure("after_one_edit", round(mean(ratios), 3), f"mean of all kinds: {mean(ratios):.2f}", 0.33)
