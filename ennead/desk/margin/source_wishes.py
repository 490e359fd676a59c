"""What the margin says of a source's wishes and levels: what it must be in step with, go through, and how loud it is."""

from collections.abc import Callable, Iterator

from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change
from ennead.studio.errors import BadValue
from ennead.studio.session import PRIORITIES, Source
from ennead.survey.levels import into_socket, peak_dbu
from ennead.survey.survey import Survey

Said = Callable[..., Change]


def wishes_of(survey: Survey, source: Source, said: Said) -> list[Fact]:
    """Return the facts, each with its edit."""
    studio = survey.studio
    facts = []
    if source.group:
        facts.append(
            Fact(f"In step with {source.group}", "", edit=lambda on: said(coherent=on == "1"), ticked=source.coherent)
        )
    words = {"must": "must be in", "": "as the others", "may wait": "may wait"}
    facts.append(
        Fact("When short", source.priority, tuple((p, words[p]) for p in PRIORITIES), lambda p: said(priority=p))
    )
    preamps = [
        u
        for u in studio.units.values()
        if any("mic" in p.carries for p in studio.profile_of(u.id).ports if p.direction == "in")
    ]
    if source.is_microphone and preamps:
        kinds = {u.profile: studio.profiles[u.profile].name for u in preamps}
        choices = (("", "any"), *((u.id, u.name) for u in preamps), *((k, f"any {name}") for k, name in kinds.items()))
        facts.append(Fact("Preamp", source.preamp, choices, lambda k: said(preamp=k)))
    outboard = [u for u in studio.units.values() if studio.profile_of(u.id).role == "processor"]
    if outboard:
        choices = (("", "none"), *((u.id, u.name) for u in outboard))
        facts.append(Fact("Outboard on the way in", source.outboard or "", choices, lambda k: said(outboard=k or None)))
    facts += _levels(source, said)
    peak = peak_dbu(source)
    if peak is not None:
        facts.append(Fact("At its loudest", f"{peak:+.1f} dBu{_headroom(survey, source)}"))
    return facts


def _levels(source: Source, said: Said) -> Iterator[Fact]:
    rows = (
        [("Peak level, dBu", "level_dbu", source.level_dbu)]
        if source.kind in ("line", "instrument") and not source.di
        else []
    )
    if source.is_microphone and not source.di:
        rows = [
            ("Sensitivity, mV/Pa", "sensitivity_mv_pa", source.sensitivity_mv_pa),
            ("Loudest sound, dB SPL", "loudest_db_spl", source.loudest_db_spl),
        ]
    if source.kind != "digital":
        rows.append(("Impedance, Ω", "impedance_ohm", source.impedance_ohm))
    for label, field, value in rows:
        text = "" if value is None else f"{value:g}"
        yield Fact(label, text, edit=lambda t, f=field, n=label: said(**{f: _number(t, n)}))  # type: ignore[misc]


def _number(text: str, label: str) -> float | None:
    bare = text.strip().replace(",", ".").replace("−", "-")
    if not bare:
        return None
    try:
        return float(bare)
    except ValueError:
        raise BadValue(f"the {label}", text, "Type a number, or nothing.") from None


def _headroom(survey: Survey, source: Source) -> str:
    cable = survey.leads.get((source.id, 1))
    if cable is None:
        return ""
    into = into_socket(source, survey.studio.port(cable.end), survey.settings[cable.end.unit])
    return "" if into is None else f", headroom {into.limit_dbu - into.peak_dbu:+.1f} dB"
