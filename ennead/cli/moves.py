"""List the fewest plugs to pull and insert from one scene of cords to another, in a safe order."""

import argparse

from ennead.cli.studio_argument import add_studio, studio_of
from ennead.cli.terminal import print_json, say
from ennead.edits.scenes import cords_in, scene_named
from ennead.planning.moves.scene_moves import scene_moves
from ennead.reports.cord_moves import cord_moves
from ennead.reports.move_rows import move_rows, sum_text
from ennead.studio.document import Studio
from ennead.studio.ids import SceneId

#: What stands, as last ticked, where a scene could be named.
STANDING = "standing"


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, rate=False)
    verb.add_argument(
        "--from",
        dest="start",
        metavar="SCENE",
        default=STANDING,
        help=(
            "the scene that is plugged, by name or id; “standing” (default) for what was last ticked, “back to normals”"
            " for none"
        ),
    )
    verb.add_argument("--to", dest="end", metavar="SCENE", required=True, help="the scene that follows")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    studio = studio_of(args)
    start, end = _scene(studio, args.start), _scene(studio, args.end)
    plan = scene_moves(studio, start, end)
    steps = studio.scenes[end].steps if end else ()
    if args.json:
        print_json(
            {
                "moves": move_rows(studio, plan),
                "movements": plan.movements,
                "lower_bound": plan.bound,
                "proven": plan.proven,
                "by_hand": list(steps),
                "stays_off": list(plan.stays_off),
            }
        )
        return 0
    for row in cord_moves(studio, plan, cords_in(studio, start)):
        numbers = f"{row.steps[0] + 1}" if len(row.steps) == 1 else f"{row.steps[0] + 1}–{row.steps[-1] + 1}"
        say(f"{numbers:>7}  {row.verb:<8}  {row.text}".rstrip())
    for step in steps:
        say(f"      by hand: {step}")
    say(sum_text(plan))
    return 0


def _scene(studio: Studio, name: str) -> SceneId | None:
    named = {s.name.casefold() for s in studio.scenes.values()}
    return None if name.casefold() == STANDING and STANDING not in named else scene_named(studio, name)
