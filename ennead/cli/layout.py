"""Propose which socket stands behind which point of the bays, so that the scenes need few cords; write it to a file where one is named."""

import argparse
from pathlib import Path

from ennead.cli.studio_argument import add_studio, elsewhere, studio_of
from ennead.cli.terminal import print_json, say
from ennead.files.photographs import photos_of
from ennead.files.studio_path import write_studio
from ennead.planning.bay_layout.layout import LaidOut, lay_out
from ennead.planning.bay_layout.layout_texts import layout_text, neighbour_texts
from ennead.studio.document import Studio


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, rate=False)
    verb.add_argument("--output", metavar="FILE", type=Path, help="where the studio with the layout is written")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    if args.output is not None:
        elsewhere(args.studio, args.output)
    studio = studio_of(args)
    found = lay_out(studio)
    if args.output is not None:
        write_studio(args.output, found.change.apply(studio), photos_of(args.studio))
    moved = _moved(studio, found)
    if args.json:
        print_json(_row(found, moved))
        return 0
    for row in moved:
        say(f"{row['cable']:>5}  {row['socket']}: {row['from']} → {row['to']}")
    say(layout_text(found))
    for text in neighbour_texts(found):
        say(text)
    return 0


def _row(found: LaidOut, moved: list[dict[str, str]]) -> dict[str, object]:
    return {
        "moved": moved,
        "cords_before": found.cords_before,
        "cords_after": found.cords_after,
        "saved": found.saved,
        "bound": found.bound,
        "given_up": list(found.given_up.values()),
    }


def _moved(studio: Studio, found: LaidOut) -> list[dict[str, str]]:
    """Return each cable that goes behind another point, with its socket and both points."""
    return [
        {
            "cable": going.cable,
            "socket": studio.end_text(going.socket),
            "from": studio.end_text(going.start),
            "to": studio.end_text(going.end),
        }
        for going in found.going
    ]
