"""The bays of Skerry Sound House: a panel in the hall, two bays in the control room, and three scenes."""

from collections.abc import Mapping
from typing import Final

from ennead.edits.bays import add_bay, describe_bay, label_point, set_normals
from ennead.edits.cables import connect
from ennead.edits.house import add_unit, mark_fault, place_named
from ennead.edits.looms import add_spare
from ennead.edits.scene_switches import set_apart
from ennead.edits.scenes import add_scene, choose_scene, keep_for, lay_cord, set_steps, set_stock
from ennead.edits.settings import set_phantom
from ennead.files.profiles import shelf_profile
from ennead.standards.multipin import FIGURE_COLOURS
from ennead.studio.bays import CordStock
from ennead.studio.document import Studio
from ennead.studio.house import PortEnd
from ennead.studio.ids import SceneId, UnitId
from ennead.studio.looms import Loom, SpareLoom

_BOXES: Final = (
    ("Quay", "microphone panel, twelve ways", "Hall"),
    ("Capstan", "stereo bus compressor", "Control room"),
    ("Winch", "channel strip", "Control room"),
    ("Tiller", "mono equaliser", "Control room"),
)

#: From, to, how long, m: what is soldered behind the points.
_REARS: Final = (
    *((("Quay", f"tail{n}"), ("A", f"a{n}"), 35.0) for n in range(1, 13)),
    *((("A", f"b{n}"), ("Pier", f"mic{n}"), 2.0) for n in range(2, 8)),
    *((("Harbour", f"line_out{n}"), ("A", f"a{n + 11}"), 12.0) for n in range(3, 7)),
    *((("A", f"b{n}"), ("Buoy", f"line{n - 11}"), 40.0) for n in range(14, 20)),
    (("Harbour", "line_out7"), ("A", "a20"), 12.0),
    (("Capstan", "line_out1"), ("B", "a1"), 1.0),
    (("Capstan", "line_out2"), ("B", "a2"), 1.0),
    (("B", "b1"), ("Capstan", "line1"), 1.0),
    (("B", "b2"), ("Capstan", "line2"), 1.0),
    (("Winch", "line_out1"), ("B", "a4"), 1.0),
    (("B", "b4"), ("Winch", "mic1"), 1.0),
    (("Tiller", "line_out1"), ("B", "a6"), 1.0),
    (("B", "b6"), ("Tiller", "line1"), 1.0),
)

_LABELS: Final = (
    ("A", "a{}", range(1, 13), "Hall"), ("B", "a{}", (1, 2), "Capstan out"), ("B", "b{}", (1, 2), "Capstan in"),
    ("B", "a{}", (4,), "Winch out"), ("B", "b{}", (4,), "Winch in"), ("B", "a{}", (6,), "Tiller out"), ("B", "b{}", (6,), "Tiller in"),
)  # fmt: skip

#: Name, whether it is the session's, its cords, what is done by hand.
_SCENES: Final = (
    ("Drama in the booth", False, ((("A", "a9"), ("B", "b4")), (("B", "a4"), ("A", "b14"))), ("Winch: gain at two o'clock",)),
    ("Quartet in the hall", True, ((("A", "a5"), ("B", "b4")), (("B", "a4"), ("A", "b14"))),
     ("Winch: gain at nine o'clock, the fiddle is near",)),
    ("Mix with outboard", False, ((("A", "a14"), ("B", "b1")), (("A", "a15"), ("B", "b2")), (("B", "a1"), ("A", "b16")), (("B", "a2"), ("A", "b17")),
                                  (("A", "a20"), ("B", "b6")), (("B", "a6"), ("A", "b18"))), ("Capstan: ratio 2 : 1", "Desk aux 3 to unity")),
)  # fmt: skip

_SPARES: Final = (
    SpareLoom(
        8,
        ("multipin", "8 quarter-inch plugs"),
        Loom("R1", "aes59", "metric", FIGURE_COLOURS[:8]),
        3.0,
        "control room, second drawer",
    ),
    SpareLoom(
        8, ("multipin", "8 XLR plugs"), Loom("R2", "other", "inch", tuple("12345678")), 5.0, "lines 7 and 8 crossed"
    ),
)


def with_bays(studio: Studio, unit: dict[str, UnitId], *, finished: bool) -> Studio:
    """Return the house with its bays, back to normals; Winch's 48 V is left on from the drama unless it is finished."""
    for name, profile, place in _BOXES:
        studio = add_unit(studio, shelf_profile(profile), name, place_named(studio, place))
        unit[name] = UnitId(f"U{studio.counters['U']}")
    for name, note in (("A", "lines and converters"), ("B", "outboard, right rack")):
        studio = add_bay(studio, name, 24, place=place_named(studio, "Control room"))
        unit[name] = UnitId(f"U{studio.counters['U']}")
        studio = describe_bay(studio, unit[name], note=note)
    studio = set_normals(studio, unit["A"], [f"a{n}" for n in range(2, 8)], "full")
    studio = set_normals(studio, unit["A"], ["a1", *[f"a{n}" for n in range(8, 25)]], "")
    studio = set_normals(studio, unit["B"], [f"a{n}" for n in range(1, 25)], "")
    for start, end, length in _REARS:
        studio = connect(studio, _end(unit, start), _end(unit, end), length)
    for bay, key, numbers, text in _LABELS:
        for at, n in enumerate(numbers, start=1):
            several = len(numbers) > 1
            studio = label_point(studio, PortEnd(unit[bay], key.format(n)), first=f"{text} {at}" if several else text)
    studio = mark_fault(studio, PortEnd(unit["A"], "b19"), "scratchy")
    studio = set_phantom(studio, unit["Winch"], "one", on=not finished)
    studio = set_stock(studio, (CordStock(0.6, 12, "black"), CordStock(0.9, 8, "red"), CordStock(1.5, 4, "blue")))
    for spare in _SPARES:
        studio = add_spare(studio, spare)
    return _with_scenes(studio, unit, finished=finished)


def _with_scenes(studio: Studio, unit: Mapping[str, UnitId], *, finished: bool) -> Studio:
    for name, tonight, cords, steps in _SCENES:
        studio = add_scene(studio, name)
        for one, other in cords:
            studio = lay_cord(studio, _end(unit, one), _end(unit, other))
        studio = set_steps(studio, studio.scene, steps)
        if finished and ("A", "a9") in cords[0]:
            # The narrator's condenser wants what the quartet's ribbon must not have.
            studio = set_phantom(set_apart(studio, unit["Winch"], True), unit["Winch"], "one", on=True)
        if tonight:
            studio = keep_for(studio, studio.scene, studio.session)
    return choose_scene(studio, SceneId(""))


def _end(unit: Mapping[str, UnitId], at: tuple[str, str]) -> PortEnd:
    return PortEnd(unit[at[0]], at[1])
