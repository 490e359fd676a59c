"""Picks window or verb."""

import sys


def main() -> int:
    """Open the window without a verb, or on the studio file named; else carry out the verb."""
    argv = sys.argv[1:]
    first = argv[0] if argv else ""
    if not argv or (len(argv) == 1 and first.lower().endswith((".ennead", ".json")) and not first.startswith("-")):
        from ennead.desk.app import open_window

        return open_window(first or None)
    from ennead.cli.main import main as carry_out

    return carry_out(argv)


if __name__ == "__main__":
    sys.exit(main())
