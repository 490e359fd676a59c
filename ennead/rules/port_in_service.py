"""Rule: ports marked faulty are not used."""

from ennead.studio.document import Studio
from ennead.studio.house import PortEnd


def fault_note(studio: Studio, end: PortEnd) -> str:
    """Return the note of a port out of service, or an empty string."""
    return studio.unit(end.unit).faults.get(end.port, "")
