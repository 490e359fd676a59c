"""Write the cable schedule or the driver sheet to a file, by its ending: csv, json or md."""

import argparse
from pathlib import Path

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.files.exports import export_list


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument("--what", required=True, choices=("cables", "drivers"), help="which list")
    verb.add_argument("--output", required=True, metavar="FILE", type=Path, help="a .csv, .json or .md file")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    export_list(survey_of(args), args.what, args.output)
    return 0
