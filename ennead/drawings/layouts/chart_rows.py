"""The run chart as rows of plain facts: one a source, stereo pairs as one row, groups that fold."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Final, Literal

from ennead.checks.finding import Finding
from ennead.planning.seating.allocation import Proposal
from ennead.reports.in_rows import in_way, late_by, number_text
from ennead.studio.ids import SourceId
from ennead.studio.ranges import in_ranges
from ennead.studio.session import Source
from ennead.survey.signal_paths import SignalPath, Stop
from ennead.survey.survey import Survey

Sort = Literal["group", "number", "place"]
#: Columns of the chart between source and number; where all have no room, those before the converter are one.
BEFORE: Final = ("panel", "bay", "outboard", "back")
ZONES: Final = (*BEFORE, "converter", "link")
FOLDED: Final = ("before", "converter", "link")
_SEVERITIES: Final = {"trouble": 2, "caution": 1, "note": 0}


@dataclass(frozen=True, slots=True)
class Options:
    """How the chart is looked at."""

    sort: Sort = "group"
    folded: frozenset[str] = frozenset()
    selected: str = ""
    proposal: Proposal | None = None
    taken: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class LineRow:
    """One source's line.

    Parameters
    ----------
    stops : map of zone to texts
        Every stop in words; the chart shows the last of a zone and counts the others unless the row is selected.
    phantom : str
        ``on`` where 48 V is live on its socket, ``bad`` where it must not be, else empty.
    ghost, ghost_port : str
        Number and socket an allocation proposes.
    late : str
        By how many samples it comes after the first of its group, or one side after the other; empty where it does not.
    """

    source: SourceId
    name: str
    track: str
    kind: str
    stereo: bool
    stops: Mapping[str, tuple[str, ...]]
    number: str
    numbers: tuple[int, ...]
    gap: str
    placed: bool
    built: bool
    phantom: str
    worst: str
    selected: bool
    ghost: str = ""
    ghost_port: str = ""
    taken: bool = False
    late: str = ""

    @property
    def sort_number(self) -> int:
        """By which number it stands among the others: those without one come last."""
        return min(self.numbers, default=10**9)


@dataclass(frozen=True, slots=True)
class GroupRow:
    """A heading with the range of numbers beneath it."""

    name: str
    key: str
    span: str
    count: int
    folded: bool
    lines: tuple[LineRow, ...] = field(default=(), compare=False)


#: Lines made before, by source, each with all it was made from.
Kept = dict[SourceId, tuple[tuple[object, ...], LineRow]]


def chart_rows(
    survey: Survey, findings: Iterable[Finding], options: Options, kept: Kept | None = None
) -> tuple[GroupRow | LineRow, ...]:
    """Return the rows of the chart from top to bottom.

    Parameters
    ----------
    kept : map, optional
        The lines of the chart before; those made from the very same things are taken over, and the map is brought up to date.
    """
    worst = worst_by_id(findings)
    runs: dict[SourceId, list[SignalPath]] = {}
    for run in survey.signal_paths:
        if run.source is not None:
            runs.setdefault(run.source, []).append(run)
    late = late_by(survey.studio.session_sources, runs)
    studio = survey.studio
    ground = studio.units, survey.in_use, studio.as_built, survey.views, survey.powered, options.proposal
    before, lines = dict(kept) if kept is not None else {}, []
    for source in studio.session_sources:
        mine = runs[source.id]
        # A run of another survey may be another object; the way it goes is the same one while nothing on it changes.
        made = (
            *ground,
            source,
            *[r.way for r in mine],
            worst.get(source.id, ""),
            source.id in options.taken,
            options.selected == source.id,
            late.get(source.id, ""),
        )
        was = before.get(source.id)
        if (
            was is None
            or len(was[0]) != len(made)
            or not all(a is b or (isinstance(a, str) and a == b) for a, b in zip(was[0], made, strict=True))
        ):
            was = made, _line(survey, source, mine, worst, options, late.get(source.id, ""))
        if kept is not None:
            kept[source.id] = was
        lines.append(was[1])
    if options.sort == "number":
        return tuple(sorted(lines, key=lambda line: line.sort_number))
    groups: dict[str, list[LineRow]] = {}
    for line in lines:
        groups.setdefault(_heading(survey, line.source, options.sort), []).append(line)
    rows: list[GroupRow | LineRow] = []
    for name, members in groups.items():
        folded = name in options.folded
        if len(groups) > 1 or name:
            rows.append(GroupRow(name or "No group", name, span_text(members), len(members), folded, tuple(members)))
        if not folded:
            rows += members
    return tuple(rows)


def with_selected(rows: tuple[GroupRow | LineRow, ...], source: str) -> tuple[GroupRow | LineRow, ...]:
    """Return the rows with the line of a source selected, and no other."""
    if not source:
        return rows
    return tuple(replace(r, selected=True) if isinstance(r, LineRow) and r.source == source else r for r in rows)


def worst_by_id(findings: Iterable[Finding]) -> dict[str, str]:
    """Return the worst severity of all findings about each id."""
    worst: dict[str, str] = {}
    for finding in findings:
        for key in (finding.subject.key, *finding.concerns):
            if _SEVERITIES[finding.severity] >= _SEVERITIES[worst.get(key, "note")]:
                worst[key] = finding.severity
    return worst


def _heading(survey: Survey, source_id: SourceId, sort: Sort) -> str:
    source = survey.studio.source(source_id)
    if sort == "place":
        return survey.studio.places[source.place].name if source.place else ""
    return source.group


def span_text(lines: Collection[LineRow]) -> str:
    """Return the numbers of some lines as ranges: ``9–14, 17``."""
    numbers = sorted({n for line in lines if line.number for n in line.numbers})
    spans: list[list[int]] = []
    for number in numbers:
        if spans and number == spans[-1][1] + 1:
            spans[-1][1] = number
        else:
            spans.append([number, number])
    return ", ".join(f"{a}–{b}" if b > a else f"{a}" for a, b in spans)


def _line(
    survey: Survey, source: Source, runs: list[SignalPath], worst: dict[str, str], options: Options, late: str
) -> LineRow:
    way = in_way(survey, source, runs)
    proposal = options.proposal
    ghost = proposal.numbers_of(source.id) if proposal else ()
    ends = next((p.points for p in proposal.placements if p.source == source.id), ()) if proposal else ()
    return LineRow(
        source=source.id,
        name=source.name,
        track=source.track_name,
        kind=source.kind,
        stereo=source.channels == 2,
        stops=_stops_by_zone(survey, runs),
        number="" if way.broken else number_text(way.numbers),
        numbers=way.numbers,
        gap=way.gap,
        placed=way.placed,
        built=way.built,
        phantom=way.phantom,
        worst=worst.get(source.id, ""),
        selected=options.selected == source.id,
        ghost=number_text(ghost),
        ghost_port=in_ranges([f"{survey.studio.units[s.end.unit].name} {s.port.label}" for s in ends]),
        taken=source.id in options.taken,
        late=late,
    )


def _stops_by_zone(survey: Survey, runs: list[SignalPath]) -> dict[str, tuple[str, ...]]:
    """Return the stops of a line's channels, column by column of the chart."""
    zoned = [_zoned(survey, run) for run in runs]
    found = {}
    for zone in ZONES:
        columns = [stops.get(zone, []) for stops in zoned]
        deep = max((len(c) for c in columns), default=0)
        found[zone] = tuple(in_ranges([stop_text(survey, c[i]) for c in columns if i < len(c)]) for i in range(deep))
    found["before"] = tuple(text for zone in BEFORE for text in found[zone])
    return found


def _zoned(survey: Survey, run: SignalPath) -> dict[str, list[Stop]]:
    """Return the stops of one run by the column they stand in: panels, the bay before outboard, outboard, and the bay on the way back."""
    found: dict[str, list[Stop]] = {}
    views = survey.views
    for stop in run.stops:
        if stop.unit is None:
            continue
        zone: str = stop.zone
        if zone in ("outboard", "converter"):
            role = views[stop.unit].profile.role
            if role == "panel" and not found.keys() & {"bay", "outboard"}:
                zone = "panel"
            elif stop.port in survey.passages[stop.unit].points:
                zone = "back" if "outboard" in found else "bay"
        found.setdefault(zone, []).append(stop)
    return found


def stop_text(survey: Survey, stop: Stop) -> str:
    """Return a stop in a few words; its direction goes without saying in a chart that is read left to right."""
    if stop.unit is None:
        return ""
    port = survey.views[stop.unit].profile.port_by_key[stop.port]
    between = "·" if stop.port in survey.passages[stop.unit].points else " "
    text = f"{survey.studio.units[stop.unit].name}{between}{port.label}"
    if not port.is_digital:
        return text
    return f"{text.removesuffix(' in').removesuffix(' out')} · {stop.lane}"
