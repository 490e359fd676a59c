"""The photographs of the open studio: on disk, or in memory while they are on their way there."""

from collections.abc import Mapping
from pathlib import Path
from typing import Final

#: Bytes of photographs kept in memory once they are drawn. House default: some eighty of them.
_MOST_HELD: Final = 32_000_000


class PhotoShelf:
    """Where the desk finds the bytes of photographs.

    Parameters
    ----------
    path : Path or None
        The studio file that is open.
    """

    def __init__(self, path: Path | None) -> None:
        self._path = path
        self._waiting: dict[str, bytes] = {}
        self._seen: dict[str, bytes] = {}

    def put(self, body: bytes) -> str:
        """Hold a picture until it is on disk; return its hash. It is written with the next edit.

        Raises
        ------
        ValueError
            If it is no picture that a studio stores, or too large.
        """
        from ennead.files.photographs import HeldPhotos

        key = HeldPhotos().put(body)
        self._waiting[key] = body
        return key

    def photo(self, sha256: str) -> bytes | None:
        """Return the bytes with a hash, or None."""
        held = self._waiting.get(sha256) or self._seen.get(sha256)
        if held is not None or self._path is None:
            return held
        from ennead.files.photographs import FilePhotos

        body = FilePhotos(self._path).photo(sha256)
        if body is not None:
            if sum(map(len, self._seen.values())) > _MOST_HELD:
                self._seen.clear()
            self._seen[sha256] = body
        return body

    def waiting(self) -> Mapping[str, bytes]:
        """Return the photographs that are not on disk yet."""
        return dict(self._waiting)

    def written(self, photos: Mapping[str, bytes]) -> None:
        """Let go of photographs that are on disk now."""
        for key in photos:
            self._waiting.pop(key, None)
