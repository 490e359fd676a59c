"""List every run, stop by stop: sources to driver inputs, or driver outputs to ears."""

import argparse

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.reports.line_rows import line_rows
from ennead.survey.traces import legs
from ennead.survey.words import gap_text, stop_texts


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument("--direction", choices=("in", "out"), default="in", help="inputs (default) or outputs")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    survey = survey_of(args)
    runs = survey.signal_paths if args.direction == "in" else survey.output_paths
    if args.json:
        print_json({"runs": line_rows(survey, runs)})
        return 0
    for run_ in (leg for run in runs for leg in (run, *legs(survey, run))):
        number = str(run_.driver.number) if run_.driver else "–"
        stops = " → ".join(stop_texts(survey, run_))
        if run_.to is not None:
            stops += f" → {survey.destination_by_id[run_.to].name}"
        say(f"{number:>5}  {stops}" + (f"  ✗ {gap_text(survey, run_)}" if run_.gap and not run_.is_spare else ""))
    return 0
