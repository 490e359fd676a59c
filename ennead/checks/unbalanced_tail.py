"""Unbalanced tails soldered to balanced points."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay with unbalanced sockets wired behind balanced points."""
    if not survey.bays:
        return
    tails: dict[UnitId, list[tuple[str, str]]] = {}
    profiles = survey.profiles
    for (unit, key), there in survey.behind.items():
        for cable in there:
            far, socket = cable.far, cable.port
            if socket is None or not (socket.connector in ("rca", "ts") or socket.wiring == "unbalanced"):
                continue
            if isinstance(far, PortEnd) and profiles[unit].port_by_key[key].wiring == "balanced":
                tails.setdefault(unit, []).append((survey.end_text(far), cable.cable))
    for box, found in tails.items():
        text = f"{found[0][0]} is unbalanced" if len(found) == 1 else f"{len(found)} unbalanced sockets are wired"
        yield Finding(
            "unbalanced_tail",
            "note",
            subject_of(box),
            (box, *(cable for _, cable in found)),
            f"{text} behind balanced points of {survey.units[box].name}.",
            "Over the bay its shield is ground of two boxes: hum, and 6 dB less into a balanced input that expects both"
            " legs. Solder the ring to the shield at the far end, or pass a line transformer.",
            (),
            tuple(f"{cable}: {name}" for name, cable in found[:8]),
        )
