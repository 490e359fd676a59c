"""Write the demo studio, Skerry Sound House, to a file."""

import argparse
from pathlib import Path

from ennead.cli.terminal import say
from ennead.files.studio_path import write_studio


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument("out", metavar="OUT", type=Path, help="a .ennead or .json file to write")
    verb.add_argument("--finished", action="store_true", help="the revision in which its mistakes are solved")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.demo.pictures import demo_photos
    from ennead.demo.skerry import skerry

    write_studio(args.out, skerry(finished=args.finished), demo_photos())
    say(f"Skerry Sound House is in {args.out}", trouble=True)
    return 0
