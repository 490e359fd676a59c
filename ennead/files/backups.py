"""Makes the backups of a studio file: the states it was opened in, and the file as it was found before it is mended."""

import os
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Final

from ennead.files.kept_copies import backup_folder
from ennead.files.photographs import SHARED, in_revision, photo_in, sweep_folder, write_folder
from ennead.files.write_ahead import journal_of

#: Opened states kept for each studio file. House default.
MOST_BACKUPS: Final = 10


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
    _copy_rows(db, copy)
    if kept and _rows(kept[-1]) == _rows(copy):
        copy.unlink()
        return None
    for old in kept[: max(0, len(kept) + 1 - MOST_BACKUPS)]:
        old.unlink()
    _share_photos(db, folder)
    return copy


def _copy_rows(db: sqlite3.Connection, copy: Path) -> None:
    """Copy a studio file as a backup holds it: without its photographs, which the backups of one studio have together."""
    with closing(sqlite3.connect(copy, isolation_level=None)) as to:
        for number in ("application_id", "user_version"):
            to.execute(f"pragma {number} = {db.execute(f'pragma {number}').fetchone()[0]}")
        to.execute("begin")
        db.execute("begin")
        try:
            for (statement,) in db.execute("select sql from sqlite_master where type = 'table'").fetchall():
                to.execute(statement)
            to.executemany("insert into object values (?, ?, ?)", db.execute("select * from object"))
            to.executemany("insert into head values (?, ?)", db.execute("select * from head"))
        finally:
            db.execute("rollback")
        to.execute("commit")


def _share_photos(db: sqlite3.Connection, folder: Path) -> None:
    """Store the photographs of a studio file once for all its backups, and remove those that none of them names."""
    named: set[str] = set()
    for backup in folder.glob("*.ennead"):
        for (body,) in _query(backup, "select body from object where kind in ('recalls', 'revisions')"):
            named |= in_revision(str(body))
    here = {row[0] for row in db.execute("select sha256 from photo")} if named else set()
    write_folder(folder / SHARED, named & here, _Connected(db))
    sweep_folder(folder / SHARED, named)


class _Connected:
    """The photographs of an open studio file."""

    def __init__(self, db: sqlite3.Connection) -> None:
        self._db = db

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None."""
        return photo_in(self._db, sha256)


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
    return [row for table in ("object", "head") for row in _query(path, f"select * from {table} order by 1, 2")]


def _query(path: Path, statement: str) -> list[tuple[object, ...]]:
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as db:
        return db.execute(statement).fetchall()
