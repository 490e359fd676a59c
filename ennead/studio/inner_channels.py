"""Driver inputs that no socket carries: a loopback, what another program plays, a talkback microphone."""

from ennead.studio.ids import UnitId
from ennead.studio.profile import Block, Profile
from ennead.studio.record import record


@record(frozen=True)
class InnerChannel:
    """A driver input of an interface that no socket carries: of a loopback, of another program.

    Parameters
    ----------
    block : str
        Key of its block in a driver map.
    channel : int
        Within the block, from 1.
    """

    unit: UnitId
    block: str
    channel: int


def inner_block(profile: Profile, key: str) -> Block | None:
    """Return a block of driver inputs that no socket carries, from whichever map has it; None where none does."""
    blocks = [b for m in profile.driver_maps for b in m.inputs if b.key == key and not b.ports]
    return max(blocks, key=lambda b: b.channels, default=None)


def is_inner(profile: Profile, channel: InnerChannel) -> bool:
    """Say whether an interface has such a driver input."""
    block = inner_block(profile, channel.block)
    return block is not None and 1 <= channel.channel <= block.channels
