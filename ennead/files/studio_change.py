"""One change of a studio where it stands, by a verb: a studio file in a transaction of its own, interchange written anew."""

from collections.abc import Callable
from pathlib import Path

from ennead.files.errors import FileTrouble
from ennead.files.photographs import photos_of
from ennead.files.studio_file import StudioFile
from ennead.files.studio_path import read_studio, write_studio
from ennead.files.write_lock import WriteLock
from ennead.studio.document import Studio


def change_studio(path: Path, edit: Callable[[Studio], Studio]) -> Studio:
    """Change a studio on disk and return it as it is now.

    Raises
    ------
    FileTrouble
        If it cannot be read or written, or a window has it open.
    """
    if path.suffix.lower() != ".ennead":
        studio = edit(read_studio(path))
        write_studio(path, studio, photos_of(path))
        return studio
    read_studio(path)
    try:
        lock = WriteLock(path)
    except BlockingIOError:
        raise FileTrouble(path, "a window has it open", "Take it there, or close the window first.") from None
    except OSError:
        raise FileTrouble(path, "its folder cannot be written", "Copy the studio where you may write.") from None
    try:
        file = StudioFile(path)
        try:
            studio = edit(file.studio)
            file.commit(studio)
        finally:
            file.close()
    finally:
        lock.release()
    return studio
