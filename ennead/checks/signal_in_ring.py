"""No signal may come back to where it was: it howls, or swings up beyond hearing."""

from collections.abc import Iterator, Sequence

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.bays import set_normal
from ennead.edits.change import change
from ennead.studio.house import PortEnd
from ennead.studio.subjects import subject_of
from ennead.survey.rings import Lane, rings
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every set of lanes that feed each other."""
    for ring in survey.once(rings):
        units = tuple(dict.fromkeys(unit for unit, _, _ in ring))
        names = " and ".join(survey.units[u].name for u in units)
        ports = [f"{survey.units[u].name} · {survey.profiles[u].port_by_key[port].label}" for u, port, _ in ring]
        yield Finding(
            "signal_in_ring",
            "trouble",
            subject_of(units[0]),
            units,
            f"A signal runs in a ring through {names}." if len(units) > 1 else f"{names} feeds itself.",
            "With gain in it, it howls; without, it colours whatever joins it. Mute, turn down, and pull one cable of"
            " the ring.",
            _opening(survey, ring),
            (f"into, one after the other in some order: {', '.join(dict.fromkeys(ports))}",),
            cause=at(*[lane[:2] for lane in ring]),
        )


def _opening(survey: Parts, ring: Sequence[Lane]) -> tuple[Fix, ...]:
    """Return the fixes that open a pair of points of which the normal closes the ring."""
    inputs = {lane[:2] for lane in ring}
    nets = [net for lane in ring if (net := survey.nets.get(lane)) is not None]
    fixes = {}
    for contacts in [{(key, port) for key, port, _ in net.contacts} for net in nets]:
        if not contacts & inputs:
            continue
        for unit, bay in survey.bays.items():
            plugged = {plug.port for cord in survey.cords for plug in cord.plugs if plug.unit == unit}
            for normal in bay.live_normals(plugged):
                if {(unit, normal.start), (unit, normal.end)} <= contacts:
                    one, other = (survey.end_text(PortEnd(unit, key)) for key in (normal.start, normal.end))
                    text = f"Open this pair: no normal from {one} to {other}"
                    start = PortEnd(unit, normal.start)
                    fixes[unit, normal] = Fix(text, change(text, set_normal, start, "", normal.end))
    return tuple(fixes.values())
