"""What arrives at a stop of a loop must stay below its limit."""

from collections.abc import Iterator
from typing import Final

from ennead.checks.finding import Finding, at
from ennead.studio.session import PlacedDestination
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.staircase import LevelStop, staircase
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop on which a stop clips at the track's loudest, at the first one."""
    for circuit in survey.once(circuits):
        for channel in circuit.channels:
            stairs = staircase(survey, circuit, channel)
            hot = [s for s in stairs.stops if s.headroom_db is not None and s.headroom_db < -_HAIR_DB]
            if stairs.sent_dbfs > _HAIR_DB or hot:
                yield _finding(survey, circuit.loop, stairs.sent_dbfs, hot[0] if hot else stairs.stops[0])
                break


#: Rounding is no overload, dB.
_HAIR_DB: Final = 0.05


def _finding(survey: Parts, loop: PlacedDestination, sent: float, stop: LevelStop) -> Finding:
    unit, port = survey.units[stop.at.unit], survey.profiles[stop.at.unit].port_by_key[stop.at.port]
    over = sent if sent > _HAIR_DB else -(stop.headroom_db or 0.0)
    if sent > _HAIR_DB:
        message = f"{loop.name} is sent {sent:.1f} dB above full scale."
        way = "Turn the send gain down, or the track."
    elif stop.at.what == "A/D":
        message = f"{loop.name} comes back {over:.1f} dB too hot for {unit.name} {port.label}."
        way = "Turn the box's output down: the return gain in the software comes after the converter."
    else:
        message = f"{loop.name} overloads {unit.name} {port.label} by {over:.1f} dB."
        way = "Turn the send gain down, or the box before it."
    return Finding(
        "loop_clips",
        "trouble",
        subject_of(loop.id),
        (loop.id, unit.id),
        message,
        f"The loudest of the track is flattened there, and nothing behind mends it. {way}",
        (),
        (
            f"peak {stop.peak_dbu:+.1f} dBu ({stop.working})" if stop.peak_dbu is not None else stop.working,
            f"limit {stop.limit_dbu:+.1f} dBu" if stop.limit_dbu is not None else "limit 0 dBFS",
        ),
        cause=at(stop.at),
    )
