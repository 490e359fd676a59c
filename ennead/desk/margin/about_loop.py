"""What the margin says about the use of a loop: insert or bus, levels, what the software picked, its plug-in twin."""

import re
from typing import Any

from ennead.desk.margin.about_level import figure_of
from ennead.desk.margin.about_track import print_facts
from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change, change
from ennead.edits.loop_use import set_box_peak, set_loop_use
from ennead.studio.errors import BadValue
from ennead.studio.loop_use import MOST_CHANNELS
from ennead.studio.session import PlacedDestination
from ennead.survey.circuits import circuits
from ennead.survey.survey import Survey


def loop_facts(survey: Survey, loop: PlacedDestination) -> tuple[Fact, ...]:
    """Return the facts of a loop's use, each typed where it stands."""
    use, name = loop.use, loop.name

    def said(label: str, **facts: Any) -> Change:
        return change(f"{label} of {name}", set_loop_use, loop.id, **facts)

    def gain(label: str, field: str, value: float) -> Fact:
        text = f"the {label.lower()} of {name}"
        return Fact(f"{label}, dB", f"{value:+g}", edit=lambda t: said(label, **{field: needed(t, "dB", text)}))

    facts = [
        Fact(
            "Use",
            "bus" if use.parallel else "insert",
            (("insert", "insert, all through it"), ("bus", "on a bus beside dry")),
            lambda key: said("Use", parallel=key == "bus"),
        ),
        Fact(
            "Track at its loudest, dBFS",
            f"{use.peak_dbfs:g}",
            edit=lambda t: said("Peak", peak_dbfs=needed(t, "dBFS", f"the peak of {name}")),
        ),
        gain("Send gain", "send_gain_db", use.send_gain_db),
    ]
    circuit = next((c for c in survey.once(circuits) if c.loop.id == loop.id), None)
    boxes = dict.fromkeys([b for c in circuit.channels for b in c.boxes] if circuit is not None else loop.boxes)
    for unit in boxes:
        box = survey.units[unit].name
        level = use.peaks_dbu.get(unit)
        outs = [p.port for c in (circuit.channels if circuit is not None else ()) for p in c.passed if p.unit == unit]
        dbu = "dBFS" if outs and outs[-1] in survey.views[unit].digital else "dBu"

        def stated(typed: str, unit: Any = unit, box: str = box, dbu: str = dbu) -> Change:
            level = figure_of(typed, dbu, f"what comes out of {box}")
            return change(f"State the level behind {box}", set_box_peak, loop.id, unit, level)

        facts.append(Fact(f"Out of {box} at its loudest, {dbu}", "" if level is None else f"{level:+g}", edit=stated))
    facts += [
        gain("Return gain", "return_gain_db", use.return_gain_db),
        Fact("Output the software picked", _shown(use.sent), edit=lambda t: said("Output picked", sent=_numbers(t))),
        Fact(
            "Input the software picked", _shown(use.returned), edit=lambda t: said("Input picked", returned=_numbers(t))
        ),
        Fact("Plug-in twin", use.twin, edit=lambda t: said("Plug-in twin", twin=t)),
    ]
    facts += print_facts(survey, loop)
    if use.twin:
        facts.append(Fact("Twin is on", "", edit=lambda on: said("Twin", twin_on=on == "1"), ticked=use.twin_on))
        facts.append(gain("Trim of the twin", "twin_trim_db", use.twin_trim_db))
    return tuple(facts)


def needed(typed: str, unit: str, what: str) -> float:
    """Return a typed figure that must be one.

    Raises
    ------
    BadValue
    """
    found = figure_of(typed, unit, what)
    if found is None:
        raise BadValue(what, typed, f"Type a number of {unit}.")
    return found


def _shown(numbers: tuple[int, ...]) -> str:
    return ", ".join(map(str, numbers))


def _numbers(typed: str) -> tuple[int, ...]:
    """Return typed driver numbers: ``17–18``, ``17, 18``, ``3–10, 15``, nothing.

    Raises
    ------
    BadValue
    """
    found: list[int] = []
    for part in re.split(r"[,+;\s]+", re.sub(r"\s*[-–]\s*", "-", typed.strip())) if typed.strip() else ():
        run = re.fullmatch(r"(\d{1,4})(?:-(\d{1,4}))?", part)
        first, last = (int(run[1]), int(run[2] or run[1])) if run is not None else (1, 0)
        if not first <= last < first + MOST_CHANNELS:
            raise BadValue("the driver numbers", typed, "Type numbers such as 17, 17–18 or 3–10, 15; or nothing.")
        found += range(first, last + 1)
    return tuple(found)
