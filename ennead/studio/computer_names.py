"""What a computer was read to call its numbers."""

from typing import Final

from ennead.studio.record import record


@record(frozen=True)
class SystemNames:
    """What a computer called its numbers when it was read at one rate; empty where it was not.

    Parameters
    ----------
    inputs, outputs : tuple of str
        From number 1 on.
    """

    inputs: tuple[str, ...] = ()
    outputs: tuple[str, ...] = ()


#: More numbers than any computer shows. House default.
MOST_NUMBERS: Final = 4_096
