"""Calibrate by files: write a tone of 997 Hz to play, and read its level, frequency and distortion back."""

import argparse
from pathlib import Path

from ennead.cli.terminal import print_json, say


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    ways = verb.add_subparsers(dest="way", metavar="write|read", required=True)
    write = ways.add_parser("write", help="write a tone", description="Write a tone of 997 Hz to play through a loop.")
    write.add_argument("out", metavar="OUT.wav", type=Path, help="the 24-bit WAV to write")
    write.add_argument("--rate", metavar="HZ", type=int, required=True, help="the rate of the session")
    write.add_argument("--level", metavar="DBFS", type=float, required=True, help="its level, such as −18")
    read = ways.add_parser("read", help="read a recording", description="Read the recording of a tone.")
    read.add_argument("recorded", metavar="RECORDED.wav", type=Path, help="WAV, RF64, W64 or FLAC")
    read.add_argument("--sent", metavar="DBFS", type=float, required=True, help="the level that was sent")
    for way in (write, read):
        way.add_argument("--json", action="store_true", help="print one JSON object")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.files.sound_file import SoundRecording, write_sound
    from ennead.measure.tone import TONE_HZ, read_tone, tone_file
    from ennead.reports.ping_rows import mismatch_db, tone_row

    if args.way == "write":
        samples = tone_file(args.rate, args.level)
        write_sound(args.out, samples, args.rate)
        if args.json:
            print_json({"file": str(args.out), "rate_hz": args.rate, "length_s": len(samples) / args.rate})
        else:
            say(f"{args.out}: {TONE_HZ:g} Hz at {args.level:g} dBFS.")
            say("Turn monitors and headphones all the way down first: a tone hurts ears and tweeters.")
        return 0
    with SoundRecording(args.recorded) as recorded:
        levels = read_tone(recorded)
    rows = [tone_row(level, args.sent) for level in levels]
    apart = mismatch_db(levels)
    if args.json:
        print_json({"channels": rows, "mismatch_db": apart})
        return 0
    for n, (level, row) in enumerate(zip(levels, rows, strict=True), start=1):
        if level.level_dbfs is None:
            say(f"Channel {n}: {level.verdict}")
        else:
            say(
                (
                    f"Channel {n}: {level.level_dbfs:.2f} dBFS, trim {row['trim_db']:+.2f} dB,"
                    f" {level.frequency_hz:.3f} Hz, distortion {level.thd_percent:.3f} %"
                ).replace("-", "−")
            )
    if apart is not None:
        say(f"The channels are {apart:.2f} dB apart.")
    return 0
