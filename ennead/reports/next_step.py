"""What to do next, in one line, until the first driver number stands."""

from dataclasses import dataclass

from ennead.planning.growing.expansion import likely_pair
from ennead.survey.circuits import circuits
from ennead.survey.survey import Survey


@dataclass(frozen=True, slots=True)
class NextStep:
    """A sentence, and what is to be done: ``list``, ``shelf``, ``computer``, ``link``, ``ends`` or ``allocate``."""

    text: str
    step: str


def boxes_apart(survey: Survey) -> str | None:
    """Return the two boxes that stand apart though a cable would join them, in words; None where there are none."""
    pair = likely_pair(survey)
    if pair is None:
        return None
    interface, box = pair
    profile = survey.profiles[box]
    alone = not any(n.digital and box in (n.start.unit, n.end.unit) for n in survey.links.values())
    if profile.role not in ("expander", "converter") or not alone or box in survey.numbering.computer_of:
        return None
    units = survey.studio.units
    what = "the expander" if profile.role == "expander" else "the converter"
    return f"{what} {units[box].name} to {units[interface].name}"


def next_step(survey: Survey) -> NextStep | None:
    """Return what to do next; None once a source has a driver number and nothing waits."""
    studio = survey.studio
    if any(r.driver for r in survey.signal_paths):
        return None
    loops = survey.once(circuits) if not studio.current.sources else ()
    if any(circuit.closed for circuit in loops):
        # An evening of mixing: nothing has to come in but what goes out.
        waits = [circuit.loop.name for circuit in loops if not circuit.closed]
        return NextStep(f"press Allocate: {waits[0]} has no place yet", "allocate") if waits else None
    if not studio.current.sources:
        return NextStep("type or paste what has to come in", "list")
    if not any(studio.profiles[u.profile].driver_maps for u in studio.units.values()):
        return NextStep("take your interface from the shelf", "shelf")
    if not survey.numbering.inputs:
        return NextStep("put your interface on the computer", "computer")
    apart = boxes_apart(survey)
    if apart is not None:
        return NextStep(f"connect {apart}", "link")
    if any(r.gap and r.gap.cause != "unplaced" for r in survey.signal_paths):
        return NextStep("see where the lines end", "ends")
    return NextStep("press Allocate and read your driver numbers", "allocate")
