"""Play a file through a simulated loop, to try out what measuring says: late, quiet, inverted, noisy, drifting, clipped, dead."""

import argparse
from pathlib import Path

from ennead.cli.terminal import say


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument("sent", metavar="SENT.wav", type=Path, help="the file that is played")
    verb.add_argument("out", metavar="OUT.wav", type=Path, help="the recording to write, 24-bit WAV")
    verb.add_argument("--late", metavar="SAMPLES", type=float, default=262.0, help="how late it comes back")
    verb.add_argument("--gain", metavar="DB", type=float, default=0.0)
    verb.add_argument("--inverted", action="store_true")
    verb.add_argument("--swapped", action="store_true", help="left and right")
    verb.add_argument("--noise", metavar="DBFS", type=float, help="white noise, rms")
    verb.add_argument("--hum", nargs=2, metavar=("HZ", "DBFS"), type=float)
    verb.add_argument("--drift", metavar="PPM", type=float, default=0.0, help="the recorder’s clock, faster by")
    verb.add_argument("--slip", nargs=2, metavar=("S", "SAMPLES"), type=float, action="append", default=[])
    verb.add_argument("--gap", nargs=2, metavar=("S", "LENGTH"), type=float, action="append", default=[])
    verb.add_argument("--low-pass", metavar="HZ", type=float, help="of the fourth order, as analogue boxes have it")
    verb.add_argument("--clip", metavar="DBFS", type=float, help="where the converter ends")
    verb.add_argument("--compress", metavar="MS", type=float, help="4 to 1 above −30 dBFS, with this attack")
    verb.add_argument("--dead", action="store_true", help="nothing comes back")
    verb.add_argument("--seed", metavar="N", type=int, default=0, help="of the noise")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.files.sound_file import SoundRecording, write_sound
    from ennead.standin.loop_signal import LoopSettings, play

    settings = LoopSettings(
        args.late,
        args.gain,
        args.inverted,
        args.noise,
        args.drift,
        tuple((at, round(samples)) for at, samples in args.slip),
        tuple((at, length) for at, length in args.gap),
        args.swapped,
        (args.low_pass, False) if args.low_pass is not None else None,
        hum=tuple(args.hum) if args.hum is not None else None,
        clip=10 ** (args.clip / 20) if args.clip is not None else None,
        compress=(args.compress, 150.0, -30.0) if args.compress is not None else None,
        dead=args.dead,
    )
    with SoundRecording(args.sent) as sent:
        rate_hz = sent.rate_hz
        samples = sent.read(0, sent.frames)
    write_sound(args.out, play(settings, samples, rate_hz, args.seed), rate_hz)
    say(f"{args.out}: what a simulated loop gives back.")
    return 0
