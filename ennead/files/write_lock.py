"""Guards an open studio file: one window writes."""

import errno
import fcntl
import os
import stat
from contextlib import suppress
from pathlib import Path


class _Held:
    """One locked file: a name held by one process, released when it gives it back or is killed."""

    def __init__(self, path: Path) -> None:
        self._path = path
        while True:
            self._handle = os.open(path, os.O_CREAT | os.O_RDWR | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600)
            try:
                fcntl.flock(self._handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                # The holder before may have removed the name between our open and our lock.
                if path.stat().st_ino == os.fstat(self._handle).st_ino:
                    return
            except FileNotFoundError:
                pass
            except OSError:
                os.close(self._handle)
                raise
            os.close(self._handle)

    def release(self) -> None:
        with suppress(OSError):
            self._path.unlink()
        os.close(self._handle)


class WriteLock:
    """The right to write a studio file; a second window does not get it and a killed one gives it back.

    Locked is the name, behind symbolic links, and what the file *is*: its device and inode, so that a second name of
    the same file, a hard link, is no way around it. The database itself is never opened for that: closing it again
    would drop the locks that SQLite holds on it.

    Raises
    ------
    BlockingIOError
        If another window holds it.
    OSError
        If no lock can be made beside the file: its folder is read-only.
    """

    def __init__(self, path: Path) -> None:
        self._path = path.resolve()
        self._name = _Held(self._path.with_name(f".{self._path.name[:200]}.lock"))
        self._file: _Held | None = None
        try:
            self.follow()
        except OSError:
            self._name.release()
            raise

    def follow(self) -> None:
        """Lock what stands under the name now: the file has been made, or made anew.

        Raises
        ------
        BlockingIOError
            If another window holds it by another name.
        """
        try:
            there = self._path.stat()
        except OSError:
            return
        path = _locks_folder() / f"{there.st_dev}-{there.st_ino}.lock"
        if self._file is not None:
            if self._file._path == path:  # noqa: SLF001 - its own kind
                return
            self._file.release()
            self._file = None
        self._file = _Held(path)

    def release(self) -> None:
        """Give the right back."""
        if self._file is not None:
            self._file.release()
        self._name.release()


def _locks_folder() -> Path:
    """Return the user's folder for locks of files by what they are, on this machine.

    Raises
    ------
    OSError
        If another process has taken its name.
    """
    folder = Path(os.environ.get("TMPDIR") or "/tmp") / f"ennead-locks-{os.getuid()}"  # noqa: S108 - its owner is checked below
    folder.mkdir(mode=0o700, exist_ok=True)
    there = folder.lstat()
    if not stat.S_ISDIR(there.st_mode) or there.st_uid != os.getuid():
        raise PermissionError(errno.EPERM, f"{folder} belongs to somebody else")
    return folder
