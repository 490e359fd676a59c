"""Word-clock lines: one output and the inputs on it, in the order in which the line passes them."""

from typing import NamedTuple

from ennead.checks.finding import Fix
from ennead.checks.link_kinds import link_kinds
from ennead.edits.change import change
from ennead.edits.settings import may_be_closed, set_termination
from ennead.studio.house import PortEnd
from ennead.studio.ids import number_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts


class WordLine(NamedTuple):
    """One line.

    Parameters
    ----------
    closed : tuple of bool or None
        Whether each input on it closes the line with 75 ohm; None where its profile does not say.
    """

    start: PortEnd
    links: tuple[Link, ...]
    closed: tuple[bool | None, ...]


def word_lines(survey: Parts) -> list[WordLine]:
    """Return every word-clock line, with its inputs in the order of their cables.

    References
    ----------
    AES11 annex; 75 ohm coaxial lines are closed once, at the far end.
    """
    return survey.once(_lines)


def _lines(survey: Parts) -> list[WordLine]:
    starts: dict[PortEnd, list[Link]] = {}
    for link in link_kinds(survey).word:
        starts.setdefault(link.start, []).append(link)
    lines = []
    for start, links in starts.items():
        links.sort(key=lambda n: number_of(n.cable))
        lines.append(WordLine(start, tuple(links), tuple(_closes(survey, link) for link in links)))
    return lines


def _closes(survey: Parts, link: Link) -> bool | None:
    termination = link.in_view.profile.port_by_key[link.end.port].termination
    if termination != "fixed" and link.end.port in survey.settings[link.end.unit].terminated:
        return True
    return {"fixed": True, "none": False, "switchable": False}.get(termination)


def switch_fix(survey: Parts, link: Link, *, on: bool) -> tuple[Fix, ...]:
    """Return the fix that closes or opens a line at an input: by its switch, or by a T-piece with a terminator."""
    port = link.in_view.profile.port_by_key[link.end.port]
    if not may_be_closed(port):
        return ()
    there = survey.end_text(link.end)
    if port.termination == "switchable":
        text = f"Switch the termination of {there} {'on' if on else 'off'}"
    else:
        text = f"Put a T-piece with a 75 ohm terminator on {there}" if on else f"Take the terminator off {there}"
    return (Fix(text, change(text, set_termination, link.end.unit, link.end.port, on=on)),)


def line_working(survey: Parts, line: WordLine) -> tuple[str, ...]:
    """Return the inputs of a line in order, each with how it ends."""
    words = {True: "closes the line (75 ohm)", False: "open", None: "not stated"}
    return (
        f"line from {survey.end_text(line.start)}",
        *(
            f"{link.cable}: {survey.end_text(link.end)}, {words[c]}"
            for link, c in zip(line.links, line.closed, strict=True)
        ),
        "75 ohm once, at the far end only (AES11 annex)",
    )
