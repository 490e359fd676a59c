"""Write the cable schedule, the driver sheet, labels, flags or the wiring of the bays to a file, by its ending: csv, json, md; labels and flags also pdf, svg."""

import argparse
from pathlib import Path

from ennead.cli.studio_argument import add_studio, elsewhere, survey_of
from ennead.cli.terminal import say
from ennead.drawings.layouts.label_strips import PAPERS, RULER_MM, pages_of
from ennead.files.exports import export_list
from ennead.reports.flag_rows import flag_rows


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument(
        "--what", required=True, choices=("cables", "drivers", "labels", "flags", "wiring"), help="which list"
    )
    verb.add_argument(
        "--output",
        required=True,
        metavar="FILE",
        type=Path,
        help="a .csv, .json or .md file; labels and flags also .pdf and .svg",
    )
    verb.add_argument("--paper", choices=tuple(PAPERS), default="A4", help="paper of strips and flags")
    verb.add_argument(
        "--measured",
        metavar="MM",
        type=float,
        default=RULER_MM,
        help="what the ruler of the test page measures once it is printed",
    )
    verb.add_argument("--test-page", action="store_true", help="the page with the ruler instead of the strips")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    elsewhere(args.studio, args.output)
    survey = survey_of(args)
    if args.what not in ("labels", "flags") or args.output.suffix.lower() not in (".pdf", ".svg"):
        export_list(survey, args.what, args.output)
        return 0
    # Qt is loaded by these alone.
    if args.what == "flags":
        from ennead.paper.flags import write_flags

        paths = write_flags(args.output, flag_rows(survey), f"{survey.studio.name}: flags", args.paper)
    else:
        from ennead.paper.strips import write_strips

        pages = pages_of(survey, args.paper, args.measured, test=args.test_page)
        paths = write_strips(args.output, pages, f"{survey.studio.name}: strips")
    if len(paths) > 1:
        say(f"{len(paths)} pages: {paths[0].name} to {paths[-1].name}")
    return 0
