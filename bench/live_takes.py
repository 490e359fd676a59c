"""Takes through running servers: measured, reported and left over against what the simulated hardware was set to."""

from typing import Final

from bench.audio_servers import Kind, audio_server
from bench.report import Report
from ennead.live.errors import BadTake, ServerGone
from ennead.live.server_ports import read_server
from ennead.live.taking import MOST_TAKES, LoopPorts, take_loops
from ennead.standin.loop_player import LoopPlayer, PlayedHardware, PlayedLoop
from ennead.standin.loop_signal import LoopSettings

#: So many takes are to be believed, in so many tries at most.
ACCEPTED: Final = 50
TRIES: Final = 300
_SERVERS: Final[tuple[tuple[Kind, int, int], ...]] = (
    ("jack", 256, 1), ("jack", 1024, 8), ("pipewire", 256, 1), ("pipewire", 1024, 8),
)  # fmt: skip
_OUT, _IN = 120, 80
_NEAR: Final = 0.01


def takes(kind: Kind, period: int, loops: int, accepted: int = ACCEPTED) -> dict[str, float]:
    """Return how many takes were believed, in how many tries, and the worst errors of them, samples."""
    settings = [LoopSettings(300.25 + 17 * n, -3.0 - n, n % 2 == 1, -90.0 + 5 * n) for n in range(loops)]
    played = tuple([PlayedLoop((n + 1,), (n + 1,), one) for n, one in enumerate(settings)])
    found: dict[str, float] = {
        "accepted": 0,
        "tries": 0,
        "measured": 0.0,
        "reported": 0.0,
        "left": 0.0,
        "wrong": 0,
        "gone": 0,
    }
    with audio_server(kind, period) as server, LoopPlayer(PlayedHardware(played, 8, 8, (), (), _OUT, _IN)) as player:
        ports = read_server().device_named(player.ready.rsplit(" ", 2)[0])
        ways = [LoopPorts(f"loop {n}", (ports.outputs[n].port,), (ports.inputs[n].port,)) for n in range(loops)]
        while found["accepted"] < accepted and found["tries"] < TRIES:
            try:
                found_now = take_loops(ways, ports.rate_hz, repeats=3)
            except ServerGone:
                # One that runs on was taken for gone: a try that gave nothing.
                if server.poll() is not None:
                    raise
                found["tries"] += 1
                found["gone"] += 1
                continue
            found["tries"] += len(found_now[0].refused)
            if len(found_now[0].refused) == MOST_TAKES:
                continue
            found["tries"] += 1
            found["accepted"] += 1
            for one, take in zip(settings, found_now, strict=True):
                reading, left = take.readings[0], take.residuals[0]
                if reading.delay_samples is None or left.delay_samples is None:
                    raise BadTake("A believed take holds no delay.", reading.verdict)
                found["measured"] = max(found["measured"], abs(reading.delay_samples - one.delay_samples - take.period))
                found["reported"] = max(found["reported"], abs(take.reported[0] - _OUT - _IN))
                meant = one.delay_samples + take.period - _OUT - _IN
                found["left"] = max(found["left"], abs(left.delay_samples - meant))
                found["wrong"] += reading.polarity != (-1 if one.inverted else 1) or take.period != period
    return found


def run(report: Report) -> None:
    """Measure on both servers."""
    report.head("Takes through audio servers: error of those that were believed, samples")
    for kind, period, loops in _SERVERS:
        found = takes(kind, period, loops)
        name = f"live_{kind}_{period}"
        text = (
            f"{kind}, {period} frames, {loops} loops at once: {found['accepted']:.0f} believed of {found['tries']:.0f} takes,"
            f" {found['gone']:.0f} without a server,"
            f" worst error {found['measured']:.1e}, reported {found['reported']:.0f}, left over {found['left']:.1e}"
        )
        worst = max(found["measured"], found["reported"], found["left"]) if not found["wrong"] else 1.0
        report.figure(name, worst if found["accepted"] >= ACCEPTED else 1.0, text, _NEAR)
