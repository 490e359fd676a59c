"""What a name may be: any script, one line, at most 500 characters."""

import unicodedata

from ennead.studio.errors import BadValue
from ennead.studio.plugs import LONGEST_NAME


def clean_name(text: str, field: str = "a name", *, may_be_empty: bool = False) -> str:
    """Return a name on one line, without control characters and without space at its ends.

    Raises
    ------
    BadValue
        If nothing is left, or more than 500 characters are.
    """
    spaced = (
        text
        if text.isprintable()
        else "".join(" " if unicodedata.category(c) in ("Cc", "Zl", "Zp", "Cs") else c for c in text)
    )
    name = " ".join(spaced.split())
    if not name and not may_be_empty:
        raise BadValue(field, text, "Type at least one letter or digit.")
    if len(name) > LONGEST_NAME:
        raise BadValue(field, text, f"Keep it to {LONGEST_NAME} characters; this one has {len(name)}.")
    return name
