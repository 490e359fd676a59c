"""List what is wrong with a studio, why one would hear it, and what to do."""

import argparse
from typing import Any

from ennead.checks.all_checks import find_all
from ennead.checks.finding import Finding
from ennead.cli.studio_argument import add_studio, print_json, survey_of


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb; 1 when there is trouble."""
    findings = find_all(survey_of(args))
    if args.json:
        print_json({"findings": [finding_row(f) for f in findings]})
    else:
        for finding in findings:
            print(f"{finding.severity}: {finding.message}\n    {finding.why}")
            for fix in finding.fixes:
                print(f"    → {fix.text}")
        if not findings:
            print("Nothing to look at.")
    return int(any(f.severity == "trouble" for f in findings))


def finding_row(finding: Finding) -> dict[str, Any]:
    """Return a finding as a plain row."""
    return {
        "rule": finding.rule,
        "severity": finding.severity,
        "sheet": finding.sheet,
        "subject": finding.subject,
        "message": finding.message,
        "why": finding.why,
        "fixes": [{"text": f.text} for f in finding.fixes],
        "working": [{"text": w} for w in finding.working],
    }
