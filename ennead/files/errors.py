"""What can be wrong with a file: one sentence with file, place and remedy."""

from pathlib import Path

from ennead.studio.errors import EnneadError


class FileTrouble(EnneadError):
    """A file that cannot be used, and was left as it is.

    Parameters
    ----------
    what : str
        What is wrong, beginning in lower case, without a full stop.
    remedy : str
        A whole sentence.
    """

    def __init__(self, path: Path | str, what: str, remedy: str) -> None:
        super().__init__(str(path), what, remedy)
        self.path, self.what, self.remedy = str(path), what, remedy

    def __str__(self) -> str:
        # Parts of it come from the file: a line end or a direction mark there must not write a line of its own.
        return "".join(c if c.isprintable() else "\ufffd" for c in f"{self.path}: {self.what}. {self.remedy}")


class FileDamaged(FileTrouble):
    """A studio file that holds what no studio holds.

    Parameters
    ----------
    copy : Path or None
        The newest state that was kept of it.
    """

    def __init__(self, path: Path | str, what: str, copy: Path | None) -> None:
        remedy = "The file was left as it is; " + (
            f"the newest copy kept of it is {copy}" if copy else "open an earlier copy"
        )
        super().__init__(path, what, f"{remedy}.")
        self.copy = copy


class FileLost(FileTrouble):
    """An open studio file that is no longer what was opened: nothing more can be written to it."""

    def __init__(self, path: Path | str, what: str) -> None:
        super().__init__(path, f"{what}; the edit is not on disk", "Put it back, or keep your work by File, Save as….")


def reason_of(error: OSError) -> str:
    """Return the system's reason in words, lower case."""
    text = error.strerror or str(error)
    return text[:1].lower() + text[1:]
