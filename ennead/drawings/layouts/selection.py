"""What is selected: one thing of the studio, named by its ids."""

from typing import Literal, NamedTuple

from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId


class Selection(NamedTuple):
    """One thing.

    Parameters
    ----------
    kind : str
        What `key` is the id of; for a port the id of its unit.
    port : str
        Port key where a port is meant.
    """

    kind: Literal["nothing", "source", "destination", "unit", "port", "computer"] = "nothing"
    key: str = ""
    port: str = ""

    @property
    def end(self) -> PortEnd:
        """The port as a cable end."""
        return PortEnd(UnitId(self.key), self.port)


NOTHING = Selection()
