"""Show the outboard loops: send, boxes, return, how late each comes back, and how loud it is at each stop."""

import argparse

from ennead.checks.all_checks import find_all
from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.reports.loop_rows import (
    about,
    boxes_text,
    figures_of,
    loop_row,
    numbers_text,
    offset_text,
    open_text,
    peak_text,
    stop_name,
    time_working,
)
from ennead.survey.circuits import circuits


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    survey = survey_of(args)
    found = [figures_of(survey, circuit) for circuit in survey.once(circuits)]
    findings = find_all(survey)
    if args.json:
        print_json({"loops": [loop_row(survey, one, findings) for one in found]})
        return 0
    for one in found:
        use = "on a bus beside the dry path" if one.loop.use.parallel else "insert"
        away = "" if one.circuit.closed else "  (does not go round)"
        say(
            f"{one.loop.name}: send {numbers_text(one.sends)} → {boxes_text(one)} → return"
            f" {numbers_text(one.returns)}, {use}{away}"
        )
        for line in time_working(survey, one.time) if one.time is not None else ():
            say(f"    {line}")
        say(f"    {offset_text(one, survey.rate_hz) if one.circuit.closed else open_text(one)}")
        for stop in one.levels[0].stops if one.levels else ():
            peak = peak_text(stop) or "not known"
            room = f", headroom {stop.headroom_db:.1f} dB" if stop.headroom_db is not None else ""
            say(f"    {stop_name(survey, stop.at)}: {peak}{room}  ({stop.working})")
        for finding in about(one.loop, findings):
            say(f"    {finding.severity}: {finding.message}")
    if not found:
        say("No outboard loop is on this session's list.")
    return 0
