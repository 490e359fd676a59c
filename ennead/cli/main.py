"""Verbs, arguments and exit status of the command line."""

import argparse
import contextlib
import os
import sys
from collections.abc import Sequence
from typing import NoReturn

from ennead import __version__
from ennead.cli import (
    allocate,
    bays,
    changeover,
    check,
    clock,
    computer,
    convert,
    demo,
    driver_map,
    export,
    layout,
    lines,
    links,
    loops,
    moves,
    passes,
    ping,
    rehearse,
    schema,
    standin,
    tone,
)
from ennead.cli.terminal import say
from ennead.files.fault_log import keep_log
from ennead.standards.visible_signs import visible
from ennead.studio.errors import EnneadError

VERBS = {
    "demo": demo,
    "convert": convert,
    "schema": schema,
    "check": check,
    "driver-map": driver_map,
    "lines": lines,
    "rehearse": rehearse,
    "links": links,
    "clock": clock,
    "allocate": allocate,
    "changeover": changeover,
    "bays": bays,
    "moves": moves,
    "passes": passes,
    "layout": layout,
    "loops": loops,
    "computer": computer,
    "ping": ping,
    "tone": tone,
    "standin": standin,
    "export": export,
}


class _Parser(argparse.ArgumentParser):
    """A parser that says what is wrong in one sentence."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{visible(f'{self.prog}: {message}. Try {self.prog} --help')}\n")


def parser() -> argparse.ArgumentParser:
    """Return the parser of all verbs."""
    top = _Parser(
        prog="ennead",
        description="Plan, check and explain the wiring of a recording studio. Without a verb the window opens.",
        epilog="A STUDIO is a .ennead file or its .json interchange form. "
        "Exit status: 0 done; 1 from check, trouble found; 2 the input cannot be used.",
    )
    top.add_argument("--version", action="version", version=f"ennead {__version__}")
    verbs = top.add_subparsers(dest="verb", metavar="VERB", parser_class=_Parser)
    for name, module in VERBS.items():
        sentence = (module.__doc__ or "").strip().splitlines()[0]
        module.arguments(verbs.add_parser(name, help=sentence, description=sentence))
    return top


def main(argv: Sequence[str]) -> int:
    """Carry out a verb; return the exit status."""
    keep_log()
    args = parser().parse_args(argv)
    if args.verb is None:
        parser().print_usage(sys.stderr)
        return 2
    try:
        status: int = VERBS[args.verb].run(args)
        # What does not fit on a full disk is told only when it is really written.
        sys.stdout.flush()
    except EnneadError as error:
        say(f"ennead: {error}", trouble=True)
        return 2
    except KeyboardInterrupt:
        # As a shell counts a program that was interrupted.
        return 130
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    except UnicodeEncodeError as error:
        sign = error.object[error.start : error.start + 1]
        return _unprinted(
            f"it takes {error.encoding} and has no “{ascii(sign)[1:-1]}”",
            "Set PYTHONIOENCODING=utf-8, or a locale in UTF-8.",
        )
    except OSError as error:
        return _unprinted((error.strerror or str(error)).lower(), "Free some room, or print elsewhere.")
    return status


def _unprinted(reason: str, remedy: str) -> int:
    """Say that standard output cannot be written; what is left for it is thrown away."""
    say(f"ennead: standard output cannot be written ({reason}). {remedy}", trouble=True)
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 2
