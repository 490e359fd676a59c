"""What the program remembers between two starts: theme, scale, window, last studio; and where drafts live."""

import datetime as dt
from pathlib import Path

from PyQt6.QtCore import QByteArray, QSettings, QStandardPaths


class Preferences:
    """The user's settings file."""

    def __init__(self) -> None:
        self._store = QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "Ennead", "ennead")

    def text(self, key: str, default: str = "") -> str:
        """Return a remembered text."""
        return str(self._store.value(key, default))

    def number(self, key: str, default: float) -> float:
        """Return a remembered number; the default where none can be read."""
        try:
            return float(self._store.value(key, default))
        except (TypeError, ValueError):
            return default

    def data(self, key: str) -> QByteArray | None:
        """Return remembered bytes."""
        value = self._store.value(key)
        return value if isinstance(value, QByteArray) else None

    def remember(self, key: str, value: object) -> None:
        """Remember a value."""
        self._store.setValue(key, value)

    @property
    def recent(self) -> list[Path]:
        """Studios opened lately that are still there, newest first."""
        value = self._store.value("recent", [])
        names = [value] if isinstance(value, str) else list(value or [])
        return [p for p in map(Path, names) if p.exists()]

    def opened(self, path: Path) -> None:
        """Remember a studio as the newest."""
        names = [str(path), *(str(p) for p in self.recent if p != path)]
        self._store.setValue("recent", names[:10])
        self._store.sync()


def drafts_folder() -> Path:
    """Return the folder of drafts in the user's data folder, made if it is not there."""
    base = QStandardPaths.writableLocation(QStandardPaths.StandardLocation.GenericDataLocation)
    folder = Path(base) / "ennead" / "studios"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def backups_folder() -> Path:
    """Return the folder in which opened states are kept; it is made when the first one is."""
    return drafts_folder().parent / "backups"


def shelf_folder() -> Path:
    """Return the folder of the user's own profiles; it is made when the first one is kept."""
    return drafts_folder().parent / "profiles"


def templates_folder() -> Path:
    """Return the folder of the user's own sets of sources; it is made when the first one is kept."""
    return drafts_folder().parent / "templates"


def draft_path(folder: Path, today: dt.date) -> Path:
    """Return a path for a new draft that no file has yet."""
    stem = f"Draft of {today.day} {today:%B %Y}"
    names = (stem, *(f"{stem} ({n})" for n in range(2, 10_000)))
    return next(p for p in (folder / f"{n}.ennead" for n in names) if not p.exists())
