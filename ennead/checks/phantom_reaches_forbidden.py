"""48 V must not reach a source that forbids it."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, Request, at
from ennead.checks.stated_sources import seated
from ennead.edits.change import change
from ennead.edits.settings import set_phantom
from ennead.rules.phantom_reaches_source import is_live, touches_phantom, wants_phantom
from ennead.studio.house import Lead, PortEnd
from ennead.studio.ids import SourceId, UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every source that forbids 48 V and sits on a live XLR."""
    spoken: set[str] = set()
    for source_id, cable in _forbidding(survey):
        source = survey.source_by_id[source_id]
        if source.id in spoken:
            continue
        live = _live(survey, cable) if touches_phantom(source, survey.port(cable.end)) else []
        if not live:
            continue
        powered = live[0]
        unit, profile = survey.units[powered.unit], survey.profiles[powered.unit]
        bank = profile.bank_of_port[powered.port]
        spoken.add(source.id)
        in_need = list(
            dict.fromkeys(
                survey.source_by_id[s].name
                for (s, _), c in survey.leads.items()
                if wants_phantom(survey.source_by_id[s]) and _in_bank(survey, c, unit.id, bank.ports)
            )
        )
        fixes = [Fix(f"Find another place for {source.name}", Request("place", source.id))]
        if in_need:
            because = f"{', '.join(in_need)} in the same bank {'needs' if len(in_need) == 1 else 'need'} it"
        else:
            because = "nobody in that bank needs it"
            text = f"Switch {bank.label} of {unit.name} off"
            fixes.insert(0, Fix(text, change(text, set_phantom, unit.id, bank.key, on=False)))
        yield Finding(
            "phantom_reaches_forbidden",
            "trouble",
            subject_of(source.id),
            (source.id, unit.id, cable.id),
            f"48 V would reach {source.name}, which forbids it.",
            f"{unit.name} switches 48 V in banks; {bank.label} is on ({because}). A passive ribbon can be damaged. "
            "Mute, switch 48 V off and let it fall before you plug or pull.",
            tuple(fixes),
            (
                (
                    f"{bank.label} of {unit.name} feeds {len(bank.ports)} socket{'s' * (len(bank.ports) != 1)},"
                    f" {survey.port(powered).label} among them"
                ),
                "48 V on XLR pins 2 and 3 (P48, IEC 61938)",
            ),
            cause=at((unit.id, bank.key)),
        )


def harmful_banks(survey: Parts) -> dict[tuple[UnitId, str], SourceId]:
    """Return the banks that are on and feed 48 V to a source that forbids it, each with the first such source."""
    found: dict[tuple[UnitId, str], SourceId] = {}
    for source_id, cable in _forbidding(survey):
        if touches_phantom(survey.source_by_id[source_id], survey.port(cable.end)):
            for powered in _live(survey, cable):
                bank = survey.profiles[powered.unit].bank_of_port[powered.port]
                found.setdefault((powered.unit, bank.key), source_id)
    return found


def _forbidding(survey: Parts) -> list[tuple[SourceId, Lead]]:
    return [(source.id, cable) for source, cable, _ in seated(survey) if source.phantom == "forbidden"]


def _live(survey: Parts, cable: Lead) -> list[PortEnd]:
    """Return the sockets that feed 48 V to a source now."""
    return [
        p
        for p in survey.powered_sockets(cable.end)
        if is_live(p.port, survey.profiles[p.unit], survey.phantom_on[p.unit])
    ]


def _in_bank(survey: Parts, cable: Lead, unit: str, ports: tuple[str, ...]) -> bool:
    return any(p.unit == unit and p.port in ports for p in survey.powered_sockets(cable.end))
