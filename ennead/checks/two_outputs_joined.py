"""Never two outputs into one input: they drive each other."""

from collections import Counter
from collections.abc import Iterator

from ennead.checks.at_points import cord_text
from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.house import Cable, PortEnd
from ennead.studio.ids import number_of
from ennead.studio.subjects import subject_of
from ennead.survey.nets import Net
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every net that several outputs drive; how they come together, over panels or in one lead, does not matter."""
    for net in [n for n in survey.each_net if len(n.drivers) > 1]:
        cables = _cables(survey, net)
        names = " and ".join(dict.fromkeys(survey.contact_text(c) for c in net.drivers))
        unit, where = _meeting(survey, net, cables)
        cords = [c for c in survey.cords if all((p.unit, p.port, 1) in net.contacts for p in c.plugs)]
        fixes = [
            Fix(text := f"Pull {cord_text(survey, c)}", change(text, pull_cord, c.id))
            for c in cords
            if len(c.plugs) == 2
        ]
        fixes += [_pull(survey, cable) for cable in cables if _drives(cable, net)]
        yield Finding(
            "two_outputs_joined",
            "trouble",
            subject_of(cords[0].id if cords else unit),
            (unit, *(c.id for c in cords), *(c.id for c in cables), *dict.fromkeys(key for key, *_ in net.drivers)),
            f"{names} both feed {where}." if len(net.drivers) == 2 else f"{names} all feed {where}.",
            "Outputs that are joined drive each other: both signals are weak and distorted, and a stage may be harmed.",
            tuple(fixes),
            (*(cord_text(survey, c) for c in cords), *(f"{c.id}: {survey.cable_text(c)}" for c in cables)),
            cause=at(*[c[:2] for c in net.drivers]),
        )


def _drives(cable: Cable, net: Net) -> bool:
    sides = {(p.unit, p.port) if isinstance(p, PortEnd) else (p.line, p.side) for p in cable.plugs}
    return any(contact[:2] in sides for contact in net.drivers)


def _pull(survey: Parts, cable: Cable) -> Fix:
    text = f"Pull {cable.id} from {survey.plug_text(cable, 0)}"
    return Fix(text, change(text, disconnect, cable.id))


def _cables(survey: Parts, net: Net) -> list[Cable]:
    """Return the cables that have part in a net, in their order."""
    at = survey.once(_plugs_at)
    held = Counter(c.id for key, port in {contact[:2] for contact in net.contacts} for c in at.get((key, port), ()))
    return sorted([survey.in_use[key] for key, plugs in held.items() if plugs > 1], key=lambda c: number_of(c.id))


def _plugs_at(survey: Parts) -> dict[tuple[str, str], list[Cable]]:
    """Return the cables at each socket and each line; looked at only where outputs are joined."""
    found: dict[tuple[str, str], list[Cable]] = {}
    for cable in survey.in_use.values():
        for p in cable.plugs:
            found.setdefault((p.unit, p.port) if isinstance(p, PortEnd) else (p.line, p.side), []).append(cable)
    return found


def _meeting(survey: Parts, net: Net, cables: list[Cable]) -> tuple[str, str]:
    """Return where they come together: the unit, or the line, and its name in words; a socket that holds several plugs first."""
    plugs = [p for c in cables for p in c.plugs if isinstance(p, PortEnd)]
    shared = [p for p in plugs if plugs.count(p) > 1]
    listening = [PortEnd(key, port) for key, port, _ in net.receivers if key in survey.units]  # type: ignore[arg-type]
    for end in (*shared, *listening, *plugs):
        if (end.unit, end.port, 1) not in net.drivers:
            return end.unit, survey.end_text(end)
    first = net.drivers[0]
    return first[0], "each other"
