"""Plan the real-time passes of the print jobs: which run together, what to dial before each, and how short it could be."""

import argparse

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.planning.passes.print_plan import print_plan
from ennead.reports.pass_rows import boxes_of, clock_text, pass_rows, passes_row, passes_said, passes_working


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    survey = survey_of(args)
    studio = survey.studio
    found = print_plan(survey)
    if args.json:
        print_json(passes_row(studio, found))
        return 0
    for row in pass_rows(studio, found):
        song = f" · {row.song}" if row.song else ""
        say(f"{row.n}. at {clock_text(row.starts_s)}, {clock_text(row.length_s)} long{song}")
        for line in row.dials:
            say(f"    dial {line}")
        for job in row.jobs:
            say(f"    print {job.track} through {boxes_of(studio, job)}")
    for key, why in found.cannot.items():
        say(f"Not printed: {studio.prints[key].track}, because {why}.")
    if found.plan.passes:
        for line in passes_working(found):
            say(line)
    say(passes_said(found))
    return 0
