"""Print jobs: a track recorded through its boxes in real time, and how the passes are to be planned."""

from collections.abc import Mapping
from typing import Final, Literal

from ennead.studio.frozen_map import FrozenMap
from ennead.studio.ids import JobId, RecallId, UnitId
from ennead.studio.record import record

Kept = Literal["audio", "MIDI"]
KEPT: Final[tuple[Kept, ...]] = ("audio", "MIDI")

#: Limits. House defaults: a song of four hours, a list that can still be read.
MOST_LENGTH_S: Final = 14_400.0
MOST_JOBS: Final = 2_000
MOST_CHANNELS: Final = 64


@record(frozen=True)
class PrintJob:
    """A track through its boxes in series in one pass.

    Parameters
    ----------
    track : str
        The track of the software; one name of one song is one track.
    boxes : tuple of UnitId
        In order.
    length_s, tail_s : float, s
        What has to be played, and how long the boxes sound after it.
    from_s : float, s
        Where in the song it begins.
    channels : int
        How many outputs it is sent by; as many come back.
    cards : map of UnitId to RecallId
        What to dial on a box.
    after : tuple of JobId
        Jobs that must be printed before it: the tracks of a bus.
    kept : "audio" or "MIDI"
        What is kept and muted once it is printed.
    printed : str
        The day it was printed, as ``2026-11-27``; empty while it is not.
    """

    id: JobId
    song: str
    track: str
    boxes: tuple[UnitId, ...]
    length_s: float
    tail_s: float = 0.0
    from_s: float = 0.0
    channels: int = 2
    cards: Mapping[UnitId, RecallId] = FrozenMap()
    after: tuple[JobId, ...] = ()
    kept: Kept = "audio"
    printed: str = ""
    note: str = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "cards", FrozenMap.of(self.cards))


@record(frozen=True)
class Printing:
    """How passes are planned.

    Parameters
    ----------
    setup_s : float, s
        What it takes to dial and to arm before each pass. House default: three minutes.
    share : bool
        Whether jobs with the same box and settings on disjoint stretches of one song may stand in one pass.
    """

    setup_s: float = 180.0
    share: bool = False


def job_fault(job: PrintJob) -> str:
    """Return what is wrong with a job in itself, in words; empty where nothing is."""
    if not 0.1 <= job.length_s <= MOST_LENGTH_S:
        return f"its length is none from 0.1 to {MOST_LENGTH_S:,.0f} s"
    if not 0.0 <= job.tail_s <= 600.0 or not 0.0 <= job.from_s <= MOST_LENGTH_S:
        return "its tail is none from 0 to 600 s, or its beginning lies outside a song"
    if not job.boxes or len(set(job.boxes)) < len(job.boxes) or len(job.boxes) > 64:
        return "it passes 1 to 64 boxes, each once"
    if not 1 <= job.channels <= MOST_CHANNELS:
        return f"it has {job.channels} channels, and 1 to {MOST_CHANNELS} are possible"
    if not set(job.cards) <= set(job.boxes):
        return "a card of it is for a box that it does not pass"
    if job.id in job.after or len(set(job.after)) < len(job.after):
        return "it waits for itself, or for one job twice"
    if not job.track or max(map(len, (job.song, job.track))) > 500 or len(job.note) > 2_000:
        return "its track has no name, or a text of it is too long"
    return ""


def printing_fault(printing: Printing) -> str:
    """Return what is wrong with how passes are planned, in words; empty where nothing is."""
    return "" if 0.0 <= printing.setup_s <= 7_200.0 else "the time to dial before a pass is none from 0 to 7,200 s"


def wait_in_ring(jobs: Mapping[JobId, PrintJob]) -> bool:
    """Say whether jobs wait for each other in a ring, by what they wait for or by the order of a track's own jobs."""
    left = {key: set(before) & set(jobs) for key, before in waits_for(jobs).items()}
    while free := [key for key, before in left.items() if not before]:
        for key in free:
            del left[key]
        for before in left.values():
            before.difference_update(free)
    return bool(left)


def waits_for(jobs: Mapping[JobId, PrintJob]) -> dict[JobId, set[JobId]]:
    """Return what each job waits for: the jobs it names, and the one before it of the same track.

    A track's jobs stand in the order of the list.
    """
    found: dict[JobId, set[JobId]] = {}
    latest: dict[tuple[str, str], JobId] = {}
    for key, job in jobs.items():
        found[key] = set(job.after)
        track = (job.song.casefold(), job.track.casefold())
        if track in latest:
            found[key].add(latest[track])
        latest[track] = key
    return found
