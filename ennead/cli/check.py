"""List what is wrong with a studio, why one would hear it, and what to do."""

import argparse
from pathlib import Path
from typing import Any

from ennead.checks.all_checks import find_all
from ennead.checks.finding import Finding
from ennead.checks.setting_aside import Aside, sort_out
from ennead.cli.studio_argument import add_studio, elsewhere, survey_of
from ennead.cli.terminal import print_json, say
from ennead.files.photographs import photos_of
from ennead.files.profiles import shelf
from ennead.files.studio_path import write_studio
from ennead.planning.fixing import change_of
from ennead.reports.sheet_of import sheet_of
from ennead.studio.errors import BadValue
from ennead.studio.set_aside import SetAside
from ennead.survey.survey import Survey


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument(
        "--fix", metavar="N", type=int, help="carry out the first fix of finding N, as they are listed from 1"
    )
    verb.add_argument("--output", metavar="OUT", type=Path, help="where to write the studio with the fix carried out")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb; 1 when there is trouble."""
    if (args.fix is None) != (args.output is None):
        raise BadValue(
            "a fix", args.fix or args.output, "Give --fix with the finding's number and --output with a file."
        )
    if args.output is not None:
        elsewhere(args.studio, args.output)
    survey = survey_of(args, planning=args.fix is not None)
    studio = survey.studio
    findings, aside = sort_out(find_all(survey), studio.set_aside, survey.session.id)
    if args.fix is not None:
        if not (1 <= args.fix <= len(findings) and findings[args.fix - 1].fixes):
            raise BadValue(
                "a finding with a fix", args.fix, f"There are {len(findings)} findings, and not each has one."
            )
        mended = change_of(survey, findings[args.fix - 1].fixes[0], shelf()).apply(studio)
        write_studio(args.output, mended, photos_of(args.studio))
        findings, aside = sort_out(find_all(Survey(mended)), mended.set_aside, survey.session.id)
    if args.json:
        print_json({"set_aside": [aside_row(a) for a in aside], "findings": [finding_row(f) for f in findings]})
    else:
        for finding in findings:
            say(f"{finding.severity}: {finding.message}")
            say(f"    {finding.why}")
            for fix in finding.fixes:
                say(f"    → {fix.text}")
        for finding, entry in aside:
            say(f"set aside: {finding.message}")
            say(f"    {_decided(entry)}")
        if not findings:
            say("Nothing to look at.")
    return int(any(f.severity == "trouble" for f in findings))


def _decided(entry: SetAside) -> str:
    said = ", ".join(part for part in (entry.by, entry.at) if part)
    return f"{entry.reason or 'No reason was given.'}{f' ({said})' if said else ''}"


def aside_row(aside: Aside) -> dict[str, Any]:
    """Return a finding that is set aside as a plain row, with its reason, role and date."""
    entry = aside.entry
    return {
        **finding_row(aside.finding),
        "reason": entry.reason,
        "by": entry.by,
        "at": entry.at,
        "scope": "session" if entry.session else "all",
    }


def finding_row(finding: Finding) -> dict[str, Any]:
    """Return a finding as a plain row."""
    return {
        "rule": finding.rule,
        "severity": finding.severity,
        "sheet": sheet_of(finding),
        "subject": finding.subject.key,
        "message": finding.message,
        "why": finding.why,
        "fixes": [{"text": f.text} for f in finding.fixes],
        "working": [{"text": w} for w in finding.working],
    }
