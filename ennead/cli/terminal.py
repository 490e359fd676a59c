"""What verbs print: one line at a time, and nothing that a terminal would take for an order."""

import json
import sys
from typing import Any

from ennead.standards.visible_signs import escaped, visible


def say(text: str, *, trouble: bool = False) -> None:
    """Print one line, what is no sign made visible; to standard error where it is trouble."""
    print(visible(text), file=sys.stderr if trouble else sys.stdout)


def print_json(value: Any) -> None:
    """Print one JSON object."""
    print(escaped(json.dumps(value, ensure_ascii=False, indent=2, allow_nan=False)))
