"""A studio from a path, by its ending."""

from pathlib import Path

from ennead.files.errors import FileTrouble
from ennead.files.interchange import read_json, to_json
from ennead.files.photographs import NoPhotos, PhotoSource, folder_beside, named_photos, write_folder
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


def write_studio(path: Path, studio: Studio, photos: PhotoSource | None = None) -> None:
    """Write a studio file or its interchange form, with the photographs that are named in it.

    Parameters
    ----------
    photos : PhotoSource, optional
        Where they are found; of an interchange form they are written first, into a folder beside it.

    Raises
    ------
    FileTrouble
    """
    if path.suffix.lower() == ".json":
        if photos is not None:
            write_folder(folder_beside(path), named_photos(studio), photos)
        write_text(path, to_json(studio), private=True)
    elif path.suffix.lower() == ".ennead":
        write_studio_file(path, studio, photos or NoPhotos())
    else:
        raise FileTrouble(path, "its ending says nothing", _ENDINGS)
