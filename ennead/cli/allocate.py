"""Find a place for everything that comes in and goes out, and say what binds where something finds none."""

import argparse
from pathlib import Path

from ennead.cli.studio_argument import add_studio, elsewhere, survey_of
from ennead.cli.terminal import print_json, say
from ennead.files.photographs import photos_of
from ennead.files.profiles import shelf
from ennead.files.studio_path import write_studio
from ennead.planning.growing.remedies import Remedy, by_way, find_remedies
from ennead.planning.growing.shortage import find_shortage
from ennead.planning.seating.allocation import Proposal, allocate
from ennead.planning.seating.linear import LIMIT_S, Watch
from ennead.planning.seating.proposal_change import take
from ennead.reports.allocation_rows import (
    aim_rows,
    cord_rows,
    out_rows,
    placed_rows,
    price_text,
    remedy_rows,
    switch_rows,
)
from ennead.studio.errors import BadValue
from ennead.survey.survey import Survey


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb)
    verb.add_argument("--output", metavar="OUT", type=Path, help="write the studio with the proposal carried out")
    verb.add_argument(
        "--time-limit",
        metavar="S",
        type=float,
        default=LIMIT_S,
        help=f"how long all of it may take, s (default {LIMIT_S:g})",
    )


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    if not args.time_limit > 0:
        raise BadValue("a time limit", args.time_limit, "Give seconds above zero.")
    if args.output is not None:
        elsewhere(args.studio, args.output)
    survey = survey_of(args, planning=True)
    watch = Watch(limit_s=args.time_limit)
    proposal = allocate(survey, limit_s=watch.left_s)
    binding: tuple[str, ...] = ()
    remedies: tuple[Remedy, ...] = ()
    if proposal.unplaced or proposal.unplaced_outs:
        # The limit is for all of it: what binds and what helps are looked for in the time that is left.
        shortage = find_shortage(survey, limit_s=watch.left_s)
        binding = (
            shortage.said
            if shortage is not None
            else ("The time was up before it was known what binds; give it longer.",)
        )
        remedies = find_remedies(survey, shelf(), now=proposal, limit_s=watch.left_s)
    if args.output is not None:
        write_studio(args.output, take(survey, proposal).apply(survey.studio), photos_of(args.studio))
    if args.json:
        print_json(
            {
                "placed": placed_rows(survey, proposal),
                "destinations": out_rows(survey, proposal),
                "unplaced": _without(survey, proposal),
                "binding": list(binding),
                "remedies": remedy_rows(remedies),
                "switches": switch_rows(survey, proposal),
                "cords": cord_rows(survey, proposal),
                "unplugged": [survey.studio.sources[s].name for s in proposal.unplugged],
                "moves": proposal.moves,
                "aims": aim_rows(proposal),
                "proven": proposal.proven,
            }
        )
        return 0
    _say(survey, proposal, binding, remedies)
    return 0


def _without(survey: Survey, proposal: Proposal) -> list[dict[str, str]]:
    studio = survey.studio
    rows = [{"source": studio.sources[s].name, "why": why} for s, why in proposal.unplaced.items()]
    return rows + [
        {"destination": studio.destinations[d].name, "why": why} for d, why in (proposal.unplaced_outs or {}).items()
    ]


def _say(survey: Survey, proposal: Proposal, binding: tuple[str, ...], remedies: tuple[Remedy, ...]) -> None:
    placed = placed_rows(survey, proposal)
    stereo = {row["source"] for row in placed if row["channel"] == 2}
    for row in placed:
        side = f" {'LR'[row['channel'] - 1]}" if row["source"] in stereo else ""
        say(
            f"{row['driver_number'] or '–':>5}  {row['source']}{side} →"
            f" {row['port']}{'  (new)' if row['moves'] else ''}"
        )
    for row in out_rows(survey, proposal):
        numbers = "–".join(str(n) for n in row["driver_numbers"])
        say(f"{numbers:>5}  {', '.join(row['ports'])} → {row['destination']}{'  (new)' if row['moves'] else ''}")
    for left in _without(survey, proposal):
        say(f"    ✗  {left.get('source') or left.get('destination')}: {left['why']}")
    for row in switch_rows(survey, proposal):
        say(f"   48  {row['bank']} of {row['unit']} {'on' if row['on'] else 'off'}")
    for row in cord_rows(survey, proposal):
        say(f" cord  {row['from']} → {row['to']} for {row.get('source') or row['destination']}")
    say(
        f"{proposal.moves} moved;"
        f" {'proven: nothing better is possible' if proposal.proven else 'the best found in the time given'}."
    )
    for sentence in binding:
        say(sentence)
    for number, (remedy, *others) in enumerate(by_way(remedies)[:8], start=1):
        say(
            f"{number}. {remedy.label} (leaves {remedy.left} out, {price_text(remedy)}):"
            f" {'; '.join(p.rstrip('.') for p in remedy.parts)}."
        )
        if others:
            say(f"   Or as the box: {'; '.join(f'{r.box} ({price_text(r)})' for r in others)}.")
