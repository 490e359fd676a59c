"""What the flags of cables say: one at each plug, with what it is plugged into here and what its other end is."""

from typing import NamedTuple

from ennead.studio.document import Studio
from ennead.studio.house import Cable, LineEnd, PortEnd
from ennead.studio.ids import DestinationId, SourceId
from ennead.survey.survey import Survey


class FlagRow(NamedTuple):
    """One flag: the cable, where this plug sits, and where the other end is; of a loom, the tail's number is in the identifier."""

    cable: str
    here: str
    there: str

    @property
    def code(self) -> str:
        """What its square code says: the identifier alone, for a name may be longer than any code."""
        return self.cable


def flag_rows(survey: Survey) -> list[FlagRow]:
    """Return the flags of all cables in use, cable by cable, those of one cable in the order of its plugs."""
    return [flag for cable in survey.in_use.values() for flag in _flags(survey.studio, cable)]


def _flags(studio: Studio, cable: Cable) -> list[FlagRow]:
    texts = [_plug_text(studio, plug) for plug in cable.plugs]
    if len(texts) == 2:
        return [FlagRow(cable.id, texts[0], texts[1]), FlagRow(cable.id, texts[1], texts[0])]
    found = []
    for at, plug in enumerate(cable.plugs):
        joined = {w.b if w.a == at else w.a for w in cable.wires if at in (w.a, w.b)}
        there = [texts[n] for n in sorted(joined)] or [t for n, t in enumerate(texts) if n != at]
        text = " + ".join(there[:2]) + (f" + {len(there) - 2} more" if len(there) > 2 else "")
        tail = f"{cable.id}.{at + 1}"
        found.append(FlagRow(tail, _plug_text(studio, plug), text))
    return found


def _plug_text(studio: Studio, plug: PortEnd | LineEnd) -> str:
    if isinstance(plug, PortEnd):
        return studio.end_text(plug)
    line = studio.sources.get(SourceId(plug.line)) or studio.destinations[DestinationId(plug.line)]
    return f"{line.name}, return" if plug.side else line.name


def flag_table(survey: Survey) -> list[dict[str, str]]:
    """Return one row a flag, as a table has it."""
    return [{"cable": flag.cable, "here": flag.here, "other_end": flag.there} for flag in flag_rows(survey)]
