"""48 V that comes to the front of a bay: plugs short it in passing."""

from collections.abc import Iterator

from ennead.checks.at_points import points_of
from ennead.checks.finding import Finding, at
from ennead.studio.ids import UnitId
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay with 48 V on some of its points.

    References
    ----------
    IEC 61938: P48 stands on both conductors of a microphone line against its sleeve.
    """
    on: dict[UnitId, dict[str, None]] = {}
    if not survey.bays:
        return
    profiles = survey.profiles
    live = {
        (unit, port): None
        for unit, on_now in survey.phantom_on.items()
        if on_now
        for bank in profiles[unit].banks
        if bank.key in on_now
        for port in bank.ports
    }
    for net in survey.each_net if live else ():
        for key, port, _ in net.receivers:
            if (key, port) in live:
                for point in points_of(survey, net):
                    on.setdefault(point[0], {})[point[1]] = None
    for unit, ports in on.items():
        bay, known = survey.bays[unit], survey.profiles[unit].port_by_key
        texts = [known[key].label for row in bay.rows for key in row if key in ports]
        listed = ", ".join(texts[:6]) + (f" and {len(texts) - 6} more" if len(texts) > 6 else "")
        yield Finding(
            "phantom_through_bay",
            "note",
            subject_of(unit),
            (unit,),
            f"48 V comes to {len(ports)} point{'s' * (len(ports) != 1)} of {survey.units[unit].name}: {listed}.",
            "A plug shorts tip and sleeve in passing: a loud crack, and a strain on the microphone. "
            "Mute, switch 48 V off and let it fall before a plug there is moved; the moves say so.",
            cause=at(*[(unit, key) for key in ports]),
        )
