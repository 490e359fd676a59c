"""Sessions: the sources they record, and the destinations to which sound goes out."""

from collections.abc import Mapping
from functools import cached_property
from operator import itemgetter
from typing import Final, Literal

from ennead.studio.delays import LoopDelay
from ennead.studio.frozen_map import FrozenMap
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, PlaceId, SceneId, SessionId, SourceId, UnitId
from ennead.studio.inner_channels import InnerChannel
from ennead.studio.loop_use import USUAL, LoopUse
from ennead.studio.record import names_of, record
from ennead.studio.switches import Stated
from ennead.studio.tracks import Track

SourceKind = Literal["dynamic", "condenser", "ribbon", "line", "instrument", "digital"]
Phantom = Literal["needed", "tolerated", "forbidden"]

KINDS: tuple[SourceKind, ...] = ("dynamic", "condenser", "ribbon", "line", "instrument", "digital")
KIND_LABELS: dict[str, str] = {
    "dynamic": "dynamic mic",
    "condenser": "condenser mic",
    "ribbon": "ribbon mic",
    "line": "line",
    "instrument": "instrument",
    "digital": "digital",
}
PHANTOMS: tuple[Phantom, ...] = ("needed", "tolerated", "forbidden")
Priority = Literal["", "must", "may wait"]
PRIORITIES: tuple[Priority, ...] = ("must", "", "may wait")
MICROPHONES: frozenset[str] = frozenset({"dynamic", "condenser", "ribbon"})


@record(frozen=True)
class SourceFacts:
    """Something that makes a signal, once in the house; what a session wants of it is a `Wish`.

    Parameters
    ----------
    phantom : Phantom
        A fact of this very microphone, not of its kind.
    channels : int
        1 for mono, 2 for a stereo pair.
    di : "", "passive" or "active"
        The box that turns a high-impedance instrument into a microphone-level signal.
    guessed : tuple of str
        Fields filled in from the words of the name, not by a person.
    sensitivity_mv_pa : float or None, mV/Pa
        Of the microphone.
    loudest_db_spl : float or None, dB
        The loudest sound at the microphone, sound pressure level.
    level_dbu : float or None, dBu
        The strongest signal of a line source.
    impedance_ohm : float or None, ohm
        Source impedance.
    at : tuple of PortEnd
        The outputs of the house it is, one a channel: an instrument's, a panel's, a console's direct out. Where a cable runs
        from them it needs none of its own.
    inside : tuple of InnerChannel
        The driver inputs without a socket that it comes in by, one a channel, where it has no cable.
    """

    id: SourceId
    name: str
    kind: SourceKind = "dynamic"
    phantom: Phantom = "tolerated"
    channels: int = 1
    place: PlaceId | None = None
    di: Literal["", "passive", "active"] = ""
    guessed: tuple[str, ...] = ()
    sensitivity_mv_pa: float | None = None
    loudest_db_spl: float | None = None
    level_dbu: float | None = None
    impedance_ohm: float | None = None
    at: tuple[PortEnd, ...] = ()
    inside: tuple[InnerChannel, ...] = ()

    @property
    def is_microphone(self) -> bool:
        """Whether it needs a microphone preamp: a microphone, or an instrument behind a DI box."""
        return self.kind in MICROPHONES or (self.kind == "instrument" and bool(self.di))


@record(frozen=True)
class Wish:
    """What one session wants of a source.

    Parameters
    ----------
    group : str
        Sources of one group are read, folded and moved together.
    track : str
        Name of the track in the recording software; empty means the source's name.
    coherent : bool
        Whether it must arrive at the same time as the others of its group that are so marked: a kit, a main pair.
    priority : Priority
        Which sources are left out last, and which first, where not all find an input.
    preamp : str
        The unit, or the profile, it is wanted on; empty for any.
    outboard : UnitId or None
        A processor it is to pass on the way in.
    """

    source: SourceId
    group: str = ""
    track: str = ""
    pinned: bool = False
    note: str = ""
    coherent: bool = False
    priority: Priority = ""
    preamp: str = ""
    outboard: UnitId | None = None


@record(frozen=True)
class Source(SourceFacts):
    """A source as one session wants it: its facts, and that session's wish."""

    group: str = ""
    track: str = ""
    pinned: bool = False
    note: str = ""
    coherent: bool = False
    priority: Priority = ""
    preamp: str = ""
    outboard: UnitId | None = None

    @property
    def track_name(self) -> str:
        """The track's name, or the source's where none is given."""
        return self.track or self.name


#: What is wished, apart from what is a fact.
WISHES: Final[tuple[str, ...]] = tuple(name for name in names_of(Wish) if name != "source")
_FACTS: Final[tuple[str, ...]] = names_of(SourceFacts)
_facts_in, _wishes_in = itemgetter(*_FACTS), itemgetter(*WISHES)


def wanted(facts: SourceFacts, wish: Wish) -> Source:
    """Return a source as a session wants it; the very same object as long as both are."""
    held: list[tuple[SourceFacts, Source]] = wish.__dict__.get("_wanted", [])
    if held and held[0][0] is facts:
        return held[0][1]
    for of, found in held:
        if of is facts:
            return found
    # A thousand are made when a list is pasted: both are whole already, and nothing of them need be looked at again.
    found = object.__new__(Source)
    found.__dict__.update(
        zip((*_FACTS, *WISHES), (*_facts_in(facts.__dict__), *_wishes_in(wish.__dict__)), strict=True)
    )
    # Beside the fields of a frozen value, as a cached property is; a few, for studios before and after an edit are looked at by turns.
    wish.__dict__["_wanted"] = [(facts, found), *held[:3]]
    return found


#: Bounds of what can be said of a source; beyond them it is a slip of the hand.
SOURCE_RANGES: Final[dict[str, tuple[float, float]]] = {
    "sensitivity_mv_pa": (0.01, 1000.0),
    "loudest_db_spl": (0.0, 194.0),
    "level_dbu": (-80.0, 40.0),
    "impedance_ohm": (0.1, 1e7),
}

#: What matters when places are found, in the usual order of importance, in words.
AIM_LABELS: Final[dict[str, str]] = {
    "moves": "keep what is wired",
    "skew": "no skew within pairs and groups",
    "numbers": "keep the numbers used before",
    "wiring": "short and few new cables",
    "adapters": "few adapters",
    "spare": "leave inputs spare",
    "together": "groups and neighbours on one box",
    "switches": "leave 48 V switches as they are",
    "order": "tidy numbers, low ones first",
}

#: Kinds of input of which some may be kept free.
SPARES: Final = ("phantom", "mic", "line", "hiz", "all")

#: Policies of the numbers of a loop's send and return.
LoopNumbers = Literal["paired", "always", "free"]
LOOP_NUMBERS: Final[dict[LoopNumbers, str]] = {
    "paired": "the same if it costs nothing",
    "always": "always the same",
    "free": "as they come",
}

DestinationKind = Literal["mains", "speakers", "cue", "send", "click", "loop"]
DESTINATION_KINDS: tuple[DestinationKind, ...] = ("mains", "speakers", "cue", "send", "click", "loop")
DESTINATION_LABELS: Final[dict[str, str]] = {
    "mains": "main loudspeakers",
    "speakers": "other loudspeakers",
    "cue": "cue",
    "send": "send",
    "click": "click",
    "loop": "outboard loop",
}


@record(frozen=True)
class Destination:
    """Where sound goes out: loudspeakers, a listener's cue, a send, a click, or a loop that comes back in.

    Parameters
    ----------
    channels : int
        1 for mono, 2 for a stereo pair; of a loop, with how many it goes out.
    back : int
        With how many channels a loop comes back; 0 for as many as it goes out with.
    at : tuple of PortEnd
        The inputs at which it stands wired in the house, one a channel: loudspeakers, a cue box, the first box of a loop. Empty
        where leads of its own bring it what it hears.
    boxes : tuple of UnitId
        What stands in a loop, in order.
    pinned : bool
        Whether it stays where it is.
    tap : bool
        Whether it may hear what a loop's send carries, on purpose.
    measured : tuple of LoopDelay
        How late a loop was, one a rate.
    use : LoopUse
        How a loop is used, and how strong the signal is on it.
    """

    id: DestinationId
    name: str
    kind: DestinationKind = "cue"
    channels: int = 2
    at: tuple[PortEnd, ...] = ()
    boxes: tuple[UnitId, ...] = ()
    place: PlaceId | None = None
    pinned: bool = False
    tap: bool = False
    note: str = ""
    measured: tuple[LoopDelay, ...] = ()
    use: LoopUse = USUAL
    back: int = 0

    @property
    def backs(self) -> int:
        """With how many channels it comes back, for a loop; none for what does not."""
        return (self.back or self.channels) if self.kind == "loop" else 0

    @property
    def goes_straight(self) -> bool:
        """Whether each channel comes back as one channel, in order."""
        return self.backs == self.channels

    @property
    def is_wide(self) -> bool:
        """Whether it has more channels than a stereo pair, out or back."""
        return max(self.channels, self.backs) > 2


@record(frozen=True)
class PlacedDestination(Destination):
    """A destination with the sockets its cables come from and go to.

    Parameters
    ----------
    outputs : tuple of PortEnd
        The outputs it is taken from, one a channel; empty while it has none.
    returns : tuple of PortEnd
        The inputs by which a loop comes back, one a channel; no source may sit there.
    """

    outputs: tuple[PortEnd, ...] = ()
    returns: tuple[PortEnd, ...] = ()


@record(frozen=True)
class Session:
    """One session's work: its rate, what it wants of its sources in the order of the input list, and where sound goes out.

    Parameters
    ----------
    rate_hz : int, Hz
    spare : map of need to int
        How many inputs of a kind are to stay free.
    aims : tuple of str
        What matters more than what when places are found; empty for the usual order.
    loop_numbers : str
        Whether a loop's send and return have the same driver number: where it costs nothing, always, or as it comes.
    pull_ppm : float, ppm
        By how much all clocks run off the nominal rate: pull-down, pull-up, varispeed.
    mains_silent : bool
        Whether the monitors' outputs may serve others, because the monitors are not used on this session.
    settings : map of UnitId to tuple of Stated
        The switches and menus that stand otherwise on this session than the box itself, or were set for it; one that equals the box's
        is kept.
    scene : SceneId
        The scene of cords last in force on this session; empty for back to normals.
    missing : tuple of UnitId
        The boxes that are not there on this session.
    tracks : tuple of Track
        What the software does with sources of the list, in the order of their ids; only where something is stated.
    """

    id: SessionId
    name: str
    rate_hz: int = 48_000
    wishes: tuple[Wish, ...] = ()
    destinations: tuple[DestinationId, ...] = ()
    spare: Mapping[str, int] = FrozenMap()
    aims: tuple[str, ...] = ()
    loop_numbers: LoopNumbers = "paired"
    pull_ppm: float = 0.0
    mains_silent: bool = False
    settings: Mapping[UnitId, tuple[Stated, ...]] = FrozenMap()
    scene: SceneId = SceneId("")
    missing: tuple[UnitId, ...] = ()
    tracks: tuple[Track, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "spare", FrozenMap.of(self.spare))
        object.__setattr__(self, "settings", FrozenMap.of(self.settings))

    @cached_property
    def sources(self) -> tuple[SourceId, ...]:
        """The sources on its list."""
        return tuple([wish.source for wish in self.wishes])

    def wanting(self, facts: Mapping[SourceId, SourceFacts]) -> tuple[Source, ...]:
        """Return its sources as it wants them, in order; the same tuple as long as the facts are the same map."""
        held: tuple[Mapping[SourceId, SourceFacts], tuple[Source, ...]] | None = self.__dict__.get("_wanting")
        if held is None or held[0] is not facts:
            held = facts, tuple([wanted(facts[wish.source], wish) for wish in self.wishes])
            self.__dict__["_wanting"] = held
        return held[1]

    @cached_property
    def wish_of(self) -> Mapping[SourceId, Wish]:
        """What it wants of each source on its list."""
        return {wish.source: wish for wish in self.wishes}
