"""The studio file: SQLite, one row per object of the document; an edit writes only the rows it changed."""

import os
import sqlite3
import time
from collections.abc import Collection, Mapping
from contextlib import closing, suppress
from pathlib import Path
from typing import Any, Final

from ennead.files.building import build_checked, build_list
from ennead.files.changed_rows import BUILT, changed_rows, heads_of, maps_of
from ennead.files.errors import FileDamaged, FileLost, FileTrouble, reason_of
from ennead.files.json_text import loads
from ennead.files.kept_copies import newest_copy
from ennead.files.mending import mended, stood_at_boxes
from ennead.files.photographs import (
    SHARED,
    FilePhotos,
    FolderPhotos,
    NoPhotos,
    PhotoSource,
    named_photos,
    photo_in,
)
from ennead.files.references import check_references, in_id_order, in_key_order
from ennead.files.regular import made_whole, read_regular, target_of
from ennead.files.rows import FORMAT_NAME, FORMAT_VERSION, ROWS, FormError, row_text
from ennead.files.write_ahead import journal_of
from ennead.files.write_lock import WriteLock
from ennead.studio.as_built import AsBuilt
from ennead.studio.bays import CordStock
from ennead.studio.document import MAPS, Studio
from ennead.studio.looms import SpareLoom
from ennead.studio.print_job import Printing
from ennead.studio.set_aside import SetAside

#: "Enn9" in ASCII: how a studio file is told from any other SQLite database.
APPLICATION_ID: Final = 0x456E6E39
_NO_STUDIO: Final = "it is no Ennead studio"
_CHOOSE: Final = "Choose a file that Ennead wrote."

_SCHEMA: Final = """
create table object (kind text not null, id text not null, body text not null, primary key (kind, id)) without rowid;
create table head (key text primary key, body text not null) without rowid;
create table photo (sha256 text primary key, body blob not null);
"""
#: The tables of a studio; photographs have limits of their own.
_TABLES: Final = ("object", "head", "photo")

#: More than any studio; the largest generated house takes a few. And how long a file may take to be read, s. House defaults.
MOST_BYTES: Final = 100_000_000
_LONGEST_S: Final = 15.0

#: The form a map came with, where it was not there from the first.
_SINCE: Final = {"destinations": 4, "bays": 8, "scenes": 8, "revisions": 9, "recalls": 14, "prints": 14}

_NONE: Final = NoPhotos()
_NO_BYTES: Final[Mapping[str, bytes]] = {}


class StudioFile:
    """An open studio file. It is used from one thread.

    Raises
    ------
    FileTrouble
        When the file cannot be opened, is foreign, newer or damaged. It is then left as it was.

    Attributes
    ----------
    mended : tuple of str
        What was mended in the document when it was read, a sentence each.
    """

    def __init__(self, path: Path, *, create: Studio | None = None, photos: PhotoSource = _NONE) -> None:
        self.path = path = target_of(path)
        self._name, self._journal_name = str(path), str(journal_of(path))
        self.mended: tuple[str, ...] = ()
        if create is not None:
            _create(path, create, photos)
        elif check_head(path) < FORMAT_VERSION:
            # An older form is read whole and written anew beside it; only then does the new file take its place.
            older, self.mended = _read_alone(path)
            _create(path, older, FilePhotos(path))
        try:
            self._db = sqlite3.connect(path, isolation_level=None, timeout=5.0)
            _limit_work(self._db)
            self._db.execute("pragma journal_mode = wal")
            self._db.execute("pragma synchronous = full")
            self.studio, mended = _read(self._db, path)
            self._db.set_progress_handler(None, 0)
            self.mended += mended
            self._take_in_beside()
            self._mark = self._stands()
        except sqlite3.Error as error:
            if hasattr(self, "_db"):
                self._db.close()
            raise FileDamaged(path, f"it is damaged ({error})", newest_copy(path)) from None
        except FileTrouble:
            self._db.close()
            raise

    @property
    def connection(self) -> sqlite3.Connection:
        """The open database, for copies."""
        return self._db

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes of a photograph, or None where the file has none of that hash."""
        return photo_in(self._db, sha256)

    def _take_in_beside(self) -> None:
        """Take in the photographs that a backup is named to have and that stand beside it."""
        folder = self.path.parent / SHARED
        if not self.studio.recalls or not folder.is_dir():
            return
        missing = named_photos(self.studio) - {row[0] for row in self._db.execute("select sha256 from photo")}
        _put_photos(self._db, missing, FolderPhotos(folder))

    def commit(self, studio: Studio, photos: Mapping[str, bytes] = _NO_BYTES) -> int:
        """Write the rows in which a studio differs from what the file holds, and new photographs with them; return how many rows.

        Parameters
        ----------
        photos : map of hash to bytes
            Photographs that were added since the last edit; of one that is here already nothing is written.

        Raises
        ------
        FileTrouble
            If the file cannot be written. What it held before is then still there.
        """
        puts, cuts = changed_rows(self.studio, studio)
        if not (puts or cuts or photos):
            self.studio = studio
            return 0
        self._check_place()
        try:
            self._db.execute("begin immediate")
            if photos:
                self._db.executemany("insert or ignore into photo values (?, ?)", photos.items())
            if cuts:
                self._db.executemany("delete from object where kind = ? and id = ?", cuts)
            for kind, key, body in puts:
                if kind:
                    self._db.execute("insert or replace into object values (?, ?, ?)", (kind, key, body))
                else:
                    self._db.execute("insert or replace into head values (?, ?)", (key, body))
            self._db.execute("commit")
        except sqlite3.Error as error:
            with suppress(sqlite3.Error):
                self._db.execute("rollback")
            remedy = "Free some room; the edit is written with the next one. Or save a copy elsewhere."
            raise FileTrouble(self.path, f"the edit could not be written ({error})", remedy) from None
        # Only what is really there is said to be done.
        self._mark = self._check_place(written=True)
        self.studio = studio
        return len(puts) + len(cuts)

    def _stands(self) -> tuple[int, int, int, int]:
        """Return by what the file is known again: what it is, its size and time, and how long its journal is."""
        # Asked for with every edit, and a path object costs as much as the disk does.
        there = os.stat(self._name)  # noqa: PTH116
        try:
            journal = os.stat(self._journal_name).st_size  # noqa: PTH116
        except FileNotFoundError:
            journal = 0
        return there.st_ino, there.st_size, there.st_mtime_ns, journal

    def _check_place(self, *, written: bool = False) -> tuple[int, int, int, int]:
        """Return how the file stands; raise where it is no longer in its place, or another program has overwritten or truncated it.

        Parameters
        ----------
        written : bool
            Whether we have just written ourselves: the file and its journal may then be longer, but never shorter.

        Raises
        ------
        FileLost
        """
        try:
            now = self._stands()
        except OSError:
            raise FileLost(self.path, "the file has been moved or deleted while it was open") from None
        if now[0] != self._mark[0]:
            raise FileLost(self.path, "the file has been replaced while it was open")
        # Our own writing may fold the journal, which touches the file; nothing of ours makes it shorter.
        untouched = now[1] >= self._mark[1] if written else (now[1:3] == self._mark[1:3] and now[3] >= self._mark[3])
        if not untouched or not self._is_ours():
            raise FileLost(self.path, "another program has written over the file while it was open")
        return now

    def _is_ours(self) -> bool:
        """Say whether the file still begins as a studio does, without opening it a second time."""
        with suppress(sqlite3.Error):
            return bool(self._db.execute("pragma application_id").fetchone()[0] == APPLICATION_ID)
        return False

    def fold(self) -> None:
        """Fold the journal into the file, so that copying the one file copies everything."""
        try:
            self._check_place()
        except FileLost:
            # It is said with the next edit; folding now would only hide it.
            return
        with suppress(sqlite3.Error):
            self._db.execute("pragma wal_checkpoint(truncate)")
        with suppress(OSError):
            self._mark = self._stands()

    def close(self) -> None:
        """Checkpoint the write-ahead log and close; if the path now names another file, that file is left untouched."""
        try:
            self._check_place()
        except FileLost:
            # Closing would fold our journal over it: without its frames there is nothing to fold.
            with suppress(OSError):
                os.truncate(journal_of(self.path), 0)
        else:
            self._collect_photos()
            self.fold()
            with suppress(sqlite3.Error):
                self._db.execute("pragma journal_mode = delete")
        with suppress(sqlite3.Error):
            self._db.close()

    def _collect_photos(self) -> None:
        """Let go of the photographs that nothing names any more, and give their room back."""
        with suppress(sqlite3.Error):
            named = named_photos(self.studio)
            gone = [row for row in self._db.execute("select sha256 from photo") if row[0] not in named]
            if gone:
                self._db.executemany("delete from photo where sha256 = ?", gone)
                self._db.execute("pragma incremental_vacuum").fetchall()


def _put_photos(db: sqlite3.Connection, hashes: Collection[str], photos: PhotoSource) -> None:
    """Store photographs one after the other: they are never in memory together."""
    for key in sorted(hashes):
        if (body := photos.photo(key)) is not None:
            db.execute("insert or ignore into photo values (?, ?)", (key, body))


def _create(path: Path, studio: Studio, photos: PhotoSource) -> None:
    """Make a studio file whole or not at all: beside its place first, then moved there."""
    try:
        with made_whole(path, private=True) as part, closing(sqlite3.connect(part, isolation_level=None)) as db:
            db.execute("pragma synchronous = full")
            db.execute("pragma auto_vacuum = incremental")
            db.executescript(_SCHEMA)
            db.execute(f"pragma application_id = {APPLICATION_ID}")
            db.execute(f"pragma user_version = {FORMAT_VERSION}")
            db.execute("begin")
            for kind, values, _ in maps_of(studio, studio):
                rows = [(kind, key, row_text(value)) for key, value in values.items()]
                db.executemany("insert into object values (?, ?, ?)", rows)
            for key, value in heads_of(studio).items():
                db.execute("insert into head values (?, ?)", (key, row_text(value)))
            _put_photos(db, named_photos(studio), photos)
            db.execute("commit")
            target = target_of(path)
            for tail in ("-wal", "-shm"):
                target.with_name(target.name + tail).unlink(missing_ok=True)
    except sqlite3.Error as error:
        raise FileTrouble(path, f"it cannot be written ({error})", "Choose another folder.") from None


def check_head(path: Path) -> int:
    """Look at a file's first bytes before SQLite may touch it; return the version of its form.

    Raises
    ------
    FileTrouble
        If it is missing, empty, foreign or newer.

    References
    ----------
    SQLite database file format, section 1.3: header string, user version at 60, application id at 68.
    """
    head = read_regular(path, 99)
    size = path.stat().st_size
    if not head:
        raise FileTrouble(path, "the file is empty", _CHOOSE)
    if not head.startswith(b"SQLite format 3\0"):
        raise FileTrouble(path, _NO_STUDIO, _CHOOSE)
    if len(head) < 100:
        raise FileDamaged(path, "it is cut short", newest_copy(path))
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise FileTrouble(path, _NO_STUDIO, _CHOOSE)
    version = int.from_bytes(head[60:64], "big")
    if version > FORMAT_VERSION:
        raise FileTrouble(path, f"it was written by a newer Ennead (form {version})", "Update Ennead to open it.")
    page = int.from_bytes(head[16:18], "big")
    pages = int.from_bytes(head[28:32], "big")
    if size < pages * (65536 if page == 1 else page) and not path.with_name(path.name + "-wal").exists():
        raise FileDamaged(path, "it is cut short", newest_copy(path))
    return version


def _limit_work(db: sqlite3.Connection) -> None:
    """Bound the work a file can make SQLite do: a view or a broken tree may otherwise never come to an end."""
    db.execute("pragma trusted_schema = off")
    until = time.monotonic() + _LONGEST_S
    db.set_progress_handler(lambda: time.monotonic() > until, 10_000)


def _check_tables(db: sqlite3.Connection) -> None:
    """Raise where the file holds anything but the tables of a studio, and where they hold too much."""
    for kind, name, root in db.execute("select type, name, rootpage from sqlite_master"):
        if kind not in ("table", "index") or (kind == "table" and name not in _TABLES) or not root:
            raise FormError(f"“{str(name)[:40]}”, which is no part of a studio")
    held = sum(
        db.execute(f"select coalesce(sum(length(cast(body as blob))), 0) from {table}").fetchone()[0]
        for table in ("object", "head")
    )
    if held > MOST_BYTES:
        raise FormError(f"its rows, more than {MOST_BYTES // 1_000_000} MB of them")


def _read(db: sqlite3.Connection, path: Path) -> tuple[Studio, tuple[str, ...]]:
    """Return the studio in a file, and what was mended in it."""
    try:
        _check_tables(db)
        if db.execute("pragma user_version").fetchone()[0] < FORMAT_VERSION:
            return _read_older(db)
        rows: dict[str, list[tuple[str, str]]] = {kind: [] for kind in (*MAPS, *BUILT)}
        for kind, key, body in db.execute("select kind, id, body from object"):
            if kind not in rows or not isinstance(key, str):
                raise FormError("there are rows of an unknown kind")
            rows[kind].append((key, body))
        maps: dict[str, Any] = {}
        for kind in MAPS:
            objects = build_list(ROWS[kind], [body for _, body in rows[kind]])
            if [o.id for o in objects] != [key for key, _ in rows[kind]]:
                raise FormError(f"{kind}: a row does not bear its own id")
            maps[kind] = in_id_order(objects)
        built: dict[str, Any] = {}
        for kind, (name, row) in BUILT.items():
            ticked = build_list(row, [body for _, body in rows[kind]])
            built[name] = in_key_order(zip([key for key, _ in rows[kind]], ticked, strict=True))
        heads = dict(db.execute("select key, body from head").fetchall())
        studio = Studio(
            name=build_checked(str, heads["name"]),
            session=build_checked(str, heads["session"]),
            counters=build_checked(dict[str, int], heads["counters"]),
            prices=build_checked(dict[str, float], heads.get("prices", "{}")),
            stock=build_checked(tuple[CordStock, ...], heads["stock"]),
            spares=build_checked(tuple[SpareLoom, ...], heads["spares"]),
            set_aside=build_checked(tuple[SetAside, ...], heads["set_aside"]),
            printing=build_checked(Printing, heads["printing"]),
            as_built=AsBuilt(**built),
            **maps,
        )
        studio, said = mended(studio)
        check_references(studio)
        studio, more = stood_at_boxes(studio)
    except UnicodeDecodeError:
        raise FileDamaged(path, "it is damaged (a text in it is no UTF-8)", newest_copy(path)) from None
    except (FormError, KeyError, TypeError, AttributeError) as error:
        what = f"“{error.args[0]}” is missing" if isinstance(error, KeyError) else str(error)
        raise FileDamaged(path, f"it is damaged at {what}", newest_copy(path)) from None
    return studio, (*said, *more)


def _read_older(db: sqlite3.Connection) -> tuple[Studio, tuple[str, ...]]:
    """Read a file of an older form by way of its interchange form: one route brings both forward."""
    import json

    from ennead.files.interchange import from_form_text

    version = db.execute("pragma user_version").fetchone()[0]
    try:
        form: dict[str, Any] = {"format": FORMAT_NAME, "version": version}
        form |= {key: loads(body) for key, body in db.execute("select key, body from head")}
        rows: dict[str, dict[str, Any]] = {}
        for kind, key, body in db.execute("select kind, id, body from object"):
            rows.setdefault(kind, {})[key] = loads(body)
    except (ValueError, TypeError) as error:
        raise FormError(f"a row that is no JSON ({error})") from None
    if version > 1:
        # In form 1 the as-built record was one row of the head.
        built = rows.pop("as_built_cables", {}), rows.pop("as_built_settings", {})
        form["as_built"] = {"cables": list(built[0].values()), "settings": built[1]}
        if version >= _SINCE["scenes"]:
            form["as_built"]["cords"] = list(rows.pop("as_built_cords", {}).values())
    if strange := rows.keys() - set(MAPS):
        raise FormError(f"rows of an unknown kind, “{str(min(strange, key=str))[:40]}”")
    # Maps that came later are laid by the steps that bring the form forward.
    form |= {kind: list(found.values()) for kind, found in rows.items()}
    form |= {kind: [] for kind in MAPS if kind not in form and version >= _SINCE.get(kind, 1)}
    return from_form_text(json.dumps(form).encode())


def read_studio_file(path: Path) -> Studio:
    """Read a studio file without keeping it open, and without writing a byte to it.

    Raises
    ------
    FileTrouble
    """
    return _read_alone(path)[0]


def _read_alone(path: Path) -> tuple[Studio, tuple[str, ...]]:
    """Read a studio file as `read_studio_file` does; return what was mended in it as well."""
    check_head(path)
    path = path.resolve()
    # With a journal beside it the file is in use; only a real connection sees the newest edits.
    alone = not path.with_name(path.name + "-wal").exists()
    query = "mode=ro&immutable=1" if alone else "mode=ro"
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?{query}", uri=True)) as db:
            _limit_work(db)
            return _read(db, path)
    except sqlite3.Error as error:
        raise FileDamaged(path, f"it is damaged ({error})", newest_copy(path)) from None


def write_studio_file(path: Path, studio: Studio, photos: PhotoSource = _NONE) -> None:
    """Write a studio to a new studio file, replacing one that is there and that no window has open.

    Raises
    ------
    FileTrouble
    """
    path = target_of(path)
    try:
        lock = WriteLock(path)
    except BlockingIOError:
        raise FileTrouble(path, "it is open in a window", "Close it there, or choose another name.") from None
    except OSError as error:
        raise FileTrouble(path, f"it cannot be written ({reason_of(error)})", "Choose another folder.") from None
    try:
        _create(path, studio, photos)
    finally:
        lock.release()
