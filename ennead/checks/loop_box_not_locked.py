"""A box that takes numbers runs on the clock of the interface that sends them."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request
from ennead.studio.subjects import subject_of
from ennead.survey.circuits import circuits
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every box reached by its digital sockets that is not in step with the interface of its loop."""
    clocks = survey.clocks.by_unit
    for circuit in survey.once(circuits):
        passed = [p for c in circuit.channels for p in c.passed if p.what == "box" and c.out is not None]
        boxes = dict.fromkeys([p.unit for p in passed if p.port in survey.views[p.unit].digital])
        interface = next((c.out.unit for c in circuit.channels if c.out is not None), None)
        leads = clocks[interface].leader if interface in clocks else None
        for unit in boxes:
            if unit not in clocks or interface is None or (leads is not None and clocks[unit].leader == leads):
                continue
            box, there, loop = survey.units[unit].name, survey.units[interface].name, circuit.loop
            yield Finding(
                "loop_box_not_locked",
                "trouble",
                subject_of(loop.id),
                (loop.id, unit),
                f"{box} takes {loop.name} in numbers and does not run on the clock of {there}.",
                f"It clicks, or mutes, as the two clocks drift past each other. Set the clock of {box} to the"
                " socket by which the loop comes in.",
                (Fix(f"Bring {box} onto that clock", Request("clock", unit)),),
                cause=(unit,),
            )
