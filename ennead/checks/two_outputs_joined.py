"""Never two outputs into one input: they drive each other."""

from collections import defaultdict
from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import number_of
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every input that holds more than one cable."""
    for end, cables in _joined(survey):
        names = " and ".join(survey.end_text(c.start) for c in cables)
        fixes = []
        for cable in cables:
            text = f"Pull {cable.id} from {survey.end_text(cable.start)}"
            fixes.append(Fix(text, change(text, disconnect, cable.id)))
        yield Finding(
            "two_outputs_joined",
            "trouble",
            "Rig",
            end.unit,
            (end.unit, *(c.id for c in cables), *(getattr(c.start, "source", "") for c in cables)),
            f"{names} both feed {survey.end_text(end)}.",
            "Outputs that are joined drive each other: both signals are weak and distorted, and a stage may be harmed.",
            tuple(fixes),
            tuple(f"{c.id}: {survey.end_text(c.start)} → {survey.end_text(c.end)}" for c in cables),
        )


def _joined(survey: Parts) -> list[tuple[PortEnd, list[Cable]]]:
    """Return the inputs that hold several cables, in the order of the cables."""
    # Most houses have as many inputs in use as cables that go into one.
    if sum(map(len, survey.held_inputs.values())) == len(survey.links) + len(survey.leads):
        return []
    # A source that stands wired is on a cable of the house.
    cables = list({c.id: c for c in (*survey.cables.values(), *survey.leads.values())}.values())
    held: dict[PortEnd, list[Cable]] = defaultdict(list)
    for cable in sorted(cables, key=lambda c: number_of(c.id)):
        if isinstance(cable.end, PortEnd):
            held[cable.end].append(cable)
    return [(end, several) for end, several in held.items() if len(several) > 1]
