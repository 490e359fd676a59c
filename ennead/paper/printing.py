"""Every page there is, written by its name to a PDF or an SVG: for the window and for the command line alike."""

from collections.abc import Callable
from pathlib import Path
from typing import Final, NamedTuple

from ennead.drawings.layouts.label_strips import RULER_MM, pages_of
from ennead.files.errors import FileTrouble
from ennead.files.exports import table_of
from ennead.files.photographs import NoPhotos, PhotoSource
from ennead.paper.bay_sheet import write_bay_sheet
from ennead.paper.flags import write_flags
from ennead.paper.looms import write_looms
from ennead.paper.pages import write_list, write_tables
from ennead.paper.strips import write_strips
from ennead.planning.passes.print_plan import StudioPasses, print_plan
from ennead.reports.changeover import Changeover, changeover_rows
from ennead.reports.flag_rows import flag_rows
from ennead.reports.loom_rows import loom_rows
from ennead.reports.loop_rows import (
    all_figures,
    boxes_text,
    numbers_text,
    open_text,
    software_lines,
    stop_name,
    time_working,
)
from ennead.reports.page_rows import MovesPage, between, moves_page, proofs
from ennead.reports.pass_rows import (
    afterwards,
    boxes_of,
    clock_text,
    pass_rows,
    passes_said,
    passes_working,
)
from ennead.reports.path_proof import PathProof
from ennead.reports.printed import PRINTED_BY_NAME
from ennead.reports.recall_rows import newest_first
from ennead.reports.wiring_rows import wiring_rows
from ennead.studio.ids import RecallId, SessionId
from ennead.survey.survey import Survey


class PageOf(NamedTuple):
    """What a page is to be of.

    Parameters
    ----------
    measured_mm : float, mm
        What the ruler of the test page measures once it is printed.
    test : bool
        Whether it is the page with the ruler, instead of strips.
    line : str
        The source of which the path is wanted; empty for all.
    start, end : SessionId or None
        The two evenings of a changeover.
    moves : MovesPage or None
        The moves, where they are known already.
    photos : PhotoSource
        Where the photographs of recall cards are.
    cards : tuple of RecallId
        The cards that are wanted; none for all.
    passes : StudioPasses or None
        The passes, where they are planned already.
    paths : tuple of PathProof
        The paths, where those at hand are meant.
    """

    paper: str = "A4"
    measured_mm: float = RULER_MM
    test: bool = False
    line: str = ""
    start: SessionId | None = None
    end: SessionId | None = None
    moves: MovesPage | None = None
    photos: PhotoSource = NoPhotos()
    cards: tuple[RecallId, ...] = ()
    passes: StudioPasses | None = None
    paths: tuple[PathProof, ...] = ()


def write_page(survey: Survey, what: str, path: Path, asked: PageOf | None = None) -> tuple[Path, ...]:
    """Write a page, or several; return what was written.

    Raises
    ------
    EnneadError
        If it cannot be made, or not be written.
    """
    printed = PRINTED_BY_NAME[what]
    if path.suffix.lower() == ".svg" and ".svg" not in printed.pages:
        raise FileTrouble(path, f"{printed.label.casefold()} is no drawing", "Use .pdf.")
    return _PAGES[what](survey, path, asked or PageOf())


def _title(survey: Survey, what: str) -> str:
    return f"{survey.studio.name}: {PRINTED_BY_NAME[what].label.casefold()}"


def _table(what: str) -> Callable[[Survey, Path, PageOf], tuple[Path, ...]]:
    def write(survey: Survey, path: Path, _: PageOf) -> tuple[Path, ...]:
        title, rows, columns = table_of(survey, what)
        cells = [["" if row[c] is None else str(row[c]) for c in columns] for row in rows]
        head = [c.replace("_", " ") for c in columns]
        write_tables(path, f"{survey.studio.name}: {title}", [("", (), [head, *cells])])
        return (path,)

    return write


def _labels(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    pages = pages_of(survey, asked.paper, asked.measured_mm, test=asked.test)
    return write_strips(path, pages, f"{survey.studio.name}: strips")


def _flags(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    return write_flags(path, flag_rows(survey), f"{survey.studio.name}: flags", asked.paper)


def _wiring(survey: Survey, path: Path, _: PageOf) -> tuple[Path, ...]:
    parts: dict[str, list[list[str]]] = {}
    for row in wiring_rows(survey):
        long = f"{row['length_m']:g} m" if row["length_m"] is not None else ""
        cells = [row["point"], row["label"], row["cable"], row["to"], long, row["state"], row["normal"]]
        parts.setdefault(row["bay"], [["point", "label", "cable", "to", "length", "state", "normal"]]).append(cells)
    write_tables(path, _title(survey, "wiring"), [(name, (), rows) for name, rows in parts.items()])
    return (path,)


def _bays(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    return write_bay_sheet(path, survey, f"{survey.studio.name}: bays, {_scene(survey)}", asked.paper)


def _scene(survey: Survey) -> str:
    studio = survey.studio
    return studio.scenes[studio.scene].name if studio.scene in studio.scenes else "back to normals"


def _moves(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    page = asked.moves or moves_page(survey.studio)
    rows = [(len(row.steps), [row.verb, row.text]) for row in page.rows]
    rows += [(1, ["by hand", text]) for text in page.by_hand]
    write_list(path, f"{survey.studio.name}: {_scene(survey)}", page.head, rows)
    return (path,)


def _looms(survey: Survey, path: Path, _: PageOf) -> tuple[Path, ...]:
    write_looms(path, loom_rows(survey.studio), _title(survey, "looms"))
    return (path,)


def _path(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    parts = [
        (
            proof.signal,
            (proof.sentence, *(f"{text[:1].upper()}{text[1:]}." for text in proof.parted)),
            [["it comes by", "where it is", "what that does"], *[list(row) for row in proof.rows]],
        )
        for proof in asked.paths or proofs(survey, asked.line)
    ]
    write_tables(path, f"{survey.studio.name}: what is in the path, {_scene(survey)}", parts)
    return (path,)


def _loops(survey: Survey, path: Path, _: PageOf) -> tuple[Path, ...]:
    parts = []
    for one in all_figures(survey):
        closed = one.circuit.closed
        said = software_lines(survey, one) if closed else (open_text(one),)
        working = time_working(survey, one.time) if one.time is not None else ()
        stops = [
            [stop_name(survey, s.at), _figure(s.peak_dbu), _figure(s.limit_dbu), _figure(s.headroom_db), s.working]
            for s in (one.levels[0].stops if one.levels else ())
        ]
        parts.append(
            (
                f"{one.loop.name}: {numbers_text(one.sends)} → {boxes_text(one)} → {numbers_text(one.returns)}",
                (*said, *working),
                [["stop", "peak, dBu", "limit, dBu", "headroom, dB", "how"], *stops],
            )
        )
    write_tables(path, _title(survey, "loops"), parts)
    return (path,)


def _recall(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    from ennead.paper.recall_pages import write_recall

    studio = survey.studio
    cards = newest_first([c for c in studio.recalls.values() if not asked.cards or c.id in asked.cards])
    write_recall(path, f"{studio.name}: recall cards", studio, cards, asked.photos)
    return (path,)


def _passes(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    studio, found = survey.studio, asked.passes or print_plan(survey)
    parts: list[tuple[str, tuple[str, ...], list[list[str]]]] = []
    for row in pass_rows(studio, found):
        head = f"{row.n}  at {clock_text(row.starts_s)}, {clock_text(row.length_s)} long{row.song and f' · {row.song}'}"
        jobs = [[f"☐ {job.track}", boxes_of(studio, job), clock_text(job.length_s)] for job in row.jobs]
        after = [f"☐ {line}" for job in row.jobs for line in afterwards(studio, job)]
        parts.append((head, tuple([f"☐ Dial {line}" for line in row.dials]), [["track", "boxes", "length"], *jobs]))
        parts.append(("Once printed", tuple(after), []))
    cannot = tuple([f"Not printed: {studio.prints[key].track}, because {why}." for key, why in found.cannot.items()])
    parts.insert(0, ("Sum", (passes_said(found), *(passes_working(found) if parts else ()), *cannot), []))
    write_tables(path, _title(survey, "passes"), parts)
    return (path,)


def _figure(value: float | None) -> str:
    return "?" if value is None else f"{value:.1f}".replace("-", "−")


def _changeover(survey: Survey, path: Path, asked: PageOf) -> tuple[Path, ...]:
    write_changeover(path, between(survey.studio, asked.start, asked.end))
    return (path,)


def write_changeover(path: Path, found: Changeover) -> None:
    """Write a changeover as a list to tick, and below it the tracks that change their number.

    Raises
    ------
    FileTrouble
    """
    start, end = found.before.session.name, found.after.session.name
    rows = [(len(row.moves), [row.moves[0].action, row.start, row.end]) for row in changeover_rows(found)]
    words = f"{start} → {end}. {' '.join(found.notes)}".strip()
    tracks = [[track.track, str(track.before), "→", str(track.after)] for track in found.renumbered]
    title = f"{found.before.studio.name}: changeover"
    write_list(path, title, words, rows, [("Tracks that change their driver input", tracks)] if tracks else [])


_PAGES: Final[dict[str, Callable[[Survey, Path, PageOf], tuple[Path, ...]]]] = {
    "cables": _table("cables"),
    "drivers": _table("drivers"),
    "labels": _labels,
    "flags": _flags,
    "wiring": _wiring,
    "loops": _loops,
    "bays": _bays,
    "moves": _moves,
    "looms": _looms,
    "path": _path,
    "changeover": _changeover,
    "recall": _recall,
    "passes": _passes,
}
