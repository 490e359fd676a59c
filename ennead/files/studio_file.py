"""The studio file: SQLite, one row per object of the document; an edit writes only the rows it changed."""

import sqlite3
from contextlib import closing, suppress
from pathlib import Path
from typing import Any, Final

from ennead.files.errors import FileTrouble, reason_of
from ennead.files.forms import FORMAT_VERSION, ROW_LISTS, AsBuiltForm, FormError, as_built_form, read_form, row_text
from ennead.files.guard import WriteLock
from ennead.files.references import check_references, in_id_order
from ennead.studio.document import MAPS, AsBuilt, Studio
from ennead.studio.frozen_map import FrozenMap

#: "Enn9" in ASCII: how a studio file is told from any other SQLite database.
APPLICATION_ID: Final = 0x456E6E39
_NO_STUDIO: Final = "it is no Ennead studio"
_CHOOSE: Final = "Choose a file that Ennead wrote."
_EARLIER: Final = "The file was left as it is; open an earlier copy."

_SCHEMA: Final = """
create table object (kind text not null, id text not null, body text not null, primary key (kind, id)) without rowid;
create table head (key text primary key, body text not null) without rowid;
"""


class StudioFile:
    """An open studio file. It is used from one thread.

    Raises
    ------
    FileTrouble
        When the file cannot be opened, is foreign, newer or damaged. It is then left as it was.
    """

    def __init__(self, path: Path, *, create: Studio | None = None) -> None:
        self.path = path
        if create is not None:
            _create(path, create)
        check_head(path)
        try:
            self._db = sqlite3.connect(path, isolation_level=None, timeout=5.0)
            self._db.execute("pragma journal_mode = wal")
            self._db.execute("pragma synchronous = full")
            self.studio = _read(self._db, path)
        except sqlite3.Error as error:
            if hasattr(self, "_db"):
                self._db.close()
            raise FileTrouble(path, f"it is damaged ({error})", _EARLIER) from None
        except FileTrouble:
            self._db.close()
            raise

    @property
    def connection(self) -> sqlite3.Connection:
        """The open database, for whoever copies it."""
        return self._db

    def commit(self, studio: Studio) -> int:
        """Write the rows in which a studio differs from what the file holds; return how many.

        Raises
        ------
        FileTrouble
            If the file cannot be written. What it held before is then still there.
        """
        puts, cuts = changed_rows(self.studio, studio)
        heads = [(k, row_text(v)) for k, v in _heads(studio).items() if _heads(self.studio)[k] != v]
        if not (puts or cuts or heads):
            self.studio = studio
            return 0
        try:
            self._db.execute("begin immediate")
            self._db.executemany("delete from object where kind = ? and id = ?", cuts)
            self._db.executemany("insert or replace into object values (?, ?, ?)", puts)
            self._db.executemany("insert or replace into head values (?, ?)", heads)
            self._db.execute("commit")
        except sqlite3.Error as error:
            with suppress(sqlite3.Error):
                self._db.execute("rollback")
            raise FileTrouble(
                self.path, f"the edit could not be written ({error})", "Free some room or save a copy elsewhere."
            ) from None
        self.studio = studio
        return len(puts) + len(cuts) + len(heads)

    def close(self) -> None:
        """Fold the journal into the file, so that copying the one file copies everything, and close it."""
        with suppress(sqlite3.Error):
            self._db.execute("pragma wal_checkpoint(truncate)")
            self._db.execute("pragma journal_mode = delete")
        self._db.close()


def changed_rows(old: Studio, new: Studio) -> tuple[list[tuple[str, str, str]], list[tuple[str, str]]]:
    """Return the rows to put and the rows to cut. An object that is the very same one is not even compared."""
    puts: list[tuple[str, str, str]] = []
    cuts: list[tuple[str, str]] = []
    for kind in MAPS:
        before, after = getattr(old, kind), getattr(new, kind)
        if before is after:
            continue
        cuts += [(kind, key) for key in before if key not in after]
        puts += [(kind, key, row_text(value)) for key, value in after.items() if before.get(key) is not value]
    return puts, cuts


def _heads(studio: Studio) -> dict[str, Any]:
    return {
        "name": studio.name,
        "session": studio.session,
        "counters": studio.counters,
        "as_built": as_built_form(studio.as_built),
    }


def _create(path: Path, studio: Studio) -> None:
    """Make a studio file whole or not at all: beside its place first, then moved there."""
    part = path.with_name(f".{path.name[:60]}.part")
    try:
        part.unlink(missing_ok=True)
        with closing(sqlite3.connect(part, isolation_level=None)) as db:
            db.execute("pragma synchronous = full")
            db.executescript(_SCHEMA)
            db.execute(f"pragma application_id = {APPLICATION_ID}")
            db.execute(f"pragma user_version = {FORMAT_VERSION}")
            db.execute("begin")
            for kind in MAPS:
                for key, value in getattr(studio, kind).items():
                    db.execute("insert into object values (?, ?, ?)", (kind, key, row_text(value)))
            for key, value in _heads(studio).items():
                db.execute("insert into head values (?, ?)", (key, row_text(value)))
            db.execute("commit")
        for tail in ("-wal", "-shm"):
            path.with_name(path.name + tail).unlink(missing_ok=True)
        part.replace(path)
    except (OSError, sqlite3.Error) as error:
        with suppress(OSError):
            part.unlink(missing_ok=True)
        reason = reason_of(error) if isinstance(error, OSError) else str(error)
        raise FileTrouble(path, f"it cannot be written ({reason})", "Choose another folder.") from None


def check_head(path: Path) -> None:
    """Look at a file's first bytes before SQLite may touch it.

    Raises
    ------
    FileTrouble
        If it is missing, empty, foreign or newer.

    References
    ----------
    SQLite database file format, section 1.3: header string, user version at 60, application id at 68.
    """
    try:
        with path.open("rb") as file:
            head = file.read(100)
            size = path.stat().st_size
    except OSError as error:
        raise FileTrouble(path, f"it cannot be read ({reason_of(error)})", "Check the path.") from None
    if not head:
        raise FileTrouble(path, "the file is empty", _CHOOSE)
    if not head.startswith(b"SQLite format 3\0"):
        raise FileTrouble(path, _NO_STUDIO, _CHOOSE)
    if len(head) < 100:
        raise FileTrouble(path, "it is cut short", _EARLIER)
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise FileTrouble(path, _NO_STUDIO, _CHOOSE)
    version = int.from_bytes(head[60:64], "big")
    if version > FORMAT_VERSION:
        raise FileTrouble(path, f"it was written by a newer Ennead (form {version})", "Update Ennead to open it.")
    page = int.from_bytes(head[16:18], "big")
    pages = int.from_bytes(head[28:32], "big")
    if size < pages * (65536 if page == 1 else page) and not path.with_name(path.name + "-wal").exists():
        raise FileTrouble(path, "it is cut short", _EARLIER)


def _read(db: sqlite3.Connection, path: Path) -> Studio:
    try:
        maps: dict[str, Any] = {}
        for kind in MAPS:
            rows = db.execute("select id, body from object where kind = ?", (kind,)).fetchall()
            if not rows:
                maps[kind] = FrozenMap()
                continue
            # One call for the whole map: checking rows one by one would cost ten times as much.
            whole = "[" + ",".join(body for _, body in rows) + "]"
            objects: tuple[Any, ...] = read_form(ROW_LISTS[kind], whole)
            if [o.id for o in objects] != [key for key, _ in rows]:
                raise FormError(f"{kind}: a row does not bear its own id")
            maps[kind] = in_id_order(objects)
        known = db.execute("select count(*) from object").fetchone()[0]
        if known != sum(len(m) for m in maps.values()):
            raise FormError("there are rows of an unknown kind")
        heads = dict(db.execute("select key, body from head").fetchall())
        built = read_form(AsBuiltForm, heads["as_built"])
        studio = Studio(
            name=read_form(str, heads["name"]),
            session=read_form(str, heads["session"]),
            counters=FrozenMap(read_form(dict[str, int], heads["counters"])),
            as_built=AsBuilt({c.id: c for c in built.cables}, built.settings),
            **maps,
        )
        check_references(studio)
    except UnicodeDecodeError:
        raise FileTrouble(path, "it is damaged (a text in it is no UTF-8)", _EARLIER) from None
    except (FormError, KeyError, TypeError) as error:
        what = f"“{error.args[0]}” is missing" if isinstance(error, KeyError) else str(error)
        raise FileTrouble(path, f"it is damaged at {what}", _EARLIER) from None
    return studio


def read_studio_file(path: Path) -> Studio:
    """Read a studio file without keeping it open, and without writing a byte to it.

    Raises
    ------
    FileTrouble
    """
    check_head(path)
    # With a journal beside it the file is in use; only a real connection sees the newest edits.
    alone = not path.with_name(path.name + "-wal").exists()
    query = "mode=ro&immutable=1" if alone else "mode=ro"
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?{query}", uri=True)) as db:
            return _read(db, path)
    except sqlite3.Error as error:
        raise FileTrouble(path, f"it is damaged ({error})", _EARLIER) from None


def write_studio_file(path: Path, studio: Studio) -> None:
    """Write a studio to a new studio file, replacing one that is there and that no window has open.

    Raises
    ------
    FileTrouble
    """
    try:
        lock = WriteLock(path)
    except BlockingIOError:
        raise FileTrouble(path, "it is open in a window", "Close it there, or choose another name.") from None
    except OSError as error:
        raise FileTrouble(path, f"it cannot be written ({reason_of(error)})", "Choose another folder.") from None
    try:
        _create(path, studio)
    finally:
        lock.release()
