"""The third evening of Skerry Sound House: the mix, with outboard in loops over the bays and by cables of its own."""

from collections.abc import Mapping

from ennead.demo.recalls import with_recalls
from ennead.edits.cables import connect
from ennead.edits.computer import set_times
from ennead.edits.delays import set_loop_delay
from ennead.edits.destinations import add_destination, send_out
from ennead.edits.house import add_unit, place_named
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.edits.scenes import choose_scene
from ennead.edits.session import set_rate
from ennead.edits.sessions import add_session, choose_session, take_in
from ennead.edits.settings import switch_off
from ennead.files.profiles import shelf_profile
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import DestinationId, UnitId


def with_mix(studio: Studio, unit: Mapping[str, UnitId], *, finished: bool) -> Studio:
    """Add the evening of the mix: two boxes over the bays, two by cables, an echo that has no place yet.

    The second output of the tape echo was put into its own second input, unless it is finished.
    """
    first = studio.session
    studio, hired = _hired(studio, unit, finished=finished)
    unit = {**unit, "Rudder": hired}
    studio = add_session(studio, "Mix of the drama")
    studio = switch_off(studio, hired, off=False)
    studio = choose_scene(studio, next(s.id for s in studio.scenes.values() if s.name == "Mix with outboard"))
    studio = take_in(studio, next(d.id for d in studio.destinations.values() if d.kind == "mains"))
    computer = next(c.id for c in studio.hosts.values() if unit["Pier"] in c.interfaces)
    studio = set_times(
        studio, computer, 48_000, buffer=64, safety_in=16, safety_out=16, reported_in=90, reported_out=96
    )
    for name, outs, backs in (
        ("Capstan", (("Harbour", "line_out3"), ("Harbour", "line_out4")), (("Buoy", "line5"), ("Buoy", "line6"))),
        ("Tiller", (("Harbour", "line_out7"),), (("Buoy", "line7"),)),
        ("Rudder", (("Cove", "line_out2"),), (("Buoy", "line10"),)),
        ("Spring tank", (("Cove", "line_out1"),), (("Buoy", "line9"),)),
        ("Long echo", (), ()),
    ):
        studio = add_destination(studio, name, "loop", channels=len(outs) or 1)
        sockets = [[PortEnd(unit[box], port) for box, port in those] for those in (outs, backs)]
        studio = send_out(studio, DestinationId(f"D{studio.counters['D']}"), *sockets)
    loops = {d.name: d.id for d in studio.destinations.values()}
    studio = set_box_peak(studio, loops["Capstan"], unit["Capstan"], 13.0)
    studio = set_loop_use(studio, loops["Capstan"], return_gain_db=-1.2, twin="Bus squeeze", twin_trim_db=0.5)
    studio = set_box_peak(studio, loops["Tiller"], unit["Tiller"], 18.5)
    studio = set_box_peak(studio, loops["Rudder"], unit["Rudder"], 12.0)
    studio = set_loop_use(studio, loops["Spring tank"], parallel=True, peak_dbfs=-14.0)
    studio = set_loop_delay(studio, loops["Spring tank"], 41.25, "2026-09-03T14:02+00:00")
    # The equaliser was measured when the music was mixed, at another rate.
    studio = set_rate(set_loop_delay(set_rate(studio, 44_100), loops["Tiller"], 38.5, "2026-08-21T11:30+00:00"), 48_000)
    return choose_session(with_recalls(studio, unit), first)


def _hired(studio: Studio, unit: Mapping[str, UnitId], *, finished: bool) -> tuple[Studio, UnitId]:
    """Add the tape echo, wired by cables of its own and switched off until the mix."""
    studio = add_unit(
        studio, shelf_profile("tape echo, two inputs mixed"), "Rudder", place_named(studio, "Control room")
    )
    hired = UnitId(f"U{studio.counters['U']}")
    wires = [
        (PortEnd(unit["Cove"], "line_out2"), PortEnd(hired, "line1")),
        (PortEnd(hired, "line_out1"), PortEnd(unit["Buoy"], "line10")),
    ]
    if not finished:
        wires.append((PortEnd(hired, "line_out2"), PortEnd(hired, "line2")))
    for start, end in wires:
        studio = connect(studio, start, end, 3.0)
    for session in studio.sessions:
        studio = switch_off(choose_session(studio, session), hired, off=True)
    return studio, hired
