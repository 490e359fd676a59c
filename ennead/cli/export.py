"""Write the cable schedule, the driver sheet, labels, flags, wiring, moves, looms, paths or a changeover to a file, by its ending."""

import argparse
from glob import escape
from pathlib import Path

from ennead.cli.studio_argument import add_studio, elsewhere, survey_of
from ennead.cli.terminal import say
from ennead.drawings.layouts.label_strips import PAPERS, RULER_MM
from ennead.edits.sessions import session_named
from ennead.files.errors import FileTrouble
from ennead.files.exports import CHANGEOVER_COLUMNS, PATH_COLUMNS, export_list
from ennead.files.photographs import photos_of
from ennead.files.tables import write_table
from ennead.reports.page_rows import between, changeover_table, paths_table, proofs
from ennead.reports.printed import PRINTED, PRINTED_BY_NAME
from ennead.studio.ids import SessionId
from ennead.survey.survey import Survey


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument("--what", required=True, choices=[p.what for p in PRINTED], help="which list or page")
    verb.add_argument(
        "--output",
        required=True,
        metavar="FILE",
        type=Path,
        help="a .csv, .json or .md file, or .pdf; labels, flags and bays also .svg",
    )
    verb.add_argument("--paper", choices=tuple(PAPERS), default="A4", help="paper of strips, flags and bays")
    verb.add_argument(
        "--measured",
        metavar="MM",
        type=float,
        default=RULER_MM,
        help="what the ruler of the test page measures once it is printed",
    )
    verb.add_argument("--test-page", action="store_true", help="the page with the ruler instead of the strips")
    verb.add_argument("--line", metavar="SOURCE", default="", help="of a path: the source; all where none is named")
    verb.add_argument("--to", dest="end", metavar="SESSION", help="of a changeover: the evening that follows")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    elsewhere(args.studio, args.output)
    for numbered in args.output.parent.glob(f"{escape(args.output.stem)}-*{escape(args.output.suffix)}"):
        # Where several pages may come to be written.
        elsewhere(args.studio, numbered)
    survey = survey_of(args)
    printed = PRINTED_BY_NAME[args.what]
    end = session_named(survey.studio, args.end) if args.end is not None else None
    if args.output.suffix.lower() not in (".pdf", ".svg"):
        if not printed.table:
            raise FileTrouble(args.output, f"{printed.label.casefold()} is a page", "Use .pdf or .svg.")
        _table(survey, args, end)
        return 0
    # Qt is loaded by these alone.
    from ennead.paper.printing import PageOf, write_page

    asked = PageOf(args.paper, args.measured, args.test_page, args.line, None, end, photos=photos_of(args.studio))
    paths = write_page(survey, args.what, args.output, asked)
    if len(paths) > 1:
        say(f"{len(paths)} pages: {paths[0].name} to {paths[-1].name}")
    return 0


def _table(survey: Survey, args: argparse.Namespace, end: SessionId | None) -> None:
    name = survey.studio.name
    if args.what == "path":
        rows = paths_table(proofs(survey, args.line))
        write_table(args.output, f"{name}: what is in the path", rows, PATH_COLUMNS)
    elif args.what == "changeover":
        rows = changeover_table(between(survey.studio, None, end))
        write_table(args.output, f"{name}: changeover", rows, CHANGEOVER_COLUMNS)
    else:
        export_list(survey, args.what, args.output)
