"""Working levels along a loop should meet."""

from collections.abc import Iterator
from itertools import pairwise

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.settings import set_mode
from ennead.standards.levels import LEVEL_GAP_DB
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.staircase import LevelStop, staircase
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every loop on which a working level meets another far from it: +4 dBu into −10 dBV, and back."""
    for circuit in survey.once(circuits):
        for channel in circuit.channels:
            stops = [s for s in staircase(survey, circuit, channel).stops if s.nominal_dbu is not None]
            apart = [
                (a, b)
                for a, b in pairwise(stops)
                if a.at.unit != b.at.unit and abs((a.nominal_dbu or 0.0) - (b.nominal_dbu or 0.0)) >= LEVEL_GAP_DB
            ]
            if not apart:
                continue
            (one, other), loop = apart[0], circuit.loop
            names = [f"{survey.units[s.at.unit].name} {s.nominal_dbu:+.1f} dBu" for s in (one, other)]
            low = (other.nominal_dbu or 0.0) < (one.nominal_dbu or 0.0)
            yield Finding(
                "loop_levels_apart",
                "caution",
                subject_of(loop.id),
                (loop.id, one.at.unit, other.at.unit),
                f"On {loop.name} two working levels meet: {names[0]} into {names[1]}.",
                "It is driven far harder than it is made for: distortion, unless that is wanted."
                " Turn the send down, use a"
                " −10/+4 switch, or a re-amp box in front of a pedal."
                if low
                else "It comes back low, and its noise is raised with it. Look for a −10/+4 switch at"
                " either end, or use a"
                " DI box.",
                _switching(survey, one, other),
                (
                    f"{abs((one.nominal_dbu or 0.0) - (other.nominal_dbu or 0.0)):.1f} dB apart; told"
                    f" from {LEVEL_GAP_DB:g} dB on (house default)",
                ),
                cause=at(one.at, other.at),
            )
            break


def _switching(survey: Parts, one: LevelStop, other: LevelStop) -> tuple[Fix, ...]:
    """Return the fixes that set a switch at either end to the level of the other end."""
    fixes = []
    for stop, far in ((one, other), (other, one)):
        unit = stop.at.unit
        port, profile = survey.profiles[unit].port_by_key[stop.at.port], survey.profiles[unit]
        mode = profile.mode(port.level_mode) if port.level_mode else None
        for choice in mode.choices if mode is not None else ():
            level = port.levels_as_set({mode.key: choice.key}).get("line") if mode is not None else None
            meets = level is not None and level.nominal_dbu is not None and far.nominal_dbu is not None
            if meets and abs(level.nominal_dbu - far.nominal_dbu) < LEVEL_GAP_DB:  # type: ignore[union-attr,operator]
                text = f"Set {survey.units[unit].name} to {choice.label}"
                fixes.append(Fix(text, change(text, set_mode, unit, port.level_mode, choice.key)))
                break
    return tuple(fixes)
