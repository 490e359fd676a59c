"""A studio from a path, by its ending."""

from pathlib import Path

from ennead.files.errors import FileTrouble
from ennead.files.interchange import read_json, to_json
from ennead.files.regular import write_text
from ennead.files.studio_file import read_studio_file, write_studio_file
from ennead.studio.document import Studio

_ENDINGS = "Use the ending .ennead or .json."


def read_studio(path: Path) -> Studio:
    """Read a studio file or its interchange form.

    Raises
    ------
    FileTrouble
    """
    if path.suffix.lower() == ".json":
        return read_json(path)
    if path.suffix.lower() == ".ennead":
        return read_studio_file(path)
    raise FileTrouble(path, "its ending says nothing", _ENDINGS)


def write_studio(path: Path, studio: Studio) -> None:
    """Write a studio file or its interchange form.

    Raises
    ------
    FileTrouble
    """
    if path.suffix.lower() == ".json":
        write_text(path, to_json(studio), private=True)
    elif path.suffix.lower() == ".ennead":
        write_studio_file(path, studio)
    else:
        raise FileTrouble(path, "its ending says nothing", _ENDINGS)
