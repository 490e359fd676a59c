"""Outputs above, inputs below."""

from collections.abc import Iterator
from typing import Final

from ennead.checks.finding import Finding, at
from ennead.studio.house import PortEnd
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts

#: Which way cables run behind the upper points, and behind the lower ones.
_USUAL: Final = ({"in"}, {"out"})
_ALONE: Final = {"in": {"in"}, "out": {"out"}}


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay of two rows in which most points keep to the usual rows and some do not."""
    if not survey.bays:
        return
    bays = survey.bays
    usual = {unit: bay.places for unit, bay in bays.items() if len(bay.rows) == 2}
    keeps: dict[UnitId, int] = {}
    strays: dict[UnitId, set[str]] = {}
    for (unit, key), there in survey.behind.items():
        if unit not in usual:
            continue
        wanted = _USUAL[usual[unit][key][0]]
        if len(there) == 1 and there[0].port is not None:
            ways = _ALONE[there[0].way]
        else:
            ways = {b.way for b in there if b.port is not None or not isinstance(b.far, PortEnd)}
        if ways == wanted:
            keeps[unit] = keeps.get(unit, 0) + 1
        elif ways:
            strays.setdefault(unit, set()).add(key)
    for unit, all_others in strays.items():
        others = all_others - _by_function(survey, unit)
        kept, odd = keeps.get(unit, 0), [key for row in bays[unit].rows for key in row if key in others]
        if odd and kept > len(odd):
            texts = [bays[unit].point_label(key, survey.port(PortEnd(unit, key)).label) for key in odd]
            yield Finding(
                "row_convention",
                "note",
                subject_of(unit),
                (unit,),
                f"On {survey.units[unit].name} {', '.join(texts[:4])}{' and others' if len(texts) > 4 else ''} "
                f"{'is' if len(texts) == 1 else 'are'} the other way round: outputs stand above, inputs below.",
                "Whoever patches in the dark goes by the rows.",
                (),
                (f"{kept} points keep to it, {len(odd)} do not",),
                cause=at(*[(unit, key) for key in odd]),
            )


def _by_function(survey: Parts, unit: UnitId) -> set[str]:
    """Return the points that normals join, from an output to an input: rows by function are a school of their own."""
    ways = {key: {b.way for b in there} for (bay, key), there in survey.behind.items() if bay == unit}
    joined = [(n.start, n.end) for n in survey.bays[unit].normals]
    return {key for pair in joined if [ways.get(k) for k in pair] == [{"in"}, {"out"}] for key in pair}
