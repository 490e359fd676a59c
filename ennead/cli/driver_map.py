"""List every driver number with its unit, port, lane, label and track."""

import argparse
from typing import Any

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.reports.computers import time_rows
from ennead.reports.driver_sheet import driver_rows


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    survey = survey_of(args)
    rows = driver_rows(survey)
    if args.json:
        times = time_rows(survey)
        print_json({"rate_hz": survey.rate_hz, **rows, **({"computers": times} if times else {})})
        return 0
    for direction, channels in rows.items():
        say(direction)
        for row in channels:
            port = f"{row['unit']} · {row['port']}" if row["port"] else row["unit"]
            say(f"{row['number']:>5}  {row['label']:<24} {port:<32} {row['track'] or ''}".rstrip() + _read(row))
    return 0


def _read(row: dict[str, Any]) -> str:
    """Return what the computer calls a number, where it was read."""
    return f"   (on the computer: {row['on_computer']})" if "on_computer" in row else ""
