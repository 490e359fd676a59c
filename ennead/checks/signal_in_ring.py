"""No signal may come back to where it was: it howls, or swings up beyond hearing."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.subjects import subject_of
from ennead.survey.rings import rings
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
            (),
            (f"into, one after the other in some order: {', '.join(dict.fromkeys(ports))}",),
            cause=at(*[lane[:2] for lane in ring]),
        )
