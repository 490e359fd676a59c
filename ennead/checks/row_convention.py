"""Outputs above, inputs below."""

from collections.abc import Iterator

from ennead.checks.at_points import behind
from ennead.checks.finding import Finding
from ennead.studio.house import PortEnd
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay of two rows in which most points keep to the usual rows and some do not."""
    if not survey.bays:
        return
    there = survey.once(behind)
    for unit, bay in survey.bays.items():
        if len(bay.rows) != 2:
            continue
        kept, odd = 0, []
        for usual, row in zip(("in", "out"), bay.rows, strict=True):
            for key in row:
                ways = {
                    b.way
                    for b in there.get(PortEnd(unit, key), ())
                    if not (isinstance(b.far, PortEnd) and b.far.unit in survey.bays)
                }
                kept += ways == {usual}
                odd += [key] if ways and ways != {usual} else []
        if odd and kept > len(odd):
            texts = [survey.port(PortEnd(unit, key)).label for key in odd]
            yield Finding(
                "row_convention", "note", "Bays", unit, (unit,),
                f"On {survey.units[unit].name} {', '.join(texts[:4])}{' and others' if len(texts) > 4 else ''} "
                f"{'is' if len(texts) == 1 else 'are'} the other way round: outputs stand above, inputs below.",
                "Whoever patches in the dark goes by the rows.",
                (), (f"{kept} points keep to it, {len(odd)} do not",),
            )  # fmt: skip
