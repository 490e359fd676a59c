"""Outputs above, inputs below."""

from collections.abc import Iterator

from ennead.checks.at_points import behind
from ennead.checks.finding import Finding
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay of two rows in which most points keep to the usual rows and some do not."""
    if not survey.bays:
        return
    bays = survey.bays
    usual = {
        unit: {key: way for way, row in zip(("in", "out"), bay.rows, strict=True) for key in row}
        for unit, bay in bays.items()
        if len(bay.rows) == 2
    }
    keeps: dict[UnitId, int] = {}
    strays: dict[UnitId, set[str]] = {}
    for (unit, key), there in survey.once(behind).items():
        if unit not in usual:
            continue
        ways = [b.way for b in there if not (isinstance(b.far, PortEnd) and b.far.unit in bays)]
        if ways and any(way != usual[unit][key] for way in ways):
            strays.setdefault(unit, set()).add(key)
        elif ways:
            keeps[unit] = keeps.get(unit, 0) + 1
    for unit, others in strays.items():
        kept, odd = keeps.get(unit, 0), [key for row in bays[unit].rows for key in row if key in others]
        if odd and kept > len(odd):
            texts = [survey.port(PortEnd(unit, key)).label for key in odd]
            yield Finding(
                "row_convention", "note", "Bays", unit, (unit,),
                f"On {survey.units[unit].name} {', '.join(texts[:4])}{' and others' if len(texts) > 4 else ''} "
                f"{'is' if len(texts) == 1 else 'are'} the other way round: outputs stand above, inputs below.",
                "Whoever patches in the dark goes by the rows.",
                (), (f"{kept} points keep to it, {len(odd)} do not",),
            )  # fmt: skip
