"""How long random trials are: a first part in ``make test``, all of them in ``make fuzz``."""

import os

WHOLE = os.environ.get("ENNEAD_TRIALS") == "whole"


def few(part, whole):
    """Return how many trials are made, or which."""
    return whole if WHOLE else part
