"""What the margin says when nothing is selected: the studio and its session."""

from ennead.desk.margin.notes import Fact, Notes
from ennead.edits.change import change
from ennead.edits.house import rename_studio
from ennead.edits.session import rename_session
from ennead.survey.survey import Survey


def about_studio(survey: Survey) -> Notes:
    """Return the notes about the studio as a whole."""
    studio = survey.studio
    facts = (
        Fact("Studio", studio.name, edit=lambda t: change("Rename the studio", rename_studio, t)),
        Fact("Session", studio.current.name, edit=lambda t: change("Rename the session", rename_session, t)),
        Fact("Units", str(len(studio.units))),
        Fact("Sources", f"{len(studio.current.sources)} on {len(survey.runs)} channels"),
    )
    direct = "No panels or bays are described: sources are taken to be plugged straight into the units."
    return Notes(studio.name, studio.current.name, facts, (), (direct,) if survey.runs else ())
