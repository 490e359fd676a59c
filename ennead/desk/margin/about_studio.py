"""What the margin says when nothing is selected: the studio and its session."""

import re

from ennead.desk.margin.notes import Fact, Notes
from ennead.edits.change import Change, change
from ennead.edits.house import rename_studio
from ennead.edits.session import rename_session, set_pull
from ennead.standards.clock import PULL_DOWN_PPM, PULL_UP_PPM
from ennead.standards.rates import pull_text
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey

_FIGURE = re.compile(r"^\s*([+−-]?)\s*(\d+(?:[.,]\d+)?)\s*(%|ppm|)\s*(down|up|)\s*$", re.IGNORECASE)


def _off_the_rate(text: str) -> Change:
    """Return the change that a figure means: ``0.1 % down``, ``-999 ppm``, ``+12``.

    A tenth of a per cent down is the pull-down by 1000/1001, as is usual.
    """
    found = _FIGURE.match("0" if text.strip().casefold() in ("no", "none", "") else text)
    if found is None:
        raise BadValue("how far the clocks run off the rate", text, "Type a figure such as 0.1 % down, −999 ppm or 0.")
    size = float(found[2].replace(",", ".")) * (1e4 if found[3] == "%" else 1)
    ppm = -size if found[1] in ("-", "−") or found[4].lower() == "down" else size
    if found[3] == "%" and abs(size - 1_000) < 0.5:
        ppm = PULL_DOWN_PPM if ppm < 0 else PULL_UP_PPM
    return change(f"Run {pull_text(ppm)}" if ppm else "Run at the rate", set_pull, ppm)


def about_studio(survey: Survey) -> Notes:
    """Return the notes about the studio as a whole."""
    studio, pull = survey.studio, survey.pull_ppm
    facts = (
        Fact("Studio", studio.name, edit=lambda t: change("Rename the studio", rename_studio, t)),
        Fact("Session", studio.current.name, edit=lambda t: change("Rename the session", rename_session, t)),
        Fact("Pulled", pull_text(pull) if pull else "no", edit=_off_the_rate),
        Fact("Units", str(len(studio.units))),
        Fact("Sources", f"{len(studio.current.sources)} on {len(survey.signal_paths)} channels"),
    )
    direct = "No panels or bays are described: sources are taken to be plugged straight into the units."
    return Notes(studio.name, studio.current.name, facts, (), (direct,) if survey.signal_paths else ())
