"""Print the JSON Schema of the interchange form."""

import argparse

from ennead.cli.studio_argument import print_json


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments: none."""


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.files.interchange import json_schema

    print_json(json_schema())
    return 0
