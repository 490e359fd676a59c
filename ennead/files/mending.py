"""What our own edits once could leave behind and nothing can be worked out with: mended when it is read, in a sentence each."""

from ennead.studio.document import Studio
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
                f"{computer.name} resampled all of its interfaces, with none left to keep the time; {name} now keeps its own clock."
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
