"""All rules by subject, and the list of findings of a survey."""

from collections.abc import Callable, Iterator
from typing import Final

from ennead.checks import (
    active_di_unfed,
    adapter_doubtful,
    arrives_twice,
    bank_wanted_both_ways,
    box_in_two_loops,
    cable_too_long,
    clock_arrives_late,
    clock_does_not_arrive,
    clock_off_its_range,
    clock_runs_in_ring,
    computer_resamples,
    cord_connectors_differ,
    cord_hangs_loose,
    cord_in_faulty_point,
    cord_joins_nothing,
    cord_left_over,
    cord_too_short,
    cords_beyond_stock,
    destination_not_placed,
    digital_source_keeps_time,
    driver_out_of_support,
    expander_on_computer,
    faulty_port_used,
    formats_disagree,
    generator_not_followed,
    group_on_two_clocks,
    group_out_of_step,
    headphones_on_line_output,
    hears_left_minus_right,
    important_not_placed,
    input_loads_source,
    input_overloaded,
    input_resampled,
    interface_does_not_plug_in,
    interface_not_on_computer,
    label_too_long,
    lanes_lost,
    leg_ends_early,
    level_mismatch,
    locks_but_wrong,
    loop_box_off,
    loop_channels_meet,
    loop_clips,
    loop_comes_back_late,
    loop_level_not_stated,
    loop_levels_apart,
    loop_not_measured,
    loop_number_picked_otherwise,
    loop_numbers_differ,
    loop_on_two_clocks,
    loop_points_apart,
    loop_sides_swapped,
    loop_wired_otherwise,
    loop_without_box,
    madi_has_no_room,
    many_hops,
    measured_delay_stale,
    mic_beside_line,
    mult_loads_output,
    names_alike,
    no_clock_menu,
    normal_feeds_off,
    not_enough_inputs,
    not_enough_outputs,
    nothing_behind_optical,
    number_picked_otherwise,
    one_fibre_expander_leads,
    outboard_has_no_way_in,
    output_does_not_suit,
    output_off,
    output_pair_split,
    output_shared,
    outputs_have_no_way_back,
    pad_not_needed,
    pair_hidden,
    pair_out_of_step,
    pair_split,
    pair_upside_down,
    phantom_missing,
    phantom_on_return,
    phantom_reaches_forbidden,
    phantom_through_bay,
    pickup_cable_long,
    pinned_does_not_work,
    point_wired_twice,
    power_down_first,
    rate_by_hand,
    rate_not_offered,
    rate_pulled,
    rate_switch_differs,
    return_at_mic_level,
    return_in_direct_mix,
    return_taken,
    ribbon_takes_phantom,
    routing_not_stored,
    row_convention,
    run_ends_early,
    scene_of_another_evening,
    second_fibre_missing,
    send_carries_mix,
    signal_in_ring,
    signal_orphaned,
    source_does_not_fit,
    source_not_plugged_in,
    source_off_its_way,
    spare_missing,
    speaker_level_on_bay,
    stereo_half_plugged,
    two_cannot_follow,
    two_leaders,
    two_outputs_joined,
    unbalanced_plug,
    unbalanced_tail,
    unit_lacks_phantom,
    unit_missing,
    word_line_closed_twice,
    word_line_open,
    word_line_shared,
)
from ennead.checks.finding import Finding, rank
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from ennead.survey.survey_interface import Parts

Check = Callable[[Parts], Iterator[Finding]]

CHECKS: Final[dict[str, tuple[Check, ...]]] = {
    "clock": (
        one_fibre_expander_leads.check,
        two_leaders.check,
        clock_does_not_arrive.check,
        clock_off_its_range.check,
        clock_runs_in_ring.check,
        rate_not_offered.check,
        computer_resamples.check,
        word_line_open.check,
        word_line_closed_twice.check,
        word_line_shared.check,
        many_hops.check,
        two_cannot_follow.check,
        rate_by_hand.check,
        rate_pulled.check,
        rate_switch_differs.check,
        input_resampled.check,
        generator_not_followed.check,
        clock_arrives_late.check,
        no_clock_menu.check,
    ),
    "bays": (
        cord_hangs_loose.check,
        signal_orphaned.check,
        mult_loads_output.check,
        speaker_level_on_bay.check,
        phantom_through_bay.check,
        mic_beside_line.check,
        unbalanced_plug.check,
        unbalanced_tail.check,
        pair_upside_down.check,
        point_wired_twice.check,
        row_convention.check,
        loop_points_apart.check,
        cords_beyond_stock.check,
        cord_too_short.check,
        cord_left_over.check,
        label_too_long.check,
        cord_connectors_differ.check,
        normal_feeds_off.check,
        cord_in_faulty_point.check,
        cord_joins_nothing.check,
        scene_of_another_evening.check,
    ),
    "computers": (
        unit_missing.check,
        interface_not_on_computer.check,
        interface_does_not_plug_in.check,
        driver_out_of_support.check,
        power_down_first.check,
    ),
    "links": (
        formats_disagree.check,
        lanes_lost.check,
        madi_has_no_room.check,
        cable_too_long.check,
        two_outputs_joined.check,
        outputs_have_no_way_back.check,
        locks_but_wrong.check,
        routing_not_stored.check,
        adapter_doubtful.check,
        second_fibre_missing.check,
        nothing_behind_optical.check,
        expander_on_computer.check,
        signal_in_ring.check,
        hears_left_minus_right.check,
    ),
    "sources": (
        run_ends_early.check,
        number_picked_otherwise.check,
        source_does_not_fit.check,
        phantom_reaches_forbidden.check,
        phantom_missing.check,
        unit_lacks_phantom.check,
        faulty_port_used.check,
        pair_split.check,
        pair_hidden.check,
        source_not_plugged_in.check,
        not_enough_inputs.check,
        names_alike.check,
        group_out_of_step.check,
        pair_out_of_step.check,
        group_on_two_clocks.check,
        bank_wanted_both_ways.check,
        input_overloaded.check,
        pad_not_needed.check,
        level_mismatch.check,
        input_loads_source.check,
        active_di_unfed.check,
        ribbon_takes_phantom.check,
        source_off_its_way.check,
        outboard_has_no_way_in.check,
        pinned_does_not_work.check,
        digital_source_keeps_time.check,
        spare_missing.check,
        return_taken.check,
        stereo_half_plugged.check,
        pickup_cable_long.check,
        important_not_placed.check,
        leg_ends_early.check,
        arrives_twice.check,
    ),
    "destinations": (
        destination_not_placed.check,
        output_shared.check,
        output_off.check,
        output_does_not_suit.check,
        output_pair_split.check,
        not_enough_outputs.check,
        loop_numbers_differ.check,
        loop_wired_otherwise.check,
        loop_comes_back_late.check,
        measured_delay_stale.check,
        headphones_on_line_output.check,
    ),
    "loops": (
        phantom_on_return.check,
        loop_clips.check,
        box_in_two_loops.check,
        loop_sides_swapped.check,
        loop_channels_meet.check,
        loop_on_two_clocks.check,
        loop_box_off.check,
        send_carries_mix.check,
        return_in_direct_mix.check,
        loop_number_picked_otherwise.check,
        loop_without_box.check,
        return_at_mic_level.check,
        loop_levels_apart.check,
        loop_level_not_stated.check,
        loop_not_measured.check,
    ),
}


#: Whether a rule that fails stops everything: so in tests, where such a fault must not hide.
strict: bool = False


def find_all(survey: Survey) -> tuple[Finding, ...]:
    """Return every finding, trouble first; within a severity in the order of the rules.

    A rule that fails becomes a finding itself, and all others go on.
    """
    found: list[Finding] = []
    for checks in CHECKS.values():
        for check in checks:
            try:
                found += survey.once(check)
            except Exception as error:
                if strict:
                    raise
                found.append(_failed(check, error))
    missing = survey.session_facts.missing
    if missing:
        # Findings about a missing box are left out: it is not there to be set right.
        found = [f for f in found if f.subject.key not in missing or f.rule == "unit_missing"]
    return tuple(sorted(found, key=rank))


def _failed(check: Check, error: Exception) -> Finding:
    """Return what is said of a rule that failed; the details are logged."""
    import logging
    import traceback

    rule = check.__module__.rsplit(".", 1)[-1]
    logging.getLogger("ennead").error("the rule %s failed", rule, exc_info=error)
    last = traceback.extract_tb(error.__traceback__)[-1]
    return Finding(
        "rule_failed",
        "trouble",
        Subject("rule", rule),
        (),
        f"This rule failed: {rule.replace('_', ' ')}. What it would have said is not known.",
        "Something in this studio is other than the program expects, so that a fault of that kind would go unseen. All"
        " other rules were asked. Undo the last edit if it began with it, and keep the file for whoever mends the"
        " program.",
        (),
        (f"{type(error).__name__} in {last.name}, line {last.lineno} of {last.filename.rsplit('/', 1)[-1]}",),
    )
