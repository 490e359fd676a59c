"""Lists and pages as rows: the moves to a scene, the looms, what is in each path, a changeover."""

from collections.abc import Sequence
from typing import Any, NamedTuple

from ennead.planning.moves.scene_moves import scene_moves
from ennead.reports.changeover import Changeover, changeover
from ennead.reports.changeover import move_rows as changeover_rows
from ennead.reports.cord_moves import MoveRow, cord_moves
from ennead.reports.loom_rows import contacts_text, loom_rows
from ennead.reports.move_rows import sum_text
from ennead.reports.path_proof import PathProof, path_proof
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.ids import SessionId
from ennead.survey.survey import Survey


class MovesPage(NamedTuple):
    """The moves from what stands to the scene at hand: what is known of them, the rows, what is done by hand after them."""

    head: str
    rows: tuple[MoveRow, ...]
    by_hand: tuple[str, ...]


def moves_page(studio: Studio) -> MovesPage:
    """Return the moves from what stands to the scene at hand.

    Raises
    ------
    NoMoves
    """
    plan = scene_moves(studio, None, studio.scene)
    scene = studio.scenes.get(studio.scene)
    rows = tuple(cord_moves(studio, plan, studio.as_built.cords.values()))
    return MovesPage(f"Moves from what stands: {sum_text(plan)}", rows, scene.steps if scene is not None else ())


def moves_table(studio: Studio) -> list[dict[str, Any]]:
    """Return them as plain rows.

    Raises
    ------
    NoMoves
    """
    page = moves_page(studio)
    rows = [(row.verb, row.text) for row in page.rows] + [("by hand", text) for text in page.by_hand]
    return [{"n": n, "action": verb, "what": text} for n, (verb, text) in enumerate(rows, start=1)]


def looms_table(studio: Studio) -> list[dict[str, Any]]:
    """Return one row a line of each loom."""
    return [
        {
            "loom": row.name,
            "ends": row.words,
            "line": line.number,
            "mark": line.mark,
            "contacts": contacts_text(line.contacts),
            "from": line.start,
            "to": line.end,
        }
        for row in loom_rows(studio)
        for line in row.lines
    ]


def proofs(survey: Survey, only: str = "") -> list[PathProof]:
    """Return what is in the path of every line, or of those of one source.

    Raises
    ------
    BadValue
        If no source of the session is called so.
    """
    runs = [
        run
        for run in survey.signal_paths
        if not only or (run.of is not None and run.of.name.casefold() == only.casefold())
    ]
    if only and not runs:
        raise BadValue("a source of this session", only, "Give its name as the input list has it.")
    return [path_proof(survey, run) for run in runs]


def paths_table(found: Sequence[PathProof]) -> list[dict[str, Any]]:
    """Return one row a piece of each path."""
    return [
        {"signal": proof.signal, "by": row.by, "at": row.at, "does": row.does} for proof in found for row in proof.rows
    ]


def between(studio: Studio, start: SessionId | None, end: SessionId | None) -> Changeover:
    """Return the changeover from the session at hand, or another, to another.

    Raises
    ------
    BadValue
        If there is one session alone, or both are the same.
    """
    start = start or studio.session
    others = [session for session in studio.sessions if session != start]
    end = end or next(iter(others), start)
    if end == start:
        raise BadValue("the evening that follows", studio.sessions[end].name, "A changeover is between two of them.")
    return changeover(studio, start, end)


def changeover_table(found: Changeover) -> list[dict[str, Any]]:
    """Return its steps as plain rows, and then the tracks that change their number."""
    rows = [{**row, "n": row["n"]} for row in changeover_rows(found)]
    tracks = [
        {"n": None, "action": f"track {r.track}", "from": f"driver input {r.before}", "to": f"driver input {r.after}"}
        for r in found.renumbered
    ]
    return [*rows, *tracks]
