"""List every digital link with its channels at the rate and what is used of them."""

import argparse

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.reports.link_rows import link_rows
from ennead.standards.links import LINKS


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    rows = link_rows(survey_of(args))
    if args.json:
        print_json({"links": rows})
        return 0
    for row in rows:
        length = f", {row['length_m']:g} m" if row["length_m"] is not None else ""
        lanes = f"{row['channels_used']} of {row['channels_capacity']}" if row["channels_capacity"] else "–"
        say(
            f"{row['id']:<6} {LINKS[row['kind']].label:<24} {lanes:>9}  {row['from']} → {row['to']} "
            f" ({row['cable']}{length})"
        )
    return 0
