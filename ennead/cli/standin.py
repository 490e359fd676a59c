"""Play a simulated loop, to try out what measuring says: from a file into a file, or live as hardware of the audio server."""

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ennead.cli.terminal import say
from ennead.studio.errors import BadValue

if TYPE_CHECKING:
    pass


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument(
        "files",
        metavar="FILE",
        type=Path,
        nargs="*",
        help="SENT.wav and OUT.wav, the recording to write; live, a STUDIO whose interfaces and loops are played",
    )
    verb.add_argument("--live", action="store_true", help="be hardware of the audio server that runs, until Ctrl+C")
    verb.add_argument("--session", metavar="NAME", help="live: of the studio, another session, by name or id")
    verb.add_argument("--scene", metavar="NAME", help="live: of the studio, another scene of cords, by name or id")
    verb.add_argument(
        "--loop", metavar="NAME", action="append", help="live: the settings are those of these loops alone"
    )
    verb.add_argument("--channels", metavar="N", type=int, default=2, help="live without a studio: how many loops")
    verb.add_argument(
        "--reports", nargs=2, metavar=("OUT", "IN"), type=int, help="live: the latencies its driver reports, samples"
    )
    verb.add_argument("--late", metavar="SAMPLES", type=float, help="how late it comes back; 262, or as planned")
    verb.add_argument("--gain", metavar="DB", type=float)
    verb.add_argument("--inverted", action="store_true")
    verb.add_argument("--swapped", action="store_true", help="left and right")
    verb.add_argument("--noise", metavar="DBFS", type=float, help="white noise, rms")
    verb.add_argument("--hum", nargs=2, metavar=("HZ", "DBFS"), type=float)
    verb.add_argument("--drift", metavar="PPM", type=float, help="the recorder’s clock, faster by")
    verb.add_argument("--slip", nargs=2, metavar=("S", "SAMPLES"), type=float, action="append")
    verb.add_argument("--gap", nargs=2, metavar=("S", "LENGTH"), type=float, action="append")
    verb.add_argument("--low-pass", metavar="HZ", type=float, help="of the fourth order, as analogue boxes have it")
    verb.add_argument("--clip", metavar="DBFS", type=float, help="where the converter ends")
    verb.add_argument("--compress", metavar="MS", type=float, help="4 to 1 above −30 dBFS, with this attack")
    verb.add_argument("--dead", action="store_true", help="nothing comes back")
    verb.add_argument("--seed", metavar="N", type=int, default=0, help="of the noise")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    if args.live:
        return _live(args)
    if len(args.files) != 2:
        raise BadValue("files", str(len(args.files)), "Give SENT.wav and OUT.wav, or --live.")
    from ennead.files.sound_file import SoundRecording, write_sound
    from ennead.standin.loop_signal import LoopSettings, play

    sent_path, out_path = args.files
    with SoundRecording(sent_path) as sent:
        rate_hz = sent.rate_hz
        samples = sent.read(0, sent.frames)
    settings = LoopSettings(262.0)._replace(**_given(args))
    write_sound(out_path, play(settings, samples, rate_hz, args.seed), rate_hz)
    say(f"{out_path}: what a simulated loop gives back.")
    return 0


def _given(args: argparse.Namespace) -> dict[str, Any]:
    """Return the settings that the command line sets; what it says nothing of is left as it is."""
    given = {
        "delay_samples": args.late,
        "gain_db": args.gain,
        "inverted": args.inverted or None,
        "noise_dbfs": args.noise,
        "drift_ppm": args.drift,
        "slips": tuple((at, round(samples)) for at, samples in args.slip) if args.slip else None,
        "gaps": tuple((at, length) for at, length in args.gap) if args.gap else None,
        "swapped": args.swapped or None,
        "low_pass": (args.low_pass, False) if args.low_pass is not None else None,
        "hum": tuple(args.hum) if args.hum is not None else None,
        "clip": 10 ** (args.clip / 20) if args.clip is not None else None,
        "compress": (args.compress, 150.0, -30.0) if args.compress is not None else None,
        "dead": args.dead or None,
    }
    return {name: value for name, value in given.items() if value is not None}


def _live(args: argparse.Namespace) -> int:
    from ennead.live.server_ports import read_server
    from ennead.standin.loop_player import LoopPlayer, PlayedHardware, PlayedLoop, hardware_of
    from ennead.standin.loop_signal import LoopSettings

    if len(args.files) > 1:
        raise BadValue("files", str(len(args.files)), "Live, one STUDIO is played, or none.")
    if args.files:
        from ennead.cli.studio_argument import studio_of
        from ennead.reports.ping_taking import loop_named
        from ennead.survey.survey import Survey

        args.studio = args.files[0]
        studio = studio_of(args)
        loops = [loop_named(studio, name) for name in args.loop or ()] or [
            d.id for d in studio.destinations.values() if d.kind == "loop"
        ]
        hardware = hardware_of(Survey(studio), read_server().period, dict.fromkeys(loops, _given(args)))
    else:
        settings: LoopSettings = LoopSettings(262.0)._replace(**_given(args))
        ports = tuple(range(1, args.channels + 1))
        hardware = PlayedHardware((PlayedLoop(ports, ports, settings),) if ports else (), args.channels, args.channels)
    if args.reports is not None:
        hardware = hardware._replace(playback=args.reports[0], capture=args.reports[1])
    with LoopPlayer(hardware) as player:
        name, rate_hz, period = player.ready.rsplit(" ", 2)
        say(
            f"{name}: {hardware.outputs} outputs and {hardware.inputs} inputs at {rate_hz} Hz, {period} samples"
            f" a period; {len(hardware.loops)} loops are played until Ctrl+C."
        )
        # Whoever waits for it reads this line first.
        print(end="", flush=True)
        player.wait()
    return 0
