"""What really stands in the house, as it was last ticked."""

from collections.abc import Mapping

from ennead.studio.bays import Cord
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import Cable, Settings
from ennead.studio.ids import CableId, CordId, UnitId
from ennead.studio.record import record


@record(frozen=True)
class Stood:
    """A cable as it was plugged, with each of its ends in words: it is known still when what it was plugged into is gone.

    Parameters
    ----------
    words : tuple of str
        One a plug, in their order.
    """

    cable: Cable
    words: tuple[str, ...]

    @property
    def id(self) -> CableId:
        """The cable's id."""
        return self.cable.id


@record(frozen=True)
class AsBuilt:
    """What really stands, as last ticked; apart from the plan, so that their difference is the work left.

    No edit of the plan reaches into it: a box that has left the plan may still stand and be plugged.
    """

    cables: Mapping[CableId, Stood] = FrozenMap()
    settings: Mapping[UnitId, Settings] = FrozenMap()
    cords: Mapping[CordId, Cord] = FrozenMap()

    def __post_init__(self) -> None:
        object.__setattr__(self, "cables", FrozenMap.of(self.cables))
        object.__setattr__(self, "settings", FrozenMap.of(self.settings))
        object.__setattr__(self, "cords", FrozenMap.of(self.cords))
