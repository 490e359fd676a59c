"""A generated large house: 120 units, 4,000 channels and 1,000 runs at size 1, the same mixture at any smaller size."""

from pathlib import Path

from ennead.edits.cables import connect
from ennead.edits.computer import add_computer, join_computer, leave_computer
from ennead.edits.house import add_unit
from ennead.edits.session import add_source
from ennead.edits.settings import set_clock_source, set_phantom, set_termination
from ennead.files.profiles import shelf_profile
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import ComputerId, SourceId, UnitId

INTERFACE = "eight-preamp interface, two optical pairs"
SMALLER = "eight-preamp interface, one optical pair"
EXPANDER = "eight-preamp optical expander"
PANEL = "microphone panel, twelve ways"
LOUDSPEAKER = "active loudspeaker"

#: Interfaces with two expanders each, of which every fourth is a smaller one with one; panels; loudspeakers;
#: interfaces on one computer.
_GROUPS, _PANELS, _LOUDSPEAKERS, _ON_ONE = 40, 6, 4, 8


def large_house(size: float = 1.0) -> Studio:
    """Return a house of about 120 × `size` units in which everything is cabled, clocked and plugged in."""
    studio = empty_studio("Large house")
    interfaces: list[UnitId] = []
    expanders: list[UnitId] = []
    for n in range(max(1, round(_GROUPS * size))):
        sides = ("optical",) if n % 4 == 3 else ("optical_a", "optical_b")
        studio, interface = _unit(studio, SMALLER if n % 4 == 3 else INTERFACE, f"Interface {n + 1}")
        interfaces.append(interface)
        if n % _ON_ONE == 0:
            studio = add_computer(studio)
        studio = join_computer(leave_computer(studio, interface), interface, ComputerId(f"H{studio.counters['H']}"))
        for side in sides:
            studio, expander = _unit(studio, EXPANDER, f"Expander {n + 1} {side}")
            expanders.append(expander)
            studio = connect(studio, PortEnd(expander, "optical_out"), PortEnd(interface, f"{side}_in"), 3.0)
            studio = connect(studio, PortEnd(interface, f"{side}_out"), PortEnd(expander, "optical_in"), 3.0)
            studio = set_clock_source(studio, expander, "optical")
            for bank in studio.profile_of(expander).banks:
                studio = set_phantom(studio, expander, bank.key, on=True)
        if n % _ON_ONE and n % 4 != 3:
            before = interfaces[n - (2 if n % 4 == 0 else 1)]
            studio = connect(studio, PortEnd(before, "word_out"), PortEnd(interface, "word_in"), 2.0)
            studio = set_clock_source(studio, interface, "word")
            studio = set_termination(studio, interface, "word_in", on=True)
        elif n % 4 == 3:
            studio = connect(studio, PortEnd(interfaces[n - 1], "spdif_out"), PortEnd(interface, "spdif_in"), 1.0)
            studio = set_clock_source(studio, interface, "spdif")
    mics = [PortEnd(u, f"mic{i}") for u in (*interfaces, *expanders) for i in range(1, 9)]
    for n in range(round(_PANELS * size)):
        studio, panel = _unit(studio, PANEL, f"Panel {n + 1}")
        for way in range(12):
            here = mics[-1 - 12 * n - way]
            studio = connect(studio, PortEnd(panel, f"tail{way + 1}"), here)
            mics[-1 - 12 * n - way] = PortEnd(panel, f"wall{way + 1}")
    for n in range(round(_LOUDSPEAKERS * size)):
        studio, speaker = _unit(studio, LOUDSPEAKER, f"Loudspeaker {n + 1}")
        studio = connect(studio, PortEnd(interfaces[0], f"line_out{n + 1}"), PortEnd(speaker, "line_in"))
    return _plug_everything(studio, interfaces, mics)


def _unit(studio: Studio, profile: str, name: str) -> tuple[Studio, UnitId]:
    studio = add_unit(studio, shelf_profile(profile), name)
    return studio, UnitId(f"U{studio.counters['U']}")


def _plug_everything(studio: Studio, interfaces: list[UnitId], mics: list[PortEnd]) -> Studio:
    """Give every microphone socket and every S/PDIF input a source; every sixth pair of sockets is one in stereo."""
    at = 0
    while at < len(mics):
        stereo = at % 12 == 0
        live = mics[at].unit not in interfaces
        facts = {"kind": "condenser", "phantom": "needed"} if live else {"kind": "dynamic"}
        studio = add_source(
            studio, f"Source {at + 1}", channels=2 if stereo else 1, group=f"Group {at // 8 + 1}", **facts
        )
        source = SourceId(f"S{studio.counters['S']}")
        for channel in range(2 if stereo else 1):
            studio = connect(studio, SourceEnd(source, channel + 1), mics[at + channel])
        at += 2 if stereo else 1
    for n, interface in enumerate(interfaces):
        if n % 4 == 3:
            continue
        studio = add_source(studio, f"Digital {n + 1}", kind="digital", channels=2)
        studio = connect(studio, SourceEnd(SourceId(f"S{studio.counters['S']}")), PortEnd(interface, "spdif_in"))
    return studio


def reference_edges(size: float) -> list[tuple[tuple[str, ...], tuple[str, ...]]]:
    """Return the edges of the house's signal graph, a lane each: inside units, over cables, from sources, to driver numbers.

    They are read from a file, written down once by what followed signals at the time: what is compared with them cannot move them.
    """
    text = (Path(__file__).resolve().parent / "edges" / f"{size:g}.txt").read_text(encoding="utf-8")
    return [(tuple(a.split(" ")), tuple(b.split(" "))) for a, b in (line.split("\t") for line in text.splitlines())]
