"""A return that an interface mixes by itself is heard twice."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, at
from ennead.studio.mixes import lane_name
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop whose return stands in a mix that its interface makes by itself."""
    for loop, channels in survey.once(circuits):
        for channel in channels:
            back = channel.comes_in
            if back is None:
                continue
            lane = lane_name(back.port, back.lane)
            mixes = survey.settings[back.unit].mixes
            held = [side for side, levels in mixes.items() if levels.get(lane, "off") != "off"]
            fed = set(survey.settings[back.unit].feeds.values())
            heard = [side for side in held if not survey.profiles[back.unit].mixes or side in fed]
            if not heard:
                continue
            name = survey.units[back.unit].name
            yield Finding(
                "return_in_direct_mix",
                "trouble",
                subject_of(loop.id),
                (loop.id, back.unit),
                f"{name} mixes the return of {loop.name} straight to its outputs ({heard[0].rpartition('/')[0]}).",
                "It is heard twice, once early and once through the software: a comb, or a ring"
                " where the same mix feeds"
                " the send. Take it out of that mix while the loop is in use.",
                (),
                tuple([f"{side}: {levels[lane]} dB" for side, levels in mixes.items() if side in heard]),
                cause=at(back),
            )
            break
