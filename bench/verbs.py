"""The command line called in this process, as a script would call it."""

import contextlib
import io
import json
from typing import Any

from ennead.cli.main import main


def run(*argv: object) -> tuple[Any, str, str]:
    """Return exit status, standard output and standard error of a verb."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            status: Any = main([str(a) for a in argv])
        except SystemExit as end:
            status = end.code
    return status, out.getvalue(), err.getvalue()


def json_of(*argv: object, status: int | None = 0) -> Any:
    """Return what a verb prints as JSON; its exit status must be the one given, None for 0 or 1.

    Raises
    ------
    AssertionError
        If it ends otherwise, or says anything on standard error.
    """
    got, out, err = run(*argv, "--json")
    if err or got not in ((0, 1) if status is None else (status,)):
        raise AssertionError(f"{argv[0]}: exit {got}, said “{err}”")
    return json.loads(out)
