"""What verbs share: reading the studio named on the command line, at another rate if asked."""

import argparse
import json
from contextlib import suppress
from pathlib import Path
from typing import Any

from ennead.edits.evenings import session_named
from ennead.edits.scenes import scene_named
from ennead.edits.session import set_rate
from ennead.edits.view import View, seen
from ennead.files.errors import FileTrouble
from ennead.files.studio_path import read_studio
from ennead.studio.document import Studio
from ennead.survey.survey import Survey


def add_studio(
    verb: argparse.ArgumentParser, *, rate: bool = True, session: bool = True, standing: bool = False
) -> None:
    """Add the STUDIO argument, `--session`, `--standing`, `--scene`, `--rate` and `--json` to a verb."""
    verb.add_argument("studio", metavar="STUDIO", type=Path, help="a .ennead or .json file")
    if session:
        verb.add_argument("--session", metavar="NAME", help="look at another session, by name or id")
    if standing:
        verb.add_argument(
            "--scene", metavar="NAME", help="look at another scene of cords, by name or id, or “back to normals”"
        )
        verb.add_argument(
            "--standing", action="store_true", help="look at what stands, as last ticked, instead of at the plan"
        )
    if rate:
        verb.add_argument("--rate", metavar="HZ", type=int, help="look at it at another sample rate")
    verb.add_argument("--json", action="store_true", help="print one JSON object")


def elsewhere(studio: Path, output: Path) -> Path:
    """Return where a verb is to write, which is not the studio it reads, by whatever name.

    Raises
    ------
    FileTrouble
    """
    same = output.absolute() == studio.absolute()
    with suppress(OSError, ValueError, RuntimeError):
        same = same or output.samefile(studio)
    if same:
        raise FileTrouble(output, "it is the studio that is read", "Choose another file to write.")
    return output


def studio_of(args: argparse.Namespace) -> Studio:
    """Return the studio on the command line, with the session asked for as its current one.

    Raises
    ------
    FileTrouble, UnknownObject
    """
    studio = read_studio(args.studio)
    session = session_named(studio, args.session) if args.session is not None else None
    scene = getattr(args, "scene", None)
    return seen(
        studio, View(session, getattr(args, "standing", False), None if scene is None else scene_named(studio, scene))
    )


def survey_of(args: argparse.Namespace) -> Survey:
    """Return the survey of the studio on the command line.

    Raises
    ------
    FileTrouble, BadValue
    """
    studio = studio_of(args)
    if getattr(args, "rate", None) is not None:
        studio = set_rate(studio, args.rate)
    return Survey(studio)


def print_json(value: Any) -> None:
    """Print one JSON object."""
    print(json.dumps(value, ensure_ascii=False, indent=2, allow_nan=False))
