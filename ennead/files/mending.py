"""What our own edits once could leave behind and nothing can be worked out with: mended when it is read, in a sentence each."""

from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd
from ennead.studio.record import replace


def mended(studio: Studio) -> tuple[Studio, tuple[str, ...]]:
    """Return a studio as it can be used, and what was mended in it."""
    said: list[str] = []
    for computer in studio.hosts.values():
        if computer.interfaces and set(computer.interfaces) <= set(computer.corrected):
            first = computer.interfaces[0]
            rest = tuple(i for i in computer.corrected if i != first)
            studio = replace(studio, hosts=studio.hosts.put(computer.id, replace(computer, corrected=rest)))
            name = studio.units[first].name if first in studio.units else first
            said.append(
                f"{computer.name} resampled all of its interfaces, with none left to keep the time; {name} now keeps"
                " its own clock."
            )
    names: set[str] = set()
    for session in studio.sessions.values():
        name, n = session.name, 1
        while name.casefold() in names:
            n += 1
            name = f"{session.name} ({n})"
        names.add(name.casefold())
        if name != session.name:
            studio = replace(studio, sessions=studio.sessions.put(session.id, replace(session, name=name)))
            said.append(f"Two sessions were called {session.name}; one is now {name}.")
    return studio, tuple(said)


def stood_at_boxes(studio: Studio) -> tuple[Studio, tuple[str, ...]]:
    """Return a studio in which destinations stand at sockets of boxes, and what was mended in it.

    An allocation once said of what hangs behind a bay or a panel that it stands at the point, or at the way of the panel: it stands at
    what that leads to, or has no place yet.

    Parameters
    ----------
    studio : Studio
        One that hangs together otherwise.
    """
    wrong = [d for d in studio.destinations.values() if any(_only_joins(studio, end) for end in d.at)]
    if not wrong:
        return studio, ()
    # Hardly any studio has to be mended so, and every window waits for what is imported before it is seen.
    from ennead.survey.placed import onward_sockets
    from ennead.survey.survey import Survey

    said = []
    survey = Survey(studio)
    for destination in wrong:
        found: list[PortEnd] = []
        for end in destination.at:
            lane = destination.at[: len(found) + 1].count(end)
            there = (
                next(iter(onward_sockets(survey, (end.unit, end.port, lane))), None)
                if _only_joins(studio, end)
                else (end.unit, end.port)
            )
            if there is not None:
                found.append(PortEnd(there[0], there[1]))
        whole = len(found) == len(destination.at)
        new = replace(destination, at=tuple(found) if whole else (), boxes=destination.boxes if whole else ())
        studio = replace(studio, destinations=studio.destinations.put(destination.id, new))
        where = " and ".join(studio.end_text(end) for end in dict.fromkeys(new.at)) or "nothing yet"
        was = " and ".join(studio.end_text(end) for end in dict.fromkeys(destination.at))
        said.append(
            f"{destination.name} was said to stand at {was}, which only joins conductors; it now stands at {where}."
        )
    return studio, tuple(said)


def _only_joins(studio: Studio, end: PortEnd) -> bool:
    try:
        return not studio.profile_of(end.unit).sides[studio.port(end).key]
    except EnneadError:
        return False
