"""What one print job says, to be read and typed."""

from collections.abc import Callable
from typing import Final

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFormLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.field import Field
from ennead.desk.widgets.tick_box import TickBox
from ennead.drawings.painters.theme import ThemeBook
from ennead.reports.pass_rows import clock_text
from ennead.reports.recall_rows import card_title, newest_first
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.ids import JobId, RecallId, UnitId
from ennead.studio.print_job import PrintJob

_ROWS: Final = (
    ("song", "Song", ""),
    ("track", "Track", "as the software shows it"),
    ("boxes", "Boxes, in order", "Capstan, Tiller"),
    ("length_s", "Length", "4:05"),
    ("tail_s", "Tail", "0:05, what the boxes sound after it"),
    ("from_s", "Begins at", "0:00 of the song"),
    ("channels", "Channels sent", "2"),
    ("after", "Waits for", "tracks of the song, for a bus"),
)


def seconds_of(text: str, what: str) -> float:
    """Return a length of time from ``4:05``, ``1:02:00`` or a number of seconds.

    Raises
    ------
    BadValue
    """
    parts = text.strip().removesuffix("s").strip().replace(",", ".").split(":")
    try:
        found = 0.0
        for part in parts:
            found = found * 60 + float(part)
    except ValueError:
        found = -1.0
    if not 0.0 <= found < 1e6 or len(parts) > 3:
        raise BadValue(what, text, "Type it as minutes and seconds, 4:05, or as seconds.")
    return found


def units_of(studio: Studio, text: str) -> tuple[UnitId, ...]:
    """Return the boxes that a text names, in order; between them commas or arrows.

    Raises
    ------
    BadValue
    """
    names = [part.strip() for part in text.replace("→", ",").replace(">", ",").split(",") if part.strip()]
    by_name = {unit.name.casefold(): key for key, unit in studio.units.items()}
    unknown = next((name for name in names if name.casefold() not in by_name), None)
    if unknown is not None or not names:
        known = ", ".join(
            sorted(unit.name for unit in studio.units.values() if not studio.profiles[unit.profile].driver_maps)
        )
        raise BadValue("the boxes of a print", unknown or text, f"Name boxes of the rig, such as {known[:120]}.")
    return tuple([by_name[name.casefold()] for name in names])


def jobs_of(studio: Studio, job: PrintJob, text: str) -> tuple[JobId, ...]:
    """Return the jobs of a job's song that a text names by their tracks; a track's last job stands for it.

    Raises
    ------
    BadValue
    """
    names = [part.strip() for part in text.split(",") if part.strip()]
    here = {j.track.casefold(): j.id for j in studio.prints.values() if j.song == job.song and j.id != job.id}
    unknown = next((name for name in names if name.casefold() not in here), None)
    if unknown is not None:
        raise BadValue("what a print waits for", unknown, "Name tracks of the same song that are on the list.")
    return tuple([here[name.casefold()] for name in names])


class JobFacts(QWidget):
    """The job; `stated` carries the name of a fact and its value, `refused` what is wrong with what was typed."""

    stated = pyqtSignal(str, object)
    refused = pyqtSignal(object)

    def __init__(self, book: ThemeBook) -> None:
        super().__init__()
        self._studio: Studio | None = None
        self._job: PrintJob | None = None
        self.fields: dict[str, QLineEdit] = {}
        self._form = QFormLayout()
        for key, text, hint in _ROWS:
            field = self.fields[key] = Field()
            field.setPlaceholderText(hint)
            field.setAccessibleName(text)
            field.editingFinished.connect(lambda key=key: self._typed(key))
            self._form.addRow(text, field)
        self.kept = QComboBox()
        self.kept.addItem("the dry take", "audio")
        self.kept.addItem("the MIDI and its instrument", "MIDI")
        self.kept.setAccessibleName("Kept and muted")
        self.kept.activated.connect(lambda _: self.stated.emit("kept", self.kept.currentData()))
        self._form.addRow("Kept and muted", self.kept)
        self.cards: dict[UnitId, QComboBox] = {}
        self._base = self._form.rowCount()
        self.printed = TickBox("printed", book.now)
        self.printed.clicked.connect(lambda on: self.stated.emit("printed", on))
        self.last = QLabel()
        set_tone(self.last, "soft")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._form)
        column.addWidget(self.printed)
        column.addWidget(self.last)
        column.addStretch(1)

    def show_job(self, studio: Studio, job: PrintJob | None) -> None:
        """Show a job."""
        self._studio, self._job = studio, job
        self.setEnabled(job is not None)
        shown = dict.fromkeys(self.fields, "") if job is None else _texts(studio, job)
        for key, text in shown.items():
            self.fields[key].setText(text)
        self.kept.setCurrentIndex(max(0, self.kept.findData(job.kept if job is not None else "audio")))
        self.printed.setChecked(job is not None and bool(job.printed))
        self.last.setText(
            f"on {job.printed}; tick it off to print it once more" if job is not None and job.printed else ""
        )
        while self._form.rowCount() > self._base:
            self._form.removeRow(self._base)
        self.cards = {}
        for unit in job.boxes if job is not None else ():
            choice = self.cards[unit] = QComboBox()
            choice.addItem("dialled by ear", "")
            for card in newest_first([c for c in studio.recalls.values() if c.unit == unit]):
                choice.addItem(card_title(studio, card), card.id)
            choice.setCurrentIndex(max(0, choice.findData(job.cards.get(unit, "") if job is not None else "")))
            choice.setAccessibleName(f"Card of {studio.units[unit].name}")
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.activated.connect(lambda _: self._state_cards())
            self._form.addRow(f"{studio.units[unit].name} stands as", choice)

    def _state_cards(self) -> None:
        self.stated.emit(
            "cards", {unit: RecallId(str(c.currentData())) for unit, c in self.cards.items() if c.currentData()}
        )

    def _typed(self, key: str) -> None:
        studio, job, text = self._studio, self._job, self.fields[key].text()
        if studio is None or job is None or text == _texts(studio, job)[key]:
            return
        read: dict[str, Callable[[], object]] = {
            "boxes": lambda: units_of(studio, text),
            "after": lambda: jobs_of(studio, job, text),
            "channels": lambda: int(text) if text.strip().isdecimal() else -1,
        }
        lengths = {
            "length_s": "the length of a print",
            "tail_s": "the tail of a print",
            "from_s": "where a print begins",
        }
        try:
            value = read[key]() if key in read else seconds_of(text, lengths[key]) if key in lengths else text
        except BadValue as error:
            self.refused.emit(error)
            self.show_job(studio, job)
        else:
            self.stated.emit(key, value)


def _texts(studio: Studio, job: PrintJob) -> dict[str, str]:
    return {
        "song": job.song,
        "track": job.track,
        "boxes": ", ".join([studio.units[u].name for u in job.boxes]),
        "length_s": clock_text(job.length_s),
        "tail_s": clock_text(job.tail_s),
        "from_s": clock_text(job.from_s),
        "channels": str(job.channels),
        "after": ", ".join([studio.prints[w].track for w in job.after]),
    }
