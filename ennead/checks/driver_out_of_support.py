"""A driver may end before the computer's system: "last supported on version …"."""

import re
from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts

_VERSION = re.compile(r"\d+(?:\.\d+)*")


def version(text: str) -> tuple[int, ...]:
    """Return the numbers of a version, so that 10.9 comes before 10.15; empty where there is none."""
    found = _VERSION.search(text)
    return tuple(int(part[:9]) for part in found.group().split(".")) if found else ()


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a caution for every interface with a driver that does not support the computer's system."""
    for computer in survey.computers.values():
        runs = version(computer.system)
        for unit in computer.interfaces:
            stated = survey.views[unit].profile.last_system
            last = version(stated)
            if not runs or not last or runs[: len(last)] <= last:
                continue
            name = survey.units[unit].name
            yield Finding(
                "driver_out_of_support",
                "caution",
                subject_of(unit),
                (unit, computer.id),
                f"{name}'s driver is stated up to system {stated}; {computer.name} runs {computer.system}.",
                "It may not appear at all, or fail in the middle of a take. Try it before the evening, or keep an older"
                " system for it.",
                (),
                (f"{'.'.join(map(str, runs))} is later than {'.'.join(map(str, last))}",),
            )
