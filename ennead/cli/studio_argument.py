"""What verbs share: reading the studio named on the command line, at another rate if asked."""

import argparse
from contextlib import suppress
from pathlib import Path

from ennead.edits.scenes import choose_scene, scene_named
from ennead.edits.session import set_rate
from ennead.edits.sessions import choose_session, session_named
from ennead.files.errors import FileTrouble
from ennead.files.studio_path import read_studio
from ennead.studio.document import Studio
from ennead.survey.survey import Survey
from ennead.survey.view import View


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


def on_session(studio: Studio, name: str | None) -> Studio:
    """Return a studio on another session, by name or id; as it is where none is named.

    Raises
    ------
    UnknownObject
    """
    return choose_session(studio, session_named(studio, name)) if name is not None else studio


def studio_of(args: argparse.Namespace) -> Studio:
    """Return the studio on the command line, with the session and the scene asked for as its current ones.

    Raises
    ------
    FileTrouble, UnknownObject
    """
    studio = on_session(read_studio(args.studio), args.session)
    scene = getattr(args, "scene", None)
    return studio if scene is None else choose_scene(studio, scene_named(studio, scene))


def survey_of(args: argparse.Namespace, *, planning: bool = False, at_rate: bool = True) -> Survey:
    """Return the survey of the studio on the command line, in the view asked for.

    Parameters
    ----------
    planning : bool
        Whether what is planned on it may be written: the session then has the rate asked for, instead of being looked at so.
    at_rate : bool
        Whether it is looked at at the rate asked for, rather than at its own.

    Raises
    ------
    FileTrouble, BadValue
    """
    studio, rate = studio_of(args), getattr(args, "rate", None) if at_rate else None
    set_so = set_rate(studio, rate) if rate is not None else studio
    view = View(standing=getattr(args, "standing", False), rate_hz=None if planning else rate)
    return Survey(set_so if planning else studio, view=view)
