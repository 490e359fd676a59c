"""Keeps the studio on disk: every edit is committed by a thread of its own, and said to be kept only then."""

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ennead.desk.background.worker import Promise, Worker
from ennead.desk.storage.photo_shelf import PhotoShelf
from ennead.files.errors import FileLost, FileTrouble, reason_of
from ennead.files.write_lock import WriteLock
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError

if TYPE_CHECKING:
    from ennead.files.photographs import PhotoSource
    from ennead.files.studio_file import StudioFile


class Autosave(QObject):
    """Owns the open studio file on its own thread.

    Signals `kept` with the number of an edit once it is on disk, `failed` with a sentence when it is not;
    a failed edit is written again together with the next one. `told` carries what else there is to say.
    """

    kept = pyqtSignal(int)
    failed = pyqtSignal(str)
    told = pyqtSignal(str)

    #: Time without an edit after which the journal is folded into the file, ms. House default.
    IDLE_MS = 4_000

    def __init__(self, backups: Path | None = None, rescues: Path | None = None) -> None:
        super().__init__()
        self._backups, self._rescues = backups, rescues
        self._lock: WriteLock | None = None
        self._closed = False
        self.read_only = ""
        self._thread = Worker("autosave")
        self._file: object | None = None
        self.path: Path | None = None
        self.posted = 0
        self.done = 0
        #: What there is to say about the way the file was found; empty where all was in order.
        self.note = ""
        self._latest: Studio | None = None
        #: The copy of what could not be written to the file that is open.
        self._rescued: Path | None = None
        self._uncopied: StudioFile | None = None
        #: The photographs of the studio that is open: those on disk, and those that are on their way there.
        self.photos = PhotoShelf(None)
        self._ahead: tuple[Path, Promise[Studio]] | None = None
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(self.IDLE_MS)
        self._idle.timeout.connect(self.fold_soon)
        self.kept.connect(self._idle.start)

    def open(self, path: Path, create: Studio | None = None, photos: "PhotoSource | None" = None) -> Studio:
        """Open a studio file, making it first when a studio is given; the one open before is closed.

        Parameters
        ----------
        photos : PhotoSource, optional
            Where the photographs of the studio that is given are; else they are taken from the file open before.

        Where another window has it open, or its folder cannot be written, it is opened to look at only:
        `read_only` then holds the sentence that says so.

        Raises
        ------
        FileTrouble
            The file open before then stays open.
        """
        rescued = self._before_another(create)
        ahead, self._ahead = self._ahead, None
        if ahead is not None and ahead[0] == path and create is None:
            studio = ahead[1].take()
        else:
            source = photos or self.photos
            studio = self._thread.ask(lambda: self._open(path, create, source))
        self.note = " ".join(filter(None, (rescued, self.note)))
        self.path = path
        self.photos = PhotoShelf(path)
        self.posted = self.done = 0
        self._latest = self._rescued = None
        self._idle.start()
        return studio

    def open_ahead(self, path: Path) -> None:
        """Begin to open a file that is going to be asked for; `open` then returns it, or raises what went wrong."""
        self._ahead = path, self._thread.promise(lambda: self._open(path, None, self.photos))

    def _before_another(self, create: Studio | None) -> str:
        """Rescue what is not on disk before another file takes its place; return the sentence that says so."""
        self.wait()
        if not self.is_behind or create is self._latest:
            return ""
        copy = self.rescue()
        return f"The last edits could not be written to their file; all of it is kept in {copy}." if copy else ""

    @property
    def is_behind(self) -> bool:
        """Whether something posted is not on disk."""
        return self.done < self.posted

    def rescue(self) -> Path | None:
        """Write what could not be written to its own file into a new one in the folder for that; return it.

        Raises
        ------
        FileTrouble
        """
        from ennead.files.studio_file import write_studio_file

        folder = self._rescues
        if self._latest is None or not self.is_behind or folder is None:
            return None
        if self._rescued is not None and self._rescued.exists():
            write_studio_file(self._rescued, self._latest, self.photos)
            return self._rescued
        stem = self.path.stem if self.path is not None else "Studio"
        names = (f"{stem[:80]} (rescued{f' {n}' if n > 1 else ''}).ennead" for n in range(1, 10_000))
        copy = next(p for p in (folder / name for name in names) if not p.exists())
        write_studio_file(copy, self._latest, self.photos)
        self._rescued = copy
        return copy

    def fold_soon(self) -> None:
        """Have the opened state copied and the journal checkpointed: there is no edit at the moment."""
        from ennead.files.studio_file import StudioFile

        file = self._file
        if not self._closed and isinstance(file, StudioFile) and not self.is_behind:
            self._thread.submit(self._keep_state)
            self._thread.submit(file.fold)

    def _open(self, path: Path, create: Studio | None, photos: "PhotoSource") -> Studio:
        from ennead.files.studio_file import StudioFile, check_head, read_studio_file

        # Asked of what they are: to open and close the file once more would drop SQLite's locks on it.
        if isinstance(self._file, StudioFile) and _is_same(self._file.path, path):
            self._close()
        if create is None:
            check_head(path)
        lock, reason = _lock(path)
        if lock is None and create is not None:
            raise FileTrouble(path, reason, "Choose another name or folder.")
        note = ""
        try:
            if lock is not None and create is None:
                note = self._keep_as_found(path)
            opened = StudioFile(path, create=create, photos=photos) if lock is not None else None
            if lock is not None and opened is not None:
                lock.follow()
                note = " ".join(filter(None, (note, *opened.mended)))
            studio = opened.studio if opened is not None else read_studio_file(path)
        except BaseException:
            if lock is not None:
                lock.release()
            raise
        self._close()
        self._file, self._lock, self.note = opened, lock, note
        self.read_only = "" if lock is not None else f"{path.name}: {reason}, so it can only be looked at here."
        # The copy delays nothing: it is made in an idle moment, and before the first edit is written.
        self._uncopied = opened if create is None and self._backups is not None else None
        return studio

    def _keep_as_found(self, path: Path) -> str:
        """Copy what is about to be mended or brought into a newer form, and say so."""
        from ennead.files.backups import keep_as_found
        from ennead.files.rows import FORMAT_VERSION
        from ennead.files.studio_file import check_head
        from ennead.files.write_ahead import journal_state

        older, journal = check_head(path) < FORMAT_VERSION, journal_state(path)
        if not older and journal != "cut":
            return ""
        where = ""
        if self._backups is not None:
            try:
                copy = keep_as_found(self._backups, path, "older-form" if older else "cut-journal")
            except OSError as error:
                what = f"it cannot be copied before it is mended ({reason_of(error)})"
                raise FileTrouble(path, what, "Free some room in your data folder.") from None
            where = f" The file as it was found is kept in {copy}."
        if older:
            return f"{path.name} was of an older form and has been brought into the present one.{where}"
        what = f"{path.name} was not closed in order, and the end of its journal is damaged"
        return f"{what}. Everything up to the last whole edit is here; check what you did last.{where}"

    def _keep_state(self) -> None:
        from sqlite3 import Error

        from ennead.files.backups import keep_opened_state

        opened, self._uncopied = self._uncopied, None
        if self._backups is None or opened is None:
            return
        try:
            keep_opened_state(opened.connection, self._backups, opened.path)
        except (OSError, Error) as error:
            self.told.emit(f"The state it was opened in could not be kept as a backup ({error}).")

    def post(self, studio: Studio) -> int:
        """Worker a studio over to be committed; return the number `kept` will carry."""
        self.posted += 1
        number = self.posted
        self._latest = studio
        photos = self.photos.waiting()
        self._thread.submit(lambda: self._answer(number, studio, photos))
        return number

    def _commit(self, studio: Studio, photos: Mapping[str, bytes]) -> int:
        from ennead.files.studio_file import StudioFile

        self._keep_state()
        if not isinstance(self._file, StudioFile):
            raise FileTrouble(self.path or "the studio", "no file is open to write it to", "Save it as another file.")
        return self._file.commit(studio, photos)

    def _answer(self, number: int, studio: Studio, photos: Mapping[str, bytes]) -> None:
        try:
            self._commit(studio, photos)
        except FileLost as error:
            self.failed.emit(f"{error}{self._kept_aside()}")
        except EnneadError as error:
            self.failed.emit(str(error))
        except Exception as error:  # noqa: BLE001 - whatever it is, the edit is not on disk and that must be shown
            self.failed.emit(f"The edit could not be written ({error}). Save a copy elsewhere.")
        else:
            self.done = max(self.done, number)
            self.photos.written(photos)
            self.kept.emit(number)

    def _kept_aside(self) -> str:
        """Write everything into a copy of its own at once, where the file is lost; return the sentence that says so."""
        try:
            copy = self.rescue()
        except EnneadError as error:
            return f" No copy could be kept either: {error}"
        return f" All of it is kept in {copy}." if copy is not None else ""

    def wait(self) -> None:
        """Wait until everything posted so far is on disk."""
        self._thread.ask(lambda: None)

    def close(self) -> None:
        """Commit what is posted, close the file, end the thread; closing twice does no harm."""
        if not self._closed:
            self._closed = True
            self._thread.ask(self._close)
            self._thread.end()

    def _close(self) -> None:
        from ennead.files.studio_file import StudioFile

        if isinstance(self._file, StudioFile):
            self._keep_state()
            self._file.close()
        if self._lock is not None:
            self._lock.release()
        self._file = self._lock = None


def _is_same(one: Path, other: Path) -> bool:
    """Say whether two names lead to one file."""
    try:
        return one == other.resolve() or one.samefile(other)
    except OSError:
        return False


def _lock(path: Path) -> tuple[WriteLock | None, str]:
    """Return the right to write a file, or None and why there is none."""
    try:
        return WriteLock(path), ""
    except BlockingIOError:
        return None, "it is open in another window"
    except OSError as error:
        return None, f"its folder cannot be written ({reason_of(error)})"
