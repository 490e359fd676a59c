"""Measure a loop: by files, a ping to play and the recording to read, or live through the running audio server."""

import argparse
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from ennead.cli.studio_argument import on_session
from ennead.cli.terminal import print_json, say
from ennead.studio.errors import BadValue

if TYPE_CHECKING:
    from ennead.measure.loop_reading import ChannelReading
    from ennead.studio.document import Studio


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument(
        "--live",
        nargs="+",
        metavar=("STUDIO", "LOOP"),
        help="measure loops of a studio through the audio server that runs: those named, or all that go round",
    )
    verb.add_argument("--in-turn", action="store_true", help="live: one loop after the other, not together")
    verb.add_argument("--device", metavar="NAME", help="live: the device of the server that the numbers are of")
    verb.add_argument("--repeats", metavar="N", type=int, help="live: how many pings a take has, 3 to 60")
    verb.add_argument("--take", action="store_true", help="live: note what is left over in the studio, where it stands")
    verb.add_argument("--session", metavar="NAME", help="live: on another session, by name or id")
    verb.add_argument("--scene", metavar="NAME", help="live: with another scene of cords, by name or id")
    verb.add_argument("--json", action="store_true", help="print one JSON object")
    ways = verb.add_subparsers(dest="way", metavar="write|read")
    write = ways.add_parser(
        "write", help="write a file of pings", description="Write a file of pings to play through a loop."
    )
    write.add_argument("out", metavar="OUT.wav", type=Path, help="the 24-bit WAV to write")
    write.add_argument("--rate", metavar="HZ", type=int, required=True, help="the rate of the session")
    write.add_argument(
        "--channels", metavar="N", type=int, default=2, help="how many channels, each with a sequence of its own"
    )
    write.add_argument("--repeats", metavar="N", type=int, help="how many pings; 12 and more tell drift and slips well")
    write.add_argument("--spacing", metavar="S", type=float, help="from one to the next, s; wider than any delay")
    read = ways.add_parser("read", help="read a recording", description="Read the recording of a file of pings.")
    read.add_argument(
        "recorded", metavar="RECORDED.wav", type=Path, help="WAV, RF64, W64 or FLAC, from the start of the timeline"
    )
    read.add_argument("--sent", metavar="PING.wav", type=Path, required=True, help="the file that was played")
    read.add_argument("--reference", metavar="CH", type=int, help="the channel that holds the dry signal, from 1")
    read.add_argument(
        "--is",
        dest="delay_is",
        choices=("round_trip", "residual"),
        default="round_trip",
        help="residual: the software takes off what the driver reports",
    )
    read.add_argument("--take", nargs=2, metavar=("STUDIO", "LOOP"), help="note the delay in a studio, where it stands")
    read.add_argument("--session", metavar="NAME", help="of the studio: on another session, by name or id")
    for way in (write, read):
        way.add_argument("--json", action="store_true", help="print one JSON object")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    if args.way is not None and args.live is None:
        return _write(args) if args.way == "write" else _read(args)
    if args.live is None or args.way is not None:
        raise BadValue("a way to measure", args.way or "none", "Give write, or read, or --live.")
    from ennead.cli.live_ping import run_live

    return run_live(args)


def _write(args: argparse.Namespace) -> int:
    from ennead.files.sound_file import write_sound
    from ennead.measure.ping_signal import REPEATS, SPACING_S, ping_file

    repeats = args.repeats if args.repeats is not None else REPEATS
    spacing = args.spacing if args.spacing is not None else SPACING_S
    samples = ping_file(args.rate, args.channels, repeats, spacing)
    write_sound(args.out, samples, args.rate)
    length = len(samples) / args.rate
    if args.json:
        print_json({"file": str(args.out), "rate_hz": args.rate, "length_s": length})
        return 0
    say(f"{args.out}: {length:.1f} s at {args.rate} Hz, peaks at −12 dBFS.")
    say("Turn monitors and headphones all the way down first: it is loud noise, and a loop may ring.")
    say("Play it from the start of the timeline through the loop, record what comes back, and export from the start.")
    return 0


def _read(args: argparse.Namespace) -> int:
    from ennead.files.ping_take import read_take
    from ennead.reports.ping_rows import reading_lines, reading_row

    rate_hz, readings, _ = read_take(args.sent, args.recorded, args.delay_is, args.reference)
    if args.take is not None:
        _take(args, [r for r in readings if r.channel != args.reference], rate_hz)
    if args.json:
        print_json({"channels": [reading_row(reading, rate_hz) for reading in readings]})
        return 0
    for reading in readings:
        say(f"Channel {reading.channel}")
        for line in reading_lines(reading, rate_hz):
            say(f"    {line}")
    return 0


def _take(args: argparse.Namespace, readings: "Sequence[ChannelReading]", rate_hz: int) -> None:
    from ennead.files.studio_change import change_studio
    from ennead.reports.ping_taking import loop_named, take_reading
    from ennead.survey.survey import Survey

    studio, loop = Path(args.take[0]), args.take[1]
    now = datetime.now().astimezone().isoformat(timespec="minutes")
    heard = [r for r in readings if r.sent] or readings

    def edit(before: "Studio") -> "Studio":
        chosen = on_session(before, args.session)
        taken = take_reading(Survey(chosen), loop_named(chosen, loop), heard, rate_hz, now).apply(chosen)
        return on_session(taken, before.session)

    change_studio(studio, edit)
