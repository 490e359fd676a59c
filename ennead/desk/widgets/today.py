"""The day, as a person at this desk has it."""

from datetime import datetime


def today() -> str:
    """Return the day of the calendar here, as ``2026-11-27``."""
    return datetime.now().astimezone().date().isoformat()
