"""All rules by subject, and the list of findings of a survey."""

from collections.abc import Callable, Iterator
from typing import Final

from ennead.checks import (
    adapter_doubtful,
    cable_too_long,
    clock_arrives_late,
    clock_does_not_arrive,
    clock_runs_in_ring,
    computer_resamples,
    driver_out_of_support,
    expander_on_computer,
    faulty_port_used,
    formats_disagree,
    generator_not_followed,
    input_resampled,
    interface_does_not_plug_in,
    interface_not_on_computer,
    lanes_lost,
    locks_but_wrong,
    many_hops,
    names_alike,
    no_clock_menu,
    not_enough_inputs,
    nothing_behind_optical,
    one_fibre_expander_leads,
    outputs_have_no_way_back,
    pair_split,
    phantom_missing,
    phantom_reaches_forbidden,
    power_down_first,
    rate_by_hand,
    rate_not_offered,
    rate_switch_differs,
    routing_not_stored,
    run_ends_early,
    second_fibre_missing,
    source_does_not_fit,
    source_not_plugged_in,
    two_cannot_follow,
    two_leaders,
    two_outputs_joined,
    unit_lacks_phantom,
    word_line_closed_twice,
    word_line_open,
    word_line_shared,
)
from ennead.checks.finding import Finding, rank
from ennead.survey.survey import Survey

Check = Callable[[Survey], Iterator[Finding]]

CHECKS: Final[dict[str, tuple[Check, ...]]] = {
    "clock": (
        one_fibre_expander_leads.check,
        two_leaders.check,
        clock_does_not_arrive.check,
        clock_runs_in_ring.check,
        rate_not_offered.check,
        computer_resamples.check,
        word_line_open.check,
        word_line_closed_twice.check,
        word_line_shared.check,
        many_hops.check,
        two_cannot_follow.check,
        rate_by_hand.check,
        rate_switch_differs.check,
        input_resampled.check,
        generator_not_followed.check,
        clock_arrives_late.check,
        no_clock_menu.check,
    ),
    "computers": (
        interface_not_on_computer.check,
        interface_does_not_plug_in.check,
        driver_out_of_support.check,
        power_down_first.check,
    ),
    "links": (
        formats_disagree.check,
        lanes_lost.check,
        cable_too_long.check,
        two_outputs_joined.check,
        outputs_have_no_way_back.check,
        locks_but_wrong.check,
        routing_not_stored.check,
        adapter_doubtful.check,
        second_fibre_missing.check,
        nothing_behind_optical.check,
        expander_on_computer.check,
    ),
    "sources": (
        run_ends_early.check,
        source_does_not_fit.check,
        phantom_reaches_forbidden.check,
        phantom_missing.check,
        unit_lacks_phantom.check,
        faulty_port_used.check,
        pair_split.check,
        source_not_plugged_in.check,
        not_enough_inputs.check,
        names_alike.check,
    ),
}


def find_all(survey: Survey) -> tuple[Finding, ...]:
    """Return every finding, trouble first; within a severity in the order of the rules."""
    found = [f for checks in CHECKS.values() for check in checks for f in check(survey)]
    return tuple(sorted(found, key=rank))
