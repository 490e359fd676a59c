"""Working levels along a loop should meet."""

from collections.abc import Iterator
from itertools import pairwise

from ennead.checks.finding import Finding, at
from ennead.standards.levels import LEVEL_GAP_DB
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.staircase import staircase
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
                (),
                (
                    f"{abs((one.nominal_dbu or 0.0) - (other.nominal_dbu or 0.0)):.1f} dB apart; told"
                    f" from {LEVEL_GAP_DB:g} dB on (house default)",
                ),
                cause=at(one.at, other.at),
            )
            break
