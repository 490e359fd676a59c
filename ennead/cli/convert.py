"""Convert a studio between .ennead and .json; nothing is lost either way."""

import argparse
from pathlib import Path

from ennead.cli.studio_argument import elsewhere
from ennead.files.photographs import photos_of
from ennead.files.studio_path import read_studio, write_studio


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument("source", metavar="IN", type=Path, help="a .ennead or .json file")
    verb.add_argument("out", metavar="OUT", type=Path, help="a .ennead or .json file to write")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    write_studio(elsewhere(args.source, args.out), read_studio(args.source), photos_of(args.source))
    return 0
