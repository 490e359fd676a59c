"""List what to switch, pull and plug between two sessions, and which tracks change number."""

import argparse

from ennead.cli.studio_argument import add_studio
from ennead.cli.terminal import print_json, say
from ennead.edits.sessions import session_named
from ennead.files.studio_path import read_studio
from ennead.reports.changeover import changeover, move_rows


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, rate=False, session=False)
    verb.add_argument(
        "--from", dest="start", metavar="SESSION", required=True, help="the evening that ends, by name or id"
    )
    verb.add_argument("--to", dest="end", metavar="SESSION", required=True, help="the evening that follows")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    studio = read_studio(args.studio)
    found = changeover(studio, session_named(studio, args.start), session_named(studio, args.end))
    if args.json:
        renumbered = [{"track": r.track, "from": r.before, "to": r.after} for r in found.renumbered]
        print_json({"steps": move_rows(found), "renumbered": renumbered})
        return 0
    for n, move in enumerate(found.moves, start=1):
        say(f"{n:>4}  {move.action}{': ' if move.ends else ''}{move.ends}")
    for note in found.notes:
        say(f"      {note}")
    if not found.moves:
        say("Nothing to do: both evenings stand the same.")
    for track in found.renumbered:
        say(f"      {track.track}: driver input {track.before} → {track.after}")
    return 0
