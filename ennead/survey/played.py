"""What comes out where: the playback channels and mixes that feed each output of an interface, and which inputs its mixes hold."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from ennead.studio.house import Settings
from ennead.studio.mixes import NOTHING, feeds_offered, lane_name, lane_of
from ennead.studio.profile import Block, Profile

#: A port key and a lane, counted from 1.
PortLane = tuple[str, int]


@dataclass(frozen=True, slots=True)
class UnitChannel:
    """A driver channel within one interface.

    Parameters
    ----------
    index : int
        Number within the interface, from 1; the computer adds the channels of the interfaces before it.
    port : str
        Port key; empty for a channel no socket carries.
    lane : int
        Lane on that port, from 1.
    live : bool
        False for a dead number: a lane lost at this speed, of which a fixed map keeps the number.
    block_first : int
        Index of the first channel of its block.
    """

    index: int
    port: str
    lane: int
    label: str
    live: bool
    block: Block
    block_first: int
    block_last: int


class PlayedLane(NamedTuple):
    """A lane of an output, and a playback channel that comes out there.

    Parameters
    ----------
    channel : int
        Its index, see `UnitChannel`.
    mix : str
        The mix that brings it there, with its side; empty where the channel feeds the output itself.
    gain_db : float, dB
        Its level in that mix.
    delay : float or None, samples
        What the mix adds; None when not stated.
    """

    channel: int
    at: PortLane
    mix: str = ""
    gain_db: float = 0.0
    delay: float | None = 0.0


class Playing(NamedTuple):
    """Everything that an interface plays out.

    Parameters
    ----------
    outputs : tuple of UnitChannel
        Each with the first socket it comes out of by itself, if any.
    played : tuple of PlayedLane
        By channel, mirrored outputs last.
    direct : map of (port key, lane) to tuple of (port key, lane)
        The outputs that each input is heard at by a mix.
    """

    outputs: tuple[UnitChannel, ...] = ()
    played: tuple[PlayedLane, ...] = ()
    direct: Mapping[PortLane, tuple[PortLane, ...]] = {}


def playing(profile: Profile, settings: Settings, usual: tuple[UnitChannel, ...], live: Mapping[str, int]) -> Playing:
    """Return what an interface plays out, as its outputs are fed.

    Parameters
    ----------
    usual : tuple of UnitChannel
        Its playback channels, each with the socket it usually comes out of.
    live : map of port key to int
        How many lanes each port carries now.
    """
    by_name = {lane_name(*(_own(c) if c.port else (c.block.key, c.lane))): c for c in usual if c.live}
    feeds = settings.feeds if feeds_offered(profile) else {}
    played = [PlayedLane(c.index, _own(c)) for name, c in by_name.items() if c.port and name not in feeds]
    played += _mirrored(profile, by_name, feeds)
    if not feeds:
        return Playing(usual, tuple(played))
    direct: dict[PortLane, tuple[PortLane, ...]] = {}
    for name, feed in feeds.items():
        at = lane_of(name)
        if feed == NOTHING or not 0 < at[1] <= live.get(at[0], 0):
            continue
        if feed in by_name:
            played.append(PlayedLane(by_name[feed].index, at))
            continue
        late = next((m.latency_samples for m in profile.mixes if m.key == lane_of(feed)[0]), None)
        for held, level in settings.mixes.get(feed, {}).items():
            if level == "off":
                continue
            if held in by_name:
                played.append(PlayedLane(by_name[held].index, at, feed, level, late))
            elif lane_of(held)[0] in profile.port_by_key and profile.port_by_key[lane_of(held)[0]].direction != "out":
                direct[lane_of(held)] = (*direct.get(lane_of(held), ()), at)
    played.sort(key=lambda p: (p.channel, p.mix != ""))
    return Playing(tuple(_moved(usual, played)), tuple(played), direct)


def _own(channel: UnitChannel) -> PortLane:
    return channel.port, channel.lane


def _mirrored(profile: Profile, by_name: Mapping[str, UnitChannel], feeds: Mapping[str, str]) -> Iterator[PlayedLane]:
    for socket in profile.ports:
        for lane, key in enumerate(socket.mirrors, start=1):
            channel = by_name.get(lane_name(key, 1))
            if channel is not None and lane_name(socket.key, lane) not in feeds:
                yield PlayedLane(channel.index, (socket.key, lane))


def _moved(usual: Iterable[UnitChannel], played: Iterable[PlayedLane]) -> Iterator[UnitChannel]:
    """Yield the channels, each at the first socket that it feeds by itself: at its own one where it still does."""
    first: dict[int, PortLane] = {}
    own = {c.index: _own(c) for c in usual}
    for one in played:
        if not one.mix and (one.channel not in first or one.at == own[one.channel]):
            first[one.channel] = one.at
    for c in usual:
        if not c.live or not c.port or first.get(c.index) == _own(c):
            yield c
        else:
            port, lane = first.get(c.index, ("", c.lane))
            yield UnitChannel(c.index, port, lane, c.label, c.live, c.block, c.block_first, c.block_last)
