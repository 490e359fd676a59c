"""Rule: whether a source may sit in a socket, and what stands against it; searches, refusals and checks all ask here."""

from functools import lru_cache
from typing import Final, Literal, NamedTuple

from ennead.rules.phantom_reaches_source import touches
from ennead.rules.source_fits_port import Fits, signal_wanted, unfit, unfit_sentence
from ennead.studio.house import PortEnd
from ennead.studio.ids import ProfileId, UnitId
from ennead.studio.profile import PASSIVE, Port
from ennead.studio.session import Phantom, Source
from ennead.survey.input_points import InputPoint
from ennead.survey.survey_interface import Parts

#: What may stand against it, the hardest first. A search may look away from all but the first, to say what binds.
Rule = Literal["digital", "kinds of input", "faults", "returns", "wishes", "48 V needed"]


class Wanted(NamedTuple):
    """All that rules read of a source: sources that agree in it may sit in the same sockets."""

    signal: Fits
    phantom: Phantom
    preamp: str
    outboard: UnitId | None


class Where(NamedTuple):
    """All that rules read of a socket: sockets that agree in it suit the same sources.

    Parameters
    ----------
    fits : port without its name
        Direction, what it carries, connector, whether 48 V reaches its jack.
    phantom : bool
        Whether 48 V can be switched to it at all.
    boxes : set
        The units and types of box a source there is on: its own, and that of the preamp which feeds it 48 V.
    passes : set of UnitId
        The units a signal from there passes.
    fault : str
        The note of what is out of service on its way; empty where nothing is.
    returns : str
        The loop that comes back by it; empty for none.
    """

    direction: str
    carries: tuple[str, ...]
    connector: str
    xlr_only: bool
    phantom: bool
    boxes: frozenset[str]
    passes: frozenset[UnitId]
    fault: str = ""
    returns: str = ""


class Obstacle(NamedTuple):
    """One thing that stands against it.

    Parameters
    ----------
    about : str
        What the rule met: the kind of misfit, the note of a fault, the name of a loop, ``preamp`` or ``outboard``.
    """

    rule: Rule
    about: str


def wanted_of(source: Source) -> Wanted:
    """Return what rules read of a source."""
    phantom: Phantom = "tolerated" if source.kind == "digital" else source.phantom
    return Wanted(signal_wanted(source), phantom, source.preamp, source.outboard)


def where_of(survey: Parts, point: InputPoint, returns: str = "") -> Where:
    """Return what rules read of a socket."""
    port = point.port
    way = survey.way(point.unit, port.key).passes
    # Behind the isolated leg of a splitter it is the box there that takes the signal in; its 48 V does not come through.
    first = next((unit for unit in way if survey.profiles[unit].role not in PASSIVE), point.unit)
    boxes: tuple[UnitId | ProfileId, ...] = (
        point.unit,
        point.powered_unit,
        point.profile.id,
        point.powered_by.id,
        first,
        survey.profiles[first].id,
    )
    passes = frozenset(way)
    phantom = point.powered_port in point.powered_by.bank_of_port
    return Where(
        port.direction,
        point.carries,
        port.connector,
        port.phantom_on_xlr_only,
        phantom,
        frozenset(boxes),
        passes,
        point.fault,
        returns,
    )


@lru_cache(maxsize=65_536)
def obstacles(wanted: Wanted, where: Where) -> tuple[Obstacle, ...]:
    """Return all that stands against a source in a socket, the hardest first; nothing where it may sit."""
    found: list[Obstacle] = []
    if reason := unfit(wanted.signal, where.direction, where.carries, where.connector):
        found.append(Obstacle("digital" if reason in _DIGITAL else "kinds of input", reason))
    if where.fault:
        found.append(Obstacle("faults", where.fault))
    if where.returns:
        found.append(Obstacle("returns", where.returns))
    if wanted.preamp and wanted.preamp not in where.boxes:
        found.append(Obstacle("wishes", "preamp"))
    elif wanted.outboard is not None and wanted.outboard not in where.passes:
        found.append(Obstacle("wishes", "outboard"))
    if wanted.phantom == "needed" and not (
        where.phantom and touches(wanted.signal, where.connector, xlr_only=where.xlr_only)
    ):
        found.append(Obstacle("48 V needed", ""))
    return tuple(found)


#: Misfits that no search looks away from.
_DIGITAL: Final = ("output", "digital", "analogue")


def sentence(survey: Parts, source: Source, port: Port, end: PortEnd, obstacle: Obstacle) -> str:
    """Return an obstacle in words."""
    there, about = survey.end_text(end), obstacle.about
    if obstacle.rule in ("digital", "kinds of input"):
        return unfit_sentence(source, port, about)
    if obstacle.rule == "faults":
        return f"a socket on the way from {there} is out of service ({about})"
    if obstacle.rule == "returns":
        return f"{there} is the return of {about}"
    if obstacle.rule == "wishes":
        if about == "preamp" or source.outboard is None:
            return f"{source.name} is wanted {way_wanted(survey, source)}"
        return f"its way does not pass {survey.units[source.outboard].name}"
    return f"{there} has no 48 V, which it needs"


def way_wanted(survey: Parts, source: Source) -> str:
    """Return where a source is wanted, in words: ``on Harbour``, ``by way of Tower``; empty where it has no wish."""
    if source.preamp:
        box = survey.units.get(UnitId(source.preamp))
        return f"on {box.name if box is not None else survey.shelf[ProfileId(source.preamp)].name}"
    return f"by way of {survey.units[source.outboard].name}" if source.outboard is not None else ""
