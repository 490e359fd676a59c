"""What can be printed or written, once: the list of the window and that of the command line."""

from typing import Final, NamedTuple


class Printed(NamedTuple):
    """One list or page.

    Parameters
    ----------
    what : str
        Its name on the command line.
    label, says : str
        What it is called, and what is on it.
    pages : tuple of str
        Endings of the files it can be painted to.
    table : bool
        Whether it can be a table as well: csv, json, md.
    """

    what: str
    label: str
    says: str
    pages: tuple[str, ...] = (".pdf",)
    table: bool = True


PRINTED: Final[tuple[Printed, ...]] = (
    Printed("cables", "Cable schedule", "Every cable with both its ends, type, length and state"),
    Printed("drivers", "Driver sheet", "Every driver number with its socket, label and track"),
    Printed("labels", "Strips of the bays", "Designation strips at true scale", (".pdf", ".svg")),
    Printed("flags", "Flags for the cables", "Two flags a cable, to fold round it at true scale", (".pdf", ".svg")),
    Printed("wiring", "Wiring of the bays", "What is soldered behind every point"),
    Printed(
        "bays", "All bays as one sheet", "The bays as drawn, with the cords of the scene", (".pdf", ".svg"), table=False
    ),
    Printed("moves", "Moves to the scene", "What to pull and plug, cord by cord, as a list to tick"),
    Printed("looms", "Looms", "Each loom with its multipins and lines, and those in the drawer"),
    Printed("path", "What is in a path", "Every box a signal passes, and what plugs keep out of it"),
    Printed("loops", "Loops", "Each loop with its numbers, boxes, delay, levels and what to enter in the software"),
    Printed("recall", "Recall cards", "How boxes stood, with their photographs"),
    Printed("passes", "Print passes", "Which tracks are printed together, what to dial before, what to do afterwards"),
    Printed(
        "changeover",
        "Changeover between two evenings",
        "What to switch, pull and plug, and the tracks that change number",
    ),
)

PRINTED_BY_NAME: Final[dict[str, Printed]] = {printed.what: printed for printed in PRINTED}
