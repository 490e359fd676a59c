"""A studio as it was once, kept under a name."""

from ennead.studio.ids import RevisionId
from ennead.studio.record import record


@record(frozen=True)
class Revision:
    """A kept value of the whole document.

    Parameters
    ----------
    made : str
        When it was kept, as ``2026-11-27 05:12``.
    body : str
        The studio in the interchange form of the day; of whatever form, it is read as a file of that form is.
    """

    id: RevisionId
    name: str
    made: str
    body: str
