"""Recall cards of Skerry Sound House, and the tracks of the drama that are to be printed through its boxes."""

from collections.abc import Mapping
from typing import Final

from ennead.demo.pictures import panel_photos
from ennead.edits.print_jobs import add_job, set_printing
from ennead.edits.recalls import add_card, add_photo
from ennead.files.photographs import HeldPhotos
from ennead.studio.document import Studio
from ennead.studio.ids import JobId, RecallId, UnitId
from ennead.studio.recall import Photo, Setting

_DRAMA: Final = "The storm"

#: Box, day, song.
_CARDS: Final = (
    ("Capstan", "2026-06-04", "The harbour bell"),
    ("Winch", "2026-08-20", _DRAMA),
    ("Tiller", "2026-08-21", _DRAMA),
    ("Capstan", "2026-09-02", _DRAMA),
    ("Rudder", "2026-09-02", _DRAMA),
)

#: How the boxes stood, in the order of the cards.
_SETTINGS: Final = (
    "Threshold: −6, Ratio: 2:1, Attack: 10 ms, Release: auto, Make-up: +2 dB",
    "Gain: 2:00, Low cut: 80 Hz in, Threshold: 1:30, Ratio: 3:1",
    "Low shelf: 100 Hz −2 dB, Bell: 2.4 kHz +1.5 dB narrow, High shelf: 10 kHz in",
    "Threshold: −8, Ratio: 4:1, Attack: 30 ms, Release: auto, Make-up: +3 dB",
    "Input: 11:00, Repeats: 1:30, Speed: slow",
)
_NOTES: Final = {
    "Winch": "Narrator, 20 cm, a little to the side.",
    "Tiller": "Against the booth's boxiness.",
    "Capstan": "The needle moves 2 to 3 dB in the loud scenes.",
}

#: Track, boxes, length and tail, s, how many channels, which box stands by a card of the storm.
_PRINTS: Final = (
    ("Narrator", ("Tiller", "Capstan"), 742.0, 2.0, 1, ("Tiller", "Capstan")),
    ("Foley", ("Rudder",), 655.0, 2.0, 1, ("Rudder",)),
    ("Wind and sea", ("Tiller",), 610.0, 4.0, 1, ()),
    ("Choir", ("Capstan",), 245.0, 3.0, 2, ("Capstan",)),
    ("Fiddle", ("Rudder",), 198.0, 2.0, 1, ("Rudder",)),
    ("Fiddle", ("Tiller",), 198.0, 2.0, 1, ("Tiller",)),
)


def with_recalls(studio: Studio, unit: Mapping[str, UnitId]) -> Studio:
    """Add the cards and the print jobs."""
    latest: dict[str, RecallId] = {}
    for (box, day, song), settings in zip(_CARDS, _SETTINGS, strict=True):
        note = _NOTES.get(box, "") if song == _DRAMA else ""
        loop = next((d.id for d in studio.destinations.values() if d.kind == "loop" and d.name == box), "")
        noted = tuple([Setting(*part.split(": ", 1)) for part in settings.split(", ")])
        studio = add_card(studio, unit[box], day, song=song, engineer="Engineer", settings=noted, note=note, loop=loop)
        latest[box] = RecallId(f"M{studio.counters['M']}")
        if box in ("Capstan", "Tiller") and song == _DRAMA:
            whole, close = panel_photos(HeldPhotos(), box)
            studio = add_photo(studio, latest[box], Photo(whole, "whole", day))
            studio = add_photo(studio, latest[box], Photo(close, "close-up", day, "the three left-hand dials"))
    for track, boxes, length, tail, channels, carded in _PRINTS:
        cards = {unit[box]: latest[box] for box in carded}
        studio = add_job(
            studio,
            _DRAMA,
            track,
            [unit[box] for box in boxes],
            length,
            tail_s=tail,
            channels=channels,
            cards=cards,
        )
    tracks = tuple([JobId(f"J{n}") for n in range(1, 4)])
    studio = add_job(
        studio, _DRAMA, "Drama bus", [unit["Capstan"]], 742.0, tail_s=5.0, after=tracks, note="after its tracks"
    )
    return set_printing(studio, setup_s=180.0)
