"""A stereo plug in a balanced input: its ring is what the input takes away from its tip."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.cables import disconnect
from ennead.edits.change import change
from ennead.studio.ids import number_of
from ennead.studio.profile import Port
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts

_THREE_POLES = ("trs", "combo", "xlr")


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every straight cable from a stereo jack to a balanced input of one channel."""
    for link in _from_stereo_jacks(survey):
        if link.lanes_out != 2 or link.lanes_in != 1 or link.crosses is not None:
            continue
        out, into = survey.port(link.start), survey.port(link.end)
        if not (into.connector in _THREE_POLES and into.wiring not in ("unbalanced", "stereo")):
            continue
        text = f"Pull {link.cable}"
        yield Finding(
            "hears_left_minus_right",
            "trouble",
            subject_of(link.end.unit),
            (link.cable, link.end.unit, link.start.unit),
            f"{survey.end_text(link.end)} hears left minus right of {survey.end_text(link.start)}.",
            "A balanced input takes the ring away from the tip: voices in the middle are gone, the rest is thin. "
            "A stereo lead to two inputs, or to one with only the tip joined, keeps them.",
            (Fix(text, change(text, disconnect, link.cable)),),
            (f"{out.label}: tip left, ring right", f"{into.label}: tip minus ring (balanced)"),
            cause=at(link.start, link.end),
        )


def _from_stereo_jacks(survey: Parts) -> list[Link]:
    """Return the cables that leave stereo jacks, in their order; few boxes have one."""
    profiles, leaving = survey.profiles, survey.leaving_by_unit
    # Boxes of one type have one profile.
    jacks = {
        id(p): [port.key for port in p.ports if _is_stereo(port)]
        for p in {id(p): p for p in profiles.values()}.values()
    }
    found = [link for unit, here in leaving.items() for key in jacks[id(profiles[unit])] for link in here.get(key, ())]
    return sorted(found, key=lambda link: number_of(link.cable))


def _is_stereo(port: Port) -> bool:
    return port.connector == "trs" and port.channels == 2 and port.wiring in ("", "stereo")
