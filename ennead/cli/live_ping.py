"""Loops measured live: which ones, the caution before, the takes, and what is noted."""

import argparse
import sys
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from ennead.cli.studio_argument import on_session, studio_of
from ennead.cli.terminal import print_json, say

if TYPE_CHECKING:
    from ennead.live.taking import LiveTake
    from ennead.studio.document import Studio
    from ennead.studio.ids import DestinationId

_CAUTION = "Turn monitors and headphones all the way down first: the ping is loud noise, and a loop may ring."


def run_live(args: argparse.Namespace) -> int:
    """Carry out `ping --live`."""
    from ennead.live.server_ports import read_server
    from ennead.live.taking import LEAST_REPEATS, take_loops
    from ennead.measure.ping_signal import REPEATS
    from ennead.reports.live_loops import closed_circuits, loop_ports, loops_ports, take_lines, take_rows
    from ennead.reports.ping_taking import loop_named
    from ennead.survey.survey import Survey

    args.studio = Path(args.live[0])
    studio = studio_of(args)
    survey = Survey(studio)
    named = [loop_named(studio, name) for name in args.live[1:]]
    circuits = closed_circuits(survey, named)
    ports = read_server()
    ports = ports.device_named(args.device) if args.device is not None else loops_ports(survey, circuits, ports)
    loops = [loop_ports(circuit, ports) for circuit in circuits]
    repeats = max(LEAST_REPEATS, args.repeats if args.repeats is not None else REPEATS)
    _warn()
    takes = take_loops(loops, survey.rate_hz, in_turn=args.in_turn, repeats=repeats)
    if args.take:
        _note(args, [(c.loop.id, take) for c, take in zip(circuits, takes, strict=True)])
    if args.json:
        print_json(
            {
                "server": ports.server,
                "period": ports.period,
                "channels": [row for take in takes for row in take_rows(take)],
            }
        )
        return 0
    for take in takes:
        for n in range(len(take.readings)):
            say(take.ports.loop if len(take.readings) == 1 else f"{take.ports.loop}, return {n + 1}")
            for line in take_lines(take, n):
                say(f"    {line}")
    return 0


def _warn() -> None:
    say(_CAUTION, trouble=True)
    if sys.stdin.isatty() and sys.stderr.isatty():
        say("Press Enter when they are down, or Ctrl+C to leave.", trouble=True)
        sys.stdin.readline()


def _note(args: argparse.Namespace, takes: "list[tuple[DestinationId, LiveTake]]") -> None:
    from ennead.files.studio_change import change_studio
    from ennead.reports.ping_taking import take_reading
    from ennead.survey.survey import Survey

    heard = [(loop, take) for loop, take in takes if take.is_whole]
    now = datetime.now().astimezone().isoformat(timespec="minutes")

    def edit(before: "Studio") -> "Studio":
        studio = on_session(before, args.session)
        for loop, take in heard or takes:
            wanted = take_reading(Survey(studio), loop, take.residuals, take.rate_hz, now, buffer=take.period)
            studio = wanted.apply(studio)
        return on_session(studio, before.session)

    change_studio(args.studio, edit)
    for loop, take in takes:
        if (loop, take) not in heard:
            say(f"{take.ports.loop} is not noted: {_why(take)}", trouble=True)


def _why(take: "LiveTake") -> str:
    return next((r.verdict for r in take.readings if r.verdict), "no ping is heard.")
