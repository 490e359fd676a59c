"""What the margin says about a port, or about the cable in it."""

from ennead.desk.margin.about_level import delay_facts, level_facts
from ennead.desk.margin.about_unit import mode_fact
from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.edits.as_built import tick_cable
from ennead.edits.cables import disconnect, set_grade, set_length
from ennead.edits.change import change
from ennead.edits.house import clear_fault, mark_fault
from ennead.edits.sessions import pair_of, take_in_outputs
from ennead.edits.settings import set_pad
from ennead.reports.cable_schedule import cable_state, cable_type
from ennead.standards.rates import rate_text
from ennead.standards.signals import CONNECTOR_LABELS, SIGNAL_LABELS
from ennead.studio.errors import BadValue
from ennead.studio.house import Cable, PortEnd
from ennead.survey.survey import Survey
from ennead.survey.unit_view import mode_of


def about_port(survey: Survey, end: PortEnd) -> Notes:
    """Return the notes about a port."""
    studio = survey.studio
    unit, port = studio.units[end.unit], studio.port(end)
    carried = survey.views[end.unit].formats[end.port]
    kinds = (carried,) if port.is_digital else port.carries
    facts = [
        Fact("Socket", f"{CONNECTOR_LABELS[port.connector]}, {_WAY[port.direction]}"),
        Fact("Carries", ", ".join(dict.fromkeys(SIGNAL_LABELS[k] for k in kinds))),
        Fact(
            "In service",
            "",
            ticked=end.port not in unit.faults,
            edit=lambda on: (
                change(f"Mark {port.label} of {unit.name}", clear_fault, end)
                if on == "1"
                else change(f"Mark {port.label} of {unit.name}", mark_fault, end, "out of service")
            ),
        ),
    ]
    if port.pad_db is not None:
        text = f"Set {unit.name}'s pad"
        facts.append(
            Fact(
                f"Pad, {port.pad_db:g} dB",
                "",
                ticked=port.key in survey.settings[unit.id].pads,
                edit=lambda on: change(text, set_pad, end.unit, port.key, on=on == "1"),
            )
        )
    profile = studio.profile_of(end.unit)
    facts += level_facts(unit, port, survey.settings[unit.id], profile)
    facts += delay_facts(survey, end)
    mode = profile.mode(port.format_mode) if port.format_mode else None
    if mode is not None:
        # What a socket carries is most easily changed where one looks at it.
        facts.append(mode_fact(unit, mode, mode_of(profile, survey.settings[unit.id], mode.key)))
    if end.port in unit.faults:
        facts.append(
            Fact("Fault", unit.faults[end.port], edit=lambda t: change("Describe the fault", mark_fault, end, t))
        )
    cables = survey.cables_at(end)
    deeds: list[Deed] = []
    for cable in cables:
        more, can = about_cable_parts(survey, cable)
        facts += more
        deeds += can
    if port.direction == "out" and not any(end in s.at for s in studio.session_sources):
        text = f"Take in {unit.name} {port.label} as a source"
        deeds.append(Deed("Take it in as a source", change(text, take_in_outputs, pair_of(studio, end))))
    if not port.is_digital and not cables and (port.direction != "in" or port.channels > 1):
        deeds.append(Deed("Make up a lead…", wish="make_lead"))
    return Notes(f"{unit.name} · {port.label}", profile.name, tuple(facts), tuple(deeds), _port_working(survey, end))


def _port_working(survey: Survey, end: PortEnd) -> tuple[str, ...]:
    """Return what a socket carries at the rate, and the number that a source there arrives at."""
    view, lines = survey.views[end.unit], []
    if end.port in view.digital:
        carried = SIGNAL_LABELS[view.formats[end.port]]
        lines.append(f"{carried} at {rate_text(survey.rate_hz)}: {view.lanes[end.port]} lanes")
    point = next((s for s in survey.input_points if s.end == end), None)
    if point is not None:
        lines.append(f"a source here arrives at driver input {point.number}")
    return tuple(lines)


_WAY = {"in": "input", "out": "output", "both": "send and return", "either": "point"}


def about_cable_parts(survey: Survey, cable: Cable) -> tuple[list[Fact], list[Deed]]:
    """Return the facts and deeds of one cable."""
    studio = survey.studio
    length = "" if cable.length_m is None else f"{cable.length_m:g}"
    state = cable_state(studio, cable)
    facts = [
        Fact(f"Cable {cable.id}", " → ".join(studio.ends_text(cable))),
        Fact("Type", cable_type(studio, cable)),
        Fact("Length, m", length, edit=lambda t: change(f"Measure {cable.id}", set_length, cable.id, _metres(t))),
        Fact("Wiring", state),
    ]
    link = survey.links.get(cable.id)
    if link is not None and link.digital:
        facts.insert(
            3,
            Fact(
                "Good cable (glass, low loss)",
                "",
                ticked=cable.grade == "good",
                edit=lambda on: change(f"Grade {cable.id}", set_grade, cable.id, "good" if on == "1" else ""),
            ),
        )
        facts += [Fact("Adapter", adapter.label) for adapter in link.adapters]
    deeds = [Deed(f"Pull {cable.id}", change(f"Pull {cable.id}", disconnect, cable.id))]
    if state != "as built":
        deeds.insert(0, Deed(f"Tick {cable.id} as wired", change(f"Tick {cable.id}", tick_cable, cable.id)))
    return facts, deeds


def _metres(text: str) -> float | None:
    bare = text.strip().removesuffix("m").strip().replace(",", ".")
    if not bare:
        return None
    try:
        return float(bare)
    except ValueError:
        raise BadValue("the length of a cable", text, "Give metres above zero, such as 3 or 1.5.") from None
