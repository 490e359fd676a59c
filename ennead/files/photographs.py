"""Photographs of recall cards: bytes under the hash of their content, in a studio file, in a folder beside it, or in memory."""

import re
import sqlite3
from collections.abc import Collection, Iterable
from contextlib import closing, suppress
from pathlib import Path
from typing import Final, Protocol

from ennead.files.errors import FileTrouble
from ennead.files.regular import made_whole
from ennead.studio.document import Studio
from ennead.studio.recall import is_hash

#: The largest picture that is stored, bytes. House default: 1,600 pixels at good quality take some 0.4 MB.
MOST_PHOTO_BYTES: Final = 4_000_000
#: Where the backups of one studio hold their photographs together, and what every such folder's files end with.
SHARED: Final = "photographs"
_ENDINGS: Final = {b"\xff\xd8\xff": ".jpg", b"\x89PNG\r\n\x1a\n": ".png"}
#: A hash within a kept revision, which is the whole document as text.
_NAMED: Final = re.compile(r'\\?"sha256\\?":\s*\\?"([0-9a-f]{64})\\?"')


class PhotoSource(Protocol):
    """Where the bytes of photographs are found."""

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None where they are not here or are no longer what they were."""
        ...


class NoPhotos:
    """A source of none."""

    def photo(self, sha256: str) -> bytes | None:
        """Return None."""
        return None


class HeldPhotos:
    """Photographs in memory: those that were just added, or drawn."""

    def __init__(self) -> None:
        self.held: dict[str, bytes] = {}

    def put(self, body: bytes) -> str:
        """Hold a picture; return its hash.

        Raises
        ------
        ValueError
            If it is no picture that a studio stores, or too large.
        """
        if not ending_of(body) or len(body) > MOST_PHOTO_BYTES:
            raise ValueError("no JPEG or PNG, or more than the bytes that a picture may have")
        key = hash_of(body)
        self.held[key] = body
        return key

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None."""
        return self.held.get(sha256)


class FilePhotos:
    """The photographs of a studio file, which may be open elsewhere, and of the backups beside it."""

    def __init__(self, path: Path) -> None:
        self._path = path.resolve()
        self._beside = FolderPhotos(self._path.parent / SHARED)

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None."""
        with suppress(sqlite3.Error, OSError, ValueError):
            alone = not self._path.with_name(self._path.name + "-wal").exists()
            query = "mode=ro&immutable=1" if alone else "mode=ro"
            with closing(sqlite3.connect(f"{self._path.as_uri()}?{query}", uri=True)) as db:
                if (body := photo_in(db, sha256)) is not None:
                    return body
        return self._beside.photo(sha256)


class FolderPhotos:
    """The photographs in a folder, a file each, called by their hashes."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None."""
        if not is_hash(sha256):
            return None
        for ending in _ENDINGS.values():
            with suppress(OSError):
                path = self._folder / f"{sha256}{ending}"
                if path.is_file() and path.stat().st_size <= MOST_PHOTO_BYTES:
                    return _as_named(path.read_bytes(), sha256)
        return None


def photo_in(db: sqlite3.Connection, sha256: str) -> bytes | None:
    """Return the bytes with a hash from an open studio file, or None; a table that is not there holds none."""
    with suppress(sqlite3.Error):
        row = db.execute(
            "select body from photo where sha256 = ? and length(body) <= ?", (sha256, MOST_PHOTO_BYTES)
        ).fetchone()
        if row is not None and type(row[0]) is bytes:
            return _as_named(row[0], sha256)
    return None


def photos_of(path: Path) -> PhotoSource:
    """Return where the photographs of a studio are, by its path's ending."""
    return FolderPhotos(folder_beside(path)) if path.suffix.lower() == ".json" else FilePhotos(path)


def folder_beside(path: Path) -> Path:
    """Return the folder of an interchange form's photographs."""
    return path.with_name(f"{path.stem}.photos")


def hash_of(body: bytes) -> str:
    """Return the hash of a photograph's bytes."""
    # Loaded with the first photograph: a start has no use for it.
    import hashlib

    return hashlib.sha256(body).hexdigest()


def ending_of(body: bytes) -> str:
    """Return the ending of a picture's file by its first bytes; empty where it is no picture that a studio stores."""
    return next((ending for magic, ending in _ENDINGS.items() if body.startswith(magic)), "")


def _as_named(body: bytes, sha256: str) -> bytes | None:
    return body if hash_of(body) == sha256 and ending_of(body) else None


def named_photos(studio: Studio) -> frozenset[str]:
    """Return the hashes that a studio names: on its cards, and in the revisions kept in it."""
    own = {photo.sha256 for card in studio.recalls.values() for photo in card.photos}
    return frozenset(own.union(*[in_revision(r.body) for r in studio.revisions.values()]))


def in_revision(text: str) -> frozenset[str]:
    """Return the hashes that stand in the text of a document."""
    return frozenset(_NAMED.findall(text)) if "sha256" in text else frozenset()


def write_folder(folder: Path, hashes: Collection[str], photos: PhotoSource) -> None:
    """Write photographs into a folder, a file each; one that is there already stays, for its name is its content.

    Raises
    ------
    FileTrouble
    """
    there = FolderPhotos(folder)
    for key in sorted(hashes):
        if there.photo(key) is not None or (body := photos.photo(key)) is None:
            continue
        try:
            folder.mkdir(mode=0o700, exist_ok=True)
        except OSError as error:
            raise FileTrouble(folder, f"it cannot be made ({error.strerror})", "Choose another folder.") from None
        with made_whole(folder / f"{key}{ending_of(body)}", private=True) as part:
            part.write_bytes(body)


def sweep_folder(folder: Path, named: Iterable[str]) -> None:
    """Remove the photographs of a folder of backups that none of them names any more."""
    kept = set(named)
    with suppress(OSError):
        for path in folder.iterdir():
            if is_hash(path.stem) and path.suffix in _ENDINGS.values() and path.stem not in kept:
                path.unlink()
