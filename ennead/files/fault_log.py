"""Where faults of the program itself are written down: a file in the user's data folder, for bug reports."""

import logging
import os
from pathlib import Path

_NAME = "ennead"


def fault_file() -> Path:
    """Return the file of faults in the user's data folder."""
    base = os.environ.get("XDG_DATA_HOME") or "~/.local/share"
    return Path(base).expanduser() / "ennead" / "faults.txt"


class _FaultFile(logging.Handler):
    """Appends to the file of faults; where that cannot be, nothing else fails over it."""

    def emit(self, record: logging.LogRecord) -> None:
        try:
            path = fault_file()
            path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            with path.open("a", encoding="utf-8", errors="backslashreplace") as log:
                log.write(self.format(record) + "\n")
        except OSError:
            pass


def keep_log() -> None:
    """Have what the program logs written to the file of faults, and nowhere else."""
    logger = logging.getLogger(_NAME)
    if not any(isinstance(h, _FaultFile) for h in logger.handlers):
        handler = _FaultFile()
        handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
        logger.addHandler(handler)
        logger.propagate = False
