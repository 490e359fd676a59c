"""On which sheet something is best seen: the one list of it, for the window and for scripts; rules and planning know none of it."""

from functools import cache
from typing import Final

from ennead.checks.all_checks import CHECKS
from ennead.checks.finding import Finding

#: By the group of rules that a finding is of.
_OF_GROUP: Final[dict[str, str]] = {
    "clock": "Clock",
    "computers": "Rig",
    "links": "Links",
    "sources": "Lines",
    "destinations": "Lines",
    "bays": "Bays",
    "loops": "Loops",
}
#: Rules that are seen elsewhere than the others of their group.
_OF_RULE: Final[dict[str, str]] = {
    "active_di_unfed": "Session",
    "digital_source_keeps_time": "Clock",
    "hears_left_minus_right": "Rig",
    "lanes_lost": "Lines",
    "loop_comes_back_late": "Loops",
    "loop_numbers_differ": "Loops",
    "measured_delay_stale": "Loops",
    "names_alike": "Session",
    "not_enough_inputs": "Session",
    "not_enough_outputs": "Session",
    "pair_hidden": "Session",
    "ribbon_takes_phantom": "Session",
    "signal_in_ring": "Rig",
    "spare_missing": "Session",
}
#: Rules with findings that are seen where their subject is.
_OF_SUBJECT: Final = frozenset({"faulty_port_used", "two_outputs_joined"})
_OF_KIND: Final[dict[str, str]] = {"cord": "Bays", "source": "Lines", "destination": "Lines"}
#: By what is to be done next.
_OF_STEP: Final[dict[str, str]] = {
    "list": "Session",
    "shelf": "Rig",
    "computer": "Rig",
    "link": "Links",
    "ends": "Lines",
    "allocate": "Lines",
}


@cache
def _group_of(rule: str) -> str:
    return next(
        group for group, checks in CHECKS.items() if any(c.__module__.rsplit(".", 1)[-1] == rule for c in checks)
    )


def sheet_of(finding: Finding) -> str:
    """Return the name of the sheet on which a finding is best seen."""
    if finding.rule in _OF_SUBJECT:
        return _OF_KIND.get(finding.subject.kind, "Rig")
    # A rule that failed is seen where its findings would have been.
    rule = finding.subject.key if finding.rule == "rule_failed" else finding.rule
    return _OF_RULE.get(rule) or _OF_GROUP[_group_of(rule)]


def sheet_of_step(step: str) -> str:
    """Return the name of the sheet on which the next step is done."""
    return _OF_STEP[step]
