"""List the patch bays: every point with its label, its normal and what is wired behind it."""

import argparse

from ennead.cli.studio_argument import add_studio, studio_of
from ennead.cli.terminal import print_json, say
from ennead.reports.bay_rows import bay_rows, point_rows


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, rate=False)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    studio = studio_of(args)
    if args.json:
        print_json({"bays": bay_rows(studio), "points": point_rows(studio)})
        return 0
    for bay in bay_rows(studio):
        place = f", {bay['place']}" if bay["place"] else ""
        say(f"{bay['bay']}{place}: {bay['points']} points, {bay['connector']}, every {bay['pitch_mm']:g} mm")
        for row in point_rows(studio):
            if row["bay"] == bay["bay"]:
                parts = [
                    row["label"],
                    row["normal"],
                    row["to"] and f"wired to {row['to']}",
                    row["fault"] and f"out of service: {row['fault']}",
                ]
                say(f"  {row['point']:>10}  {'; '.join(part for part in parts if part)}".rstrip())
    if not studio.bays:
        say("There are no patch bays.")
    return 0
