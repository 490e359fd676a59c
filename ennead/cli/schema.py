"""Print the JSON Schema of the interchange form, or of a profile."""

import argparse

from ennead.cli.terminal import print_json


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument("--of", choices=("studio", "profile"), default="studio", help="what the schema describes")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.files.interchange import json_schema
    from ennead.files.profile_schema import profile_schema

    print_json(profile_schema() if args.of == "profile" else json_schema())
    return 0
