"""Files as they are met on disk: only regular ones are read or replaced, links lead to what they point at, and what is made is whole."""

import os
import re
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Final

from ennead.files.errors import FileTrouble, reason_of

_OTHERWISE: Final = {
    stat.S_IFIFO: "a pipe",
    stat.S_IFCHR: "a device",
    stat.S_IFBLK: "a device",
    stat.S_IFDIR: "a folder",
    stat.S_IFSOCK: "a socket",
}

#: What a file is called while it is being written: hidden, with the writer's process number.
_PART: Final = re.compile(r"^\..*\.(\d+)\.ennead-part(-wal|-shm|-journal)?$")


def kind_of(mode: int) -> str:
    """Return what something on disk is where it is no regular file, in words with the article; else an empty string."""
    return "" if stat.S_ISREG(mode) else _OTHERWISE.get(stat.S_IFMT(mode), "something else")


def read_regular(path: Path, most_bytes: int) -> bytes:
    """Return the bytes of a regular file, one more than `most_bytes` at most.

    A pipe or a device could keep a reader waiting for ever, or never end; it is not read at all.

    Raises
    ------
    FileTrouble
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with os.fdopen(handle, "rb") as file:
            if what := kind_of(os.fstat(handle).st_mode):
                raise FileTrouble(path, f"it is {what}, not a file", "Choose a file.")
            return file.read(most_bytes + 1)
    except OSError as error:
        raise FileTrouble(path, f"it cannot be read ({reason_of(error)})", "Check the path.") from None
    except ValueError:
        raise FileTrouble(path, "no file can be called so", "Check the path.") from None


def target_of(path: Path) -> Path:
    """Return where a file that is to be written really stands: behind a symbolic link, what it points at.

    Raises
    ------
    FileTrouble
        If something that is no file stands there.
    """
    try:
        target = path.resolve()
        if target.exists() and (what := kind_of(target.stat().st_mode)):
            raise FileTrouble(path, f"it is {what}, not a file", "Choose another name.")
    except (OSError, RuntimeError) as error:
        reason = reason_of(error) if isinstance(error, OSError) else "links lead in a circle"
        raise FileTrouble(path, f"it cannot be written ({reason})", "Choose another name.") from None
    except ValueError:
        raise FileTrouble(path, "no file can be called so", "Choose another name.") from None
    return target


def part_of(target: Path) -> Path:
    """Return what a file is called while it is being written, beside its place."""
    return target.with_name(f".{target.name[:40]}.{os.getpid()}.ennead-part")


def sweep(folder: Path) -> None:
    """Remove what writers that were killed have left behind in a folder."""
    with suppress(OSError):
        for entry in os.scandir(folder):
            found = _PART.match(entry.name)
            if found and int(found[1]) != os.getpid() and not _lives(int(found[1])):
                with suppress(OSError):
                    Path(entry.path).unlink()


def _lives(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (OSError, OverflowError):
        pass
    return True


def private_mode(folder: Path) -> int:
    """Return how a studio is made readable: by its owner alone, or by the group where the folder hands its group on."""
    with suppress(OSError):
        if folder.stat().st_mode & stat.S_ISGID:
            return 0o660
    return 0o600


@contextmanager
def made_whole(path: Path, *, private: bool = False) -> Iterator[Path]:
    """Hand out a place to write to; when all went well it takes the file's own, else it is gone.

    The file that replaces another keeps its permissions.

    Parameters
    ----------
    private : bool
        Whether a new file is its owner's alone.

    Raises
    ------
    FileTrouble
    """
    target = target_of(path)
    sweep(target.parent)
    part = part_of(target)
    try:
        part.unlink(missing_ok=True)
        mode = _mode_for(target, private=private)
        os.close(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_CLOEXEC, mode))
        part.chmod(mode)
        yield part
        part.replace(target)
    except OSError as error:
        raise FileTrouble(path, f"it cannot be written ({reason_of(error)})", "Choose another folder.") from None
    finally:
        for tail in ("", "-wal", "-shm", "-journal"):
            with suppress(OSError):
                part.with_name(part.name + tail).unlink(missing_ok=True)


def _mode_for(target: Path, *, private: bool) -> int:
    with suppress(OSError):
        return stat.S_IMODE(target.stat().st_mode)
    if private:
        return private_mode(target.parent)
    umask = os.umask(0)
    os.umask(umask)
    return 0o666 & ~umask


def write_text(path: Path, text: str, *, private: bool = False) -> None:
    """Write a text file whole or not at all.

    Parameters
    ----------
    private : bool
        Whether a new file is its owner's alone.

    Raises
    ------
    FileTrouble
    """
    with made_whole(path, private=private) as part, part.open("w", encoding="utf-8", newline="") as out:
        out.write(text)
        out.flush()
        os.fsync(out.fileno())
