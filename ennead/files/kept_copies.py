"""Copies kept of a studio file: the states it was opened in, and how it was found before anything in it was mended."""

import os
from pathlib import Path
from zlib import crc32


def data_folder() -> Path:
    """Return the folder of the user's data.

    References
    ----------
    XDG Base Directory Specification: ``XDG_DATA_HOME`` where it is an absolute path, else ``~/.local/share``.
    """
    stated = Path(os.environ.get("XDG_DATA_HOME", ""))
    return (stated if stated.is_absolute() else Path.home() / ".local" / "share") / "ennead"


def backup_folder(backups: Path, path: Path) -> Path:
    """Return the folder in which the states of one studio file are kept."""
    name = f"{crc32(str(path.absolute()).encode()):08x}"
    return backups / f"{path.stem[:80]}-{name}"


def newest_copy(path: Path) -> Path | None:
    """Return the newest state kept of a studio file, or None where there is none."""
    try:
        kept = sorted(backup_folder(data_folder() / "backups", path).glob("*.ennead"))
    except (OSError, RuntimeError, ValueError):
        # Without a home there are no copies.
        return None
    return kept[-1] if kept else None
