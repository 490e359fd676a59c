"""Edits of sources that a driver number without a socket brings: a loopback, what another program plays, a talkback microphone."""

from collections.abc import Iterable
from typing import Final

from ennead.edits.session import add_source
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.inner_channels import InnerChannel, inner_block
from ennead.studio.record import replace
from ennead.studio.session import KIND_LABELS, SourceKind

#: Kinds of source that a driver number without a socket can bring.
WITHOUT_SOCKET: Final[tuple[SourceKind, ...]] = ("line", "digital")


def hold_channels(studio: Studio, source: SourceId, channels: Iterable[InnerChannel]) -> Studio:
    """Let a source come in by driver numbers that no socket carries, one a channel; none to let go of them.

    A cable of its own goes before them.

    Raises
    ------
    UnknownObject
    BadValue
        If an interface has no such number, the source has fewer channels, or another of the session holds one.
    """
    found, held = studio.source(source), tuple(channels)
    if len(held) > found.channels or len(set(held)) < len(held):
        raise BadValue(f"what {found.name} comes in by", len(held), "Choose one number for each of its channels.")
    if held and found.kind not in WITHOUT_SOCKET:
        kinds = " or ".join(KIND_LABELS[kind] for kind in WITHOUT_SOCKET)
        raise BadValue(
            f"what {found.name} comes in by", KIND_LABELS[found.kind], f"Only {kinds} comes in without a socket."
        )
    for one in held:
        name = studio.unit(one.unit).name
        block = inner_block(studio.profile_of(one.unit), one.block)
        if block is None or not 1 <= one.channel <= block.channels:
            raise BadValue(f"a number of {name}", f"{one.block} {one.channel}", "Choose one that no socket carries.")
        other = next((s for s in studio.session_sources if s.id != source and one in s.inside), None)
        if other is not None:
            raise BadValue(f"a number of {name}", f"{block.label} {one.channel}", f"{other.name} comes in by it.")
    return replace(studio, sources=studio.sources.put(source, replace(studio.sources[source], inside=held)))


def take_in_channels(studio: Studio, unit: UnitId, block: str, channels: tuple[int, ...]) -> Studio:
    """Put a driver number that no socket carries on the current list as a source, or two of them as a pair.

    Raises
    ------
    UnknownObject
    BadValue
        If there is no such number, or a source of the session holds it.
    """
    found = inner_block(studio.profile_of(unit), block)
    label = found.label if found is not None else block
    which = "" if found is not None and found.channels == len(channels) else f" {'–'.join(map(str, channels))}"
    studio = add_source(studio, f"{studio.unit(unit).name} {label}{which}", kind="line", channels=len(channels))
    return hold_channels(studio, studio.current.sources[-1], [InnerChannel(unit, block, n) for n in channels])


def free_channels(studio: Studio, unit: UnitId) -> list[tuple[str, tuple[int, ...]]]:
    """Return the driver numbers of an interface that no socket carries and no source of the session holds, by twos where they can be.

    Raises
    ------
    UnknownObject
    """
    held = {one for source in studio.session_sources for one in source.inside}
    found: list[tuple[str, tuple[int, ...]]] = []
    keys = dict.fromkeys(b.key for m in studio.profile_of(unit).driver_maps for b in m.inputs if not b.ports)
    for key in keys:
        block = inner_block(studio.profile_of(unit), key)
        free = [n for n in range(1, block.channels + 1) if InnerChannel(unit, key, n) not in held] if block else []
        while free:
            two = len(free) > 1 and free[0] % 2 == 1 and free[1] == free[0] + 1
            found.append((key, tuple(free[: 1 + two])))
            del free[: 1 + two]
    return found
