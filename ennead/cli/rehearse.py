"""Try another sample rate: what is lost, which tracks and outputs change their number, what would be found wrong."""

import argparse

from ennead.checks.all_checks import find_all
from ennead.cli.check import finding_row
from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.edits.session import set_rate
from ennead.survey.rehearsal import rehearse
from ennead.survey.survey import Survey
from ennead.survey.words import gap_text


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, rate=False, standing=True)
    verb.add_argument("--rate", metavar="HZ", type=int, required=True, help="the rate to try")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    before = survey_of(args, at_rate=False)
    # The rate is judged as an edit judges it.
    set_rate(before.studio, args.rate)
    after = Survey(before.studio, before, before.view._replace(rate_hz=args.rate))
    tried = rehearse(before, after)
    known = {(f.rule, f.subject, f.message) for f in find_all(before)}
    new = [f for f in find_all(after) if (f.rule, f.subject, f.message) not in known]
    if args.json:
        print_json(
            {
                "lost": [
                    *({"track": r.track, "why": gap_text(after, r)} for r in tried.lost),
                    *({"destination": h.name, "why": h.why} for h in tried.silent),
                ],
                "renumbered": [
                    *({"track": m.track, "from": m.before, "to": m.after} for m in tried.renumbered),
                    *({"destination": h.name, "from": h.before, "to": h.after} for h in tried.heard_elsewhere),
                ],
                "findings": [finding_row(f) for f in new],
            }
        )
        return 0
    for run_ in tried.lost:
        say(f"lost  {run_.track}: {gap_text(after, run_)}")
    for moved in tried.renumbered:
        say(f"{moved.before:>4} → {moved.after:<4} {moved.track}")
    for silent in tried.silent:
        say(f"lost  {silent.name}: {silent.why}")
    for heard in tried.heard_elsewhere:
        say(f"{heard.before:>4} → {heard.after:<4} {heard.name} (output)")
    for finding in new:
        say(f"{finding.severity}: {finding.message}")
    if not (tried.lost or tried.renumbered or tried.silent or tried.heard_elsewhere or new):
        say("Nothing changes.")
    return 0
