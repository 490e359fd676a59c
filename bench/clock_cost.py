"""What planning the clock of forty units costs, all leaders and schools, against plain trees of the same graph."""

import random
from statistics import median

import networkx as nx

from bench.report import Report, turn_about
from ennead.edits.cables import connect, misfit
from ennead.edits.computer import add_computer, join_computer, leave_computer
from ennead.edits.house import add_place, add_unit, place_named
from ennead.files.profiles import shelf
from ennead.planning.clock.clock_plan import POLICIES, ClockPlan, plan_clock
from ennead.planning.clock.clock_ways import clock_ways
from ennead.studio.document import Studio, empty_studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.ids import ComputerId, UnitId
from ennead.survey.survey import Survey

#: In one domain. So many boxes are cabled at random that the largest domain has at least as many.
UNITS = 40
_BOXES = 50


def clock_house(seed: int, units: int = _BOXES) -> Studio:
    """Return digital boxes in four places, cabled at random for sound, few of them for clock; all meet in one domain."""
    dice = random.Random(seed)
    boxes = [p for p in shelf() if p.clock_sources and any(c.port for c in p.clock_sources) and p.role != "clock"]
    studio = add_computer(empty_studio("Clock house"))
    for place in ("Hall", "Booth", "Control room", "Rack"):
        studio = add_place(studio, place)
    places = [place_named(studio, p) for p in ("Hall", "Booth", "Control room", "Rack")]
    generator = next(p for p in shelf() if p.name == "word-clock generator, six outputs")
    studio = add_unit(studio, generator, "Generator", places[3])
    for number in range(units - 1):
        studio = add_unit(studio, dice.choice(boxes), f"Box {number + 1}", dice.choice(places))
    ends = [PortEnd(u, p.key) for u in studio.units for p in studio.profile_of(u).ports if p.is_digital]
    for _ in range(40 * units):
        one, other = dice.choice(ends), dice.choice(ends)
        if one.unit != other.unit and not misfit(studio.port(one), studio.port(other)) and dice.random() < 0.35:
            try:
                studio = connect(studio, one, other)
            except EnneadError:
                continue
    for unit in studio.units.values():
        if studio.profile_of(unit.id).driver_maps:
            studio = join_computer(leave_computer(studio, unit.id), unit.id, ComputerId("H1"))
    return studio


def _plans(survey: Survey) -> list[ClockPlan]:
    domain = max(survey.clocks.domains, key=lambda d: len(d.units))
    return [plan_clock(survey, domain, policy) for policy in POLICIES]


def _plain(graph: nx.DiGraph, leaders: list[UnitId]) -> None:
    for leader in leaders:
        rooted = graph.copy()
        rooted.remove_edges_from(list(graph.in_edges(leader)))
        try:
            nx.minimum_spanning_arborescence(rooted)
        except nx.NetworkXException:
            continue


def run(report: Report, rounds: int = 3) -> None:
    """Measure on several houses."""
    report.head(
        f"Clock of {UNITS} units: all leaders and {len(POLICIES)} schools, against one plain networkx tree a leader"
    )
    ratios, unproven, scarce = [], 0, 0
    for seed in range(5):
        survey = Survey(clock_house(seed))
        domain = max(survey.clocks.domains, key=lambda d: len(d.units))
        graph = nx.DiGraph()
        graph.add_nodes_from(domain.units)
        among = set(domain.units)
        for way in sorted(clock_ways(survey, domain.units).ways, key=lambda w: -w.cost):
            if way.start.unit in among and way.end.unit in among:
                graph.add_edge(way.start.unit, way.end.unit, weight=way.cost)
        found = _plans(survey)
        trees = [a.tree for plan in found for a in plan.alternatives]
        unproven += sum(not t.proven for t in trees)
        scarce += sum(t.plain < t.cost for t in trees)
        ours, plain = turn_about(
            (lambda s=survey.studio: _plans(Survey(s)), lambda g=graph, d=domain: _plain(g, list(d.units))), rounds
        )
        ratios.append(ours / plain)
        report.say(
            f"  house {seed}: {len(domain.units)} units, {graph.number_of_edges()} ways, {len(trees)} trees: "
            f"{ours * 1e3:.0f} ms against {plain * 1e3:.0f} ms: {ours / plain:.2f}"
        )
    report.figure("clock_plan", round(max(ratios), 3), f"at worst {max(ratios):.2f}, median {median(ratios):.2f}", 1.0)
    report.figure(
        "clock_plan_unproven", unproven, f"trees not proven cheapest: {unproven}; sockets were scarce in {scarce}", 0
    )
