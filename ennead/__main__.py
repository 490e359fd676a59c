"""Picks window or verb."""

import sys


def main() -> int:
    """Open the window without a verb, or on the studio file named; else carry out the verb."""
    argv = sys.argv[1:]
    first = argv[0] if argv else ""
    if not argv or (len(argv) == 1 and first.lower().endswith((".ennead", ".json")) and not first.startswith("-")):
        from ennead.desk.shell.app import open_window

        return open_window(first or None)
    from ennead.cli.main import main as carry_out

    try:
        return carry_out(argv)
    except Exception as error:
        import logging

        from ennead.files.fault_log import fault_file

        logging.getLogger("ennead").exception("%s failed", argv[0])
        print(  # noqa: T201 - the one place where the program speaks of itself
            f"ennead: the program itself failed at that ({type(error).__name__}). Details are in {fault_file()}.",
            file=sys.stderr,
        )
        return 2


if __name__ == "__main__":
    sys.exit(main())
