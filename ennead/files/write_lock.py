"""Guards an open studio file: one window writes, and the states it was opened in are kept."""

import errno
import fcntl
import os
import sqlite3
import stat
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path
from typing import Final

from ennead.files.kept_copies import backup_folder
from ennead.files.write_ahead import journal_of

#: Opened states kept for each studio file. House default.
MOST_BACKUPS: Final = 10


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


def keep_opened_state(db: sqlite3.Connection, backups: Path, path: Path) -> Path | None:
    """Copy the state in which a studio file was opened; return the copy, or None where it is the newest one again.

    The clock may have been set back: copies are numbered on from the last one, and the time is only for people.

    Raises
    ------
    OSError, sqlite3.Error
    """
    folder = backup_folder(backups, path)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    kept = sorted(folder.glob("*.ennead"))
    last = int(kept[-1].name.split("_")[0]) if kept else 0
    copy = folder / f"{last + 1:06d}_{datetime.now(UTC):%Y-%m-%d_%H-%M-%S}.ennead"
    os.close(os.open(copy, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_CLOEXEC, 0o600))
    with closing(sqlite3.connect(copy)) as to:
        db.backup(to)
        to.execute("pragma journal_mode = delete")
    if kept and _rows(kept[-1]) == _rows(copy):
        copy.unlink()
        return None
    for old in kept[: max(0, len(kept) + 1 - MOST_BACKUPS)]:
        old.unlink()
    return copy


def keep_as_found(backups: Path, path: Path, why: str) -> Path:
    """Copy a studio file and its journal byte for byte, before anything in it is mended; return the copy.

    Raises
    ------
    OSError
    """
    folder = backup_folder(backups, path) / "as found"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    last = max((int(p.name.split("_")[0]) for p in folder.glob("*_*.ennead")), default=0)
    copy = folder / f"{last + 1:06d}_{why}.ennead"
    import shutil

    shutil.copyfile(path, copy)
    copy.chmod(0o600)
    journal = journal_of(path)
    if journal.exists():
        shutil.copyfile(journal, journal_of(copy))
        journal_of(copy).chmod(0o600)
    for old in sorted(folder.glob("*.ennead"))[:-MOST_BACKUPS]:
        old.unlink()
        journal_of(old).unlink(missing_ok=True)
    return copy


def _rows(path: Path) -> list[tuple[object, ...]]:
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as db:
        return [row for table in ("object", "head") for row in db.execute(f"select * from {table} order by 1, 2")]
