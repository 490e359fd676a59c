"""The demo studio, with honest mistakes, and its finished form in which they are solved."""

from functools import cache
from typing import Any

from ennead.demo.bays import with_bays
from ennead.demo.loops import with_mix
from ennead.edits.as_built import tick_cable, tick_settings
from ennead.edits.cables import connect, disconnect
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import add_place, add_unit, mark_fault, place_named
from ennead.edits.scenes import choose_scene, keep_for
from ennead.edits.session import add_source, remove_source, rename_session
from ennead.edits.sessions import choose_session, copy_session
from ennead.edits.settings import set_clock_source, set_mode, set_phantom, set_termination
from ennead.files.profiles import shelf_profile
from ennead.studio.document import Studio, empty_studio
from ennead.studio.house import PortEnd, SourceEnd
from ennead.studio.ids import DestinationId, SourceId, UnitId
from ennead.studio.session import DestinationKind
from ennead.survey.survey import survey_of

_UNITS = (
    ("Beacon", "word-clock generator, six outputs", "Control room"),
    ("Pier", "eight-preamp interface, two optical pairs", "Control room"),
    ("Jetty", "two-preamp interface, optical in only", "Control room"),
    ("Slipway", "eight-preamp expander, two optical outputs", "Hall"),
    ("Harbour", "eight-preamp optical expander", "Booth"),
    ("Cove", "eight-preamp expander, 44.1 and 48 kHz only", "Boat shed"),
    ("Bollard", "two-channel valve preamp", "Booth"),
    ("Tower left", "active loudspeaker", "Control room"),
    ("Tower right", "active loudspeaker", "Control room"),
    ("Mole", "MADI interface, one optical and one coaxial pair", "Control room"),
    ("Groyne", "MADI bridge, eight optical pairs", "Hall"),
    ("Buoy", "sixteen-channel line converter, four optical pairs", "Hall"),
    ("Shoal", "eight-preamp optical expander", "Hall"),
)

_CABLES = (
    ("Beacon", "word_out1", "Pier", "word_in", 2.0),
    ("Beacon", "word_out2", "Slipway", "word_in", 30.0),
    ("Slipway", "optical_a_out", "Pier", "optical_a_in", 5.0),
    ("Harbour", "optical_out", "Pier", "optical_b_in", 5.0),
    ("Pier", "optical_b_out", "Harbour", "optical_in", 5.0),
    ("Pier", "optical_a_out", "Cove", "optical_in", 5.0),
    ("Cove", "optical_out", "Jetty", "optical_in", 5.0),
    ("Bollard", "line_out1", "Harbour", "mic1", 1.5),
    ("Pier", "line_out1", "Tower left", "line_in", 4.0),
    ("Pier", "line_out2", "Tower right", "line_in", 4.0),
    ("Beacon", "word_out3", "Mole", "word_in", 2.0),
    ("Beacon", "word_out4", "Buoy", "word_in", 40.0),
    ("Groyne", "madi_out", "Mole", "madi_a_in", 60.0),
    ("Mole", "madi_a_out", "Groyne", "madi_in", 60.0),
    ("Buoy", "optical_a_out", "Groyne", "optical_in1", 1.5),
    ("Buoy", "optical_b_out", "Groyne", "optical_in2", 1.5),
    ("Shoal", "optical_out", "Groyne", "optical_in3", 5.0),
)

_CLOCKS = {
    "Pier": "word",
    "Slipway": "word",
    "Harbour": "optical",
    "Cove": "optical",
    "Jetty": "optical",
    "Mole": "word",
    "Groyne": "madi",
    "Buoy": "word",
}

_COND = {"kind": "condenser", "phantom": "needed"}
_RIBBON = {"kind": "ribbon", "phantom": "forbidden"}

#: Name, facts, and where each channel sits.
_SOURCES: tuple[tuple[str, dict[str, Any], tuple[tuple[str, str], ...]], ...] = (
    ("Choir main pair", {**_COND, "channels": 2, "place": "Hall", "group": "Choir", "track": "Choir main", "coherent": True},
     (("Slipway", "mic1"), ("Slipway", "mic2"))),
    ("Choir low", {**_COND, "place": "Hall", "group": "Choir"}, (("Slipway", "mic3"),)),
    ("Choir high", {**_COND, "place": "Hall", "group": "Choir"}, (("Slipway", "mic4"),)),
    ("Hall far pair", {**_COND, "channels": 2, "place": "Hall", "group": "Choir", "track": "Hall far", "coherent": True},
     (("Slipway", "mic5"), ("Slipway", "mic6"))),
    ("Fiddle", {**_RIBBON, "place": "Hall", "group": "Quartet"}, (("Quay", "wall5"),)),
    ("Whistle", {"kind": "dynamic", "place": "Hall", "group": "Quartet"}, (("Quay", "wall6"),)),
    ("Harmonium", {**_RIBBON, "channels": 2, "place": "Hall", "group": "Quartet"},
     (("Slipway", "mic7"), ("Slipway", "mic8"))),
    ("Bouzouki", {"kind": "instrument", "place": "Hall", "group": "Quartet"}, (("Pier", "mic1"),)),
    ("Narrator", {**_COND, "place": "Booth", "group": "Drama"}, (("Bollard", "mic1"),)),
    ("Second voice", {**_COND, "place": "Booth", "group": "Drama", "track": "Voice 2"}, (("Harbour", "mic2"),)),
    ("Child's voice", {**_COND, "place": "Booth", "group": "Drama", "track": "Voice 3"}, (("Harbour", "mic3"),)),
    ("Foley near", {**_COND, "place": "Boat shed", "group": "Drama"}, (("Cove", "mic1"),)),
    ("Foley far", {**_COND, "place": "Boat shed", "group": "Drama"}, (("Cove", "mic2"),)),
    ("Footsteps", {"kind": "dynamic", "place": "Boat shed", "group": "Drama"}, (("Cove", "mic5"),)),
    ("Wind machine", {"kind": "line", "channels": 2, "place": "Boat shed", "group": "Drama"},
     (("Cove", "mic7"), ("Cove", "mic8"))),
    ("Talkback", {"kind": "dynamic", "place": "Control room", "group": "Desk"}, (("Pier", "mic8"),)),
    ("Tape machine", {"kind": "digital", "channels": 2, "place": "Control room", "group": "Desk", "track": "Tape"},
     (("Pier", "spdif_in"),)),
    ("Organ", {"kind": "line", "channels": 2, "place": "Hall", "group": "Choir"}, (("Buoy", "line1"), ("Buoy", "line2"))),
    ("Choir spots", {**_COND, "channels": 2, "place": "Hall", "group": "Choir"}, (("Shoal", "mic1"), ("Shoal", "mic2"))),
)  # fmt: skip

#: Name, kind, place, the outputs it is taken from, and a loop's returns; one without outputs waits to be placed.
_GOINGS: tuple[tuple[str, DestinationKind, int, str, tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]], ...] = (
    ("Main loudspeakers", "mains", 2, "Control room", (("Pier", "line_out1"), ("Pier", "line_out2")), ()),
    ("Narrator's cue", "cue", 2, "Booth", (("Harbour", "line_out1"), ("Harbour", "line_out2")), ()),
    ("Quartet's cue", "cue", 2, "Hall", (("Pier", "line_out3"), ("Pier", "line_out4")), ()),
    ("Producer's headphones", "cue", 2, "Control room", (("Pier", "phones1"), ("Pier", "phones1")), ()),
    ("Click", "click", 1, "Hall", (("Pier", "line_out7"),), ()),
    ("Room send", "send", 2, "Control room", (("Pier", "line_out5"), ("Pier", "line_out6")), ()),
    ("Choir leader's cue", "cue", 2, "Hall", (), ()),
)

_PHANTOM = (
    ("Slipway", "a"),
    ("Slipway", "b"),
    ("Bollard", "one"),
    ("Harbour", "a"),
    ("Cove", "a"),
    ("Shoal", "a"),
)


@cache
def skerry(*, finished: bool = False) -> Studio:
    """Return Skerry Sound House.

    Parameters
    ----------
    finished : bool
        False leaves three mistakes in: the harmonium's ribbons sit in a phantom bank that is on for the hall
        pair, Jetty's optical input is set to S/PDIF although Cove sends ADAT, and Shoal, which has one fibre to
        Groyne and none back, runs on its own crystal. The choir leader's cue has no output yet. And in the scene of the quartet the
        fiddle's ribbon goes through Winch, which still has its 48 V on from the drama.
    """
    studio = rename_session(empty_studio("Skerry Sound House"), "Quartet and choir in the hall")
    unit: dict[str, UnitId] = {}
    for name, profile, place in _UNITS:
        studio = add_place(studio, place)
        studio = add_unit(studio, shelf_profile(profile), name, place_named(studio, place))
        unit[name] = UnitId(f"U{studio.counters['U']}")
    for start, out, end, into, length in _CABLES:
        studio = connect(studio, PortEnd(unit[start], out), PortEnd(unit[end], into), length)
    studio = with_bays(studio, unit, finished=finished)
    for name, source in _CLOCKS.items():
        studio = set_clock_source(studio, unit[name], source)
    for name in ("Pier", "Slipway", "Mole", "Buoy"):
        studio = set_termination(studio, unit[name], "word_in", on=True)
    for name, bank in _PHANTOM:
        studio = set_phantom(studio, unit[name], bank, on=True)
    studio = mark_fault(studio, PortEnd(unit["Harbour"], "mic6"), "crackles when touched")
    for name, facts, seats in _SOURCES:
        studio = add_source(studio, name, **facts)
        key = SourceId(f"S{studio.counters['S']}")
        for channel, (box, port) in enumerate(seats, start=1):
            studio = connect(studio, SourceEnd(key, channel), PortEnd(unit[box], port))
    for name, kind, channels, place, outputs, returns in _GOINGS:
        studio = add_destination(studio, name, kind, channels=channels, place=place)
        outs, backs = ([PortEnd(unit[box], port) for box, port in those] for those in (outputs, returns))
        studio = send_out(studio, DestinationId(f"D{studio.counters['D']}"), outs, backs)
    if finished:
        studio = _solve(studio, unit)
    else:
        studio = set_mode(studio, unit["Jetty"], "optical", "spdif-optical")
    return with_mix(_second_evening(_tick(studio, unit, everything=finished), unit), unit, finished=finished)


def _second_evening(studio: Studio, unit: dict[str, UnitId]) -> Studio:
    """Add the evening of the drama: the narrator in the hall over Winch, the foley in the booth, Pier's clock by Slipway's fibre."""
    first, key = studio.session, {source.name: source.id for source in studio.sources.values()}
    studio = copy_session(studio, "Radio drama with the choir")
    for name in ("Fiddle", "Whistle", "Harmonium", "Bouzouki"):
        studio = remove_source(studio, key[name])
    for name, at in (
        ("Narrator", ("Quay", "wall9")),
        ("Foley near", ("Harbour", "mic4")),
        ("Foley far", ("Harbour", "mic5")),
    ):
        lead = next(c for c in survey_of(studio).in_use.values() if getattr(c.start, "source", None) == key[name])
        studio = connect(disconnect(studio, lead.id), SourceEnd(key[name]), PortEnd(unit[at[0]], at[1]))
    studio = set_phantom(studio, unit["Harbour"], "b", on=True)
    studio = set_phantom(studio, unit["Cove"], "a", on=False)
    studio = set_clock_source(studio, unit["Pier"], "optical_a")
    drama = next(scene.id for scene in studio.scenes.values() if scene.name == "Drama in the booth")
    return choose_session(choose_scene(keep_for(studio, drama, studio.session), drama), first)


def _solve(studio: Studio, unit: dict[str, UnitId]) -> Studio:
    """Move the harmonium to Harbour's second bank, which has no 48 V on, run Shoal a fibre back, give the choir leader a cue."""
    studio = connect(studio, PortEnd(unit["Groyne"], "optical_out3"), PortEnd(unit["Shoal"], "optical_in"), 5.0)
    studio = set_clock_source(studio, unit["Shoal"], "optical")
    leader = next(d.id for d in studio.destinations.values() if d.name == "Choir leader's cue")
    studio = send_out(studio, leader, [PortEnd(unit["Pier"], "line_out9"), PortEnd(unit["Pier"], "line_out10")])
    harmonium = next(s.id for s in studio.sources.values() if s.name == "Harmonium")
    for cable in [c for c in survey_of(studio).every_cable.values() if getattr(c.start, "source", None) == harmonium]:
        studio = disconnect(studio, cable.id)
    for channel, port in ((1, "mic7"), (2, "mic8")):
        studio = connect(studio, SourceEnd(harmonium, channel), PortEnd(unit["Harbour"], port))
    return studio


def _tick(studio: Studio, unit: dict[str, UnitId], *, everything: bool) -> Studio:
    """Tick what is already wired: the house, and by the finished form the session too."""
    for cable in survey_of(studio).every_cable.values():
        if everything or (isinstance(cable.start, PortEnd) and isinstance(cable.end, PortEnd)):
            studio = tick_cable(studio, cable.id)
    for key in unit.values():
        studio = tick_settings(studio, key)
    return studio
