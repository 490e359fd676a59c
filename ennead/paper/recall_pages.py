"""Recall cards on paper: what to dial as a table, the note, and the photographs beside their days."""

from collections.abc import Sequence
from html import escape
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QTextDocument

from ennead.drawings.painters.photo_image import image_of
from ennead.files.photographs import PhotoSource
from ennead.paper.pages import write_document
from ennead.reports.recall_rows import box_name, card_lines
from ennead.studio.document import Studio
from ennead.studio.recall import Photo, Recall

#: How wide a photograph stands on the page, px of the page's 96 an inch, and how many pixels of it are read.
_WIDE: Final = {"whole": 420, "close-up": 260}
_READ_PX: Final = 1_000


def write_recall(path: Path, title: str, studio: Studio, cards: Sequence[Recall], photos: PhotoSource) -> None:
    """Write recall cards as PDF, one below the other.

    Raises
    ------
    FileTrouble
    """
    document = QTextDocument()
    parts = [f"<h2>{escape(title)}</h2>"]
    parts += [_card(document, studio, card, photos) for card in cards]
    if not cards:
        parts.append("<p>No recall card has been made.</p>")
    write_document(path, title, document, "".join(parts))


def _card(document: QTextDocument, studio: Studio, card: Recall, photos: PhotoSource) -> str:
    loop = studio.destinations[card.loop].name if card.loop else ""
    facts = [card.day, card.song, card.engineer and f"noted by {card.engineer}", loop and f"in the loop {loop}"]
    rows = "".join(
        f"<tr><td>{escape(name)}</td><td>{escape(value)}</td></tr>" for name, value in card_lines(studio, card)
    )
    said = [f"<h3>{escape(box_name(studio, card))}</h3>", f"<p>{escape(' · '.join(filter(None, facts)))}</p>"]
    said += [f"<table cellspacing='0' cellpadding='3'>{rows}</table>"] if rows else []
    said += [f"<p>{escape(line)}</p>" for line in card.note.splitlines()]
    said += [_photo(document, photo, photos) for photo in card.photos]
    return "".join(said)


def _photo(document: QTextDocument, photo: Photo, photos: PhotoSource) -> str:
    words = escape(" · ".join(filter(None, (photo.shows, photo.taken, photo.note))))
    body = photos.photo(photo.sha256)
    image = image_of(body, _READ_PX) if body is not None else None
    if image is None:
        return f"<p>{words}: the picture is not here.</p>"
    name = f"photo:{photo.sha256}"
    document.addResource(QTextDocument.ResourceType.ImageResource, QUrl(name), image)
    return f"<p><img src='{name}' width='{_WIDE[photo.shows]}'><br>{words}</p>"
