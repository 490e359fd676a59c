"""Cables as the signals see them: which ends agree, and how many lanes cross."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from ennead.standards.clock import MADI_56_LOCK_PPM, MADI_BIT_S, UNSTATED_LOCK_PPM, madi_bit_s, pulled_hz
from ennead.standards.links import LINKS, Adapter, adapters_between, family, formats_join
from ennead.standards.rates import single_speed_of
from ennead.studio.house import PortEnd, Span
from ennead.studio.ids import CableId, UnitId
from ennead.survey.parts import each
from ennead.survey.sorted_cables import SpanKey
from ennead.survey.unit_view import UnitView


class Arrival(NamedTuple):
    """A cable that brings a clock, and the unit it comes from.

    Parameters
    ----------
    joins : bool
        Whether it makes both units one domain even when no unit follows it: not where the sound is resampled on the
        way in, nor where it comes from a box that has only a clock to give.
    """

    cable: CableId
    unit: UnitId
    joins: bool


# Not frozen: freezing costs more than all the rest of making one, and no code changes a derived value.
@dataclass(slots=True, eq=False)
class Link:
    """A cable between two ports.

    Parameters
    ----------
    agrees : bool
        Whether both ends speak the same format.
    lanes : int
        Audio channels that cross at the rate; zero where the two ends disagree.
    clock : pair of (unit, port key) and Arrival, or None
        The input at which it brings a clock.
    adapters : tuple of Adapter
        The parts needed between its two sockets.
    crosses : map of int to int, or None
        Which lane of the input each lane of the output comes to; None for lane by lane.
    overfull : bool
        Whether its channels need more than the line carries, as far as the session runs off its rate.
    of, out_view, in_view : Span, UnitView, UnitView
        What it was worked out from.
    """

    cable: CableId
    start: PortEnd
    end: PortEnd
    lanes: int
    digital: bool
    agrees: bool
    clock: tuple[tuple[UnitId, str], Arrival] | None
    adapters: tuple[Adapter, ...]
    overfull: bool
    crosses: Mapping[int, int] | None
    of: Span
    out_view: UnitView
    in_view: UnitView

    def across(self, lane: int) -> int | None:
        """Return the lane of the input to which a lane of the output comes; None where it does not cross."""
        if self.crosses is None:
            return lane if lane <= self.lanes else None
        return self.crosses.get(lane)

    @property
    def sends(self) -> str:
        """What the output sends."""
        return self.out_view.formats[self.start.port]

    @property
    def takes(self) -> str:
        """What the input is set to take."""
        return self.in_view.formats[self.end.port]

    @property
    def lanes_out(self) -> int:
        """How many channels the output has at the rate."""
        return self.out_view.lanes[self.start.port]

    @property
    def lanes_in(self) -> int:
        """How many channels the input has at the rate."""
        return self.in_view.lanes[self.end.port]

    @property
    def resampled(self) -> bool:
        """Whether the receiver converts the rate."""
        return self.in_view.profile.port_by_key[self.end.port].asynchronous

    @property
    def label(self) -> str:
        """The sending end's format in words; for digital links only."""
        return LINKS[self.sends].label


def link_into(links: Mapping[SpanKey, Link], cable: CableId, unit: UnitId | None, port: str) -> Link | None:
    """Return the piece of a cable that ends in a port; of one that has no such piece, the first; None for no cable between two units."""
    first = links.get(cable)
    if first is None or first.crosses is None or (first.end.unit, first.end.port) == (unit, port):
        return first
    return next((n for key, n in links.items() if n.cable == cable and (n.end.unit, n.end.port) == (unit, port)), first)


@each("links", of={"cable": "spans"}, at={"view": "views"})
def link(cable: Span, view: Callable[[UnitId], UnitView], pull_ppm: float) -> Link:
    """Return the link of a cable between two ports.

    Parameters
    ----------
    pull_ppm : float, ppm
        How far all clocks run off the nominal rate.
    """
    start, end, crosses = cable.start, cable.end, cable.crosses
    leaves, enters = start.port, end.port
    out_view, in_view = view(start.unit), view(end.unit)
    lanes_out, lanes_in = out_view.lanes[leaves], in_view.lanes[enters]
    if leaves not in out_view.digital:
        # Most of what is plugged: it carries what it has wires for.
        lanes = len(crosses) if crosses is not None else min(lanes_out, lanes_in)
        return Link(cable.id, start, end, lanes, False, True, None, (), False, crosses, cable, out_view, in_view)
    sends, takes, into = out_view.formats[leaves], in_view.formats[enters], in_view.profile.port_by_key[enters]
    agrees = formats_join(sends, takes)
    overfull = bool(pull_ppm) and _is_overfull(sends, out_view.rate_hz, pull_ppm)
    lanes = 0 if not agrees or overfull else min(lanes_out, lanes_in) if crosses is None else len(crosses)
    clock = None
    # A receiver locks to what it does not understand: MADI in another framing, say, or another rate; lock is not agreement.
    alive = not (out_view.off or in_view.off)
    if (
        alive
        and (agrees or family(sends) == family(takes))
        and out_view.profile.clock_sources
        and in_view.profile.clock_sources
        and (not pull_ppm or abs(pull_ppm) <= lock_range_ppm(in_view, enters))
    ):
        clock = (end.unit, enters), Arrival(cable.id, start.unit, _joins(out_view, in_view, enters))
    out = out_view.profile.port_by_key[leaves]
    adapters = adapters_between((out.connector, sends), (into.connector, takes)) or ()
    return Link(
        cable.id,
        start,
        end,
        lanes,
        True,
        agrees,
        clock,
        adapters,
        overfull,
        crosses,
        cable,
        out_view,
        in_view,
    )


def _is_overfull(sends: str, rate_hz: int, pull_ppm: float) -> bool:
    """Say whether MADI in 64-channel mode needs more than the line carries.

    References
    ----------
    AES10: 64 × 32 bit × the rate at single speed must not exceed 100 Mbit/s; faster rates carry as many fewer channels.
    """
    if family(sends) != "madi":
        return False
    channels = LINKS[sends].lanes["single"]
    return madi_bit_s(channels, pulled_hz(single_speed_of(rate_hz), pull_ppm)) > MADI_BIT_S


def lock_range_ppm(view: UnitView, port: str) -> float:
    """Return how far off the nominal rate a clock at an input may be for the unit to lock, ppm.

    References
    ----------
    AES10 (56 channels, ±12.5 %); IEC 60958 level II (±1000 ppm) where the profile states nothing.
    """
    if view.formats[port] in ("madi-56", "madi-56-48k"):
        return MADI_56_LOCK_PPM
    return UNSTATED_LOCK_PPM if view.profile.lock_ppm is None else view.profile.lock_ppm


def _joins(out_view: UnitView, in_view: UnitView, into: str) -> bool:
    return out_view.profile.role != "clock" and not in_view.profile.port_by_key[into].asynchronous
