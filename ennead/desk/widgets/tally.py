"""The tally at the foot: the few numbers that decide the session, the next step, and whether all is on disk."""

from typing import Final

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from ennead.desk.shell.sheet_list import BY_NAME, CLOCK, LINES, SESSION
from ennead.desk.shell.worktable import Worktable
from ennead.desk.theme.tones import set_tone
from ennead.desk.widgets.notice import Notice
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.layouts.wrapping import at_a_word
from ennead.drawings.painters.theme import ThemeBook
from ennead.standards.rates import rate_text

_SHOW_MS = 12_000
#: As wide as all figures are together at the usual size of text, with the session's name and without it, px.
_ROOM_FOR_ALL: Final = 900
_ROOM_FOR_WORDS: Final = 700
#: The height of the foot, px: whatever is said, the sheet above it stays where it is.
_HIGH: Final = 34


class Tally(QWidget):
    """The foot of the window; `opened` carries the number of the sheet a figure comes from."""

    opened = pyqtSignal(int)
    findings_wanted = pyqtSignal()

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self.setObjectName("tally")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._table, self._book = table, book
        row = QHBoxLayout(self)
        self._row = row
        self._figures: dict[str, QPushButton] = {}
        for key, sheet in (
            ("session", SESSION),
            ("rate", SESSION),
            ("leader", CLOCK),
            ("inputs", LINES),
            ("findings", 0),
        ):
            figure = QPushButton()
            figure.setFlat(True)
            figure.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            figure.setObjectName(f"tally_{key}")
            if sheet:
                figure.clicked.connect(lambda _=False, s=sheet: self.opened.emit(s))
            else:
                figure.clicked.connect(self.findings_wanted)
            self._figures[key] = figure
            row.addWidget(figure)
        self._message = QLabel()
        self._message.setTextFormat(Qt.TextFormat.PlainText)
        self._message.setObjectName("tally_message")
        row.addWidget(self._message, 1)
        self._disk = QLabel()
        self._disk.setTextFormat(Qt.TextFormat.PlainText)
        row.addWidget(self._disk)
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(_SHOW_MS)
        self._quiet.timeout.connect(self.refresh)
        self._trouble, self._whole = "", ""
        self._notice: Notice | None = None
        table.changed.connect(self._changed)
        table.said.connect(self.say)
        table.autosave.kept.connect(self._kept)
        table.autosave.failed.connect(self._failed)
        for signal in (book.changed, table.settled):
            signal.connect(self.refresh)
        self.refresh()

    def say(self, sentence: str) -> None:
        """Show a sentence for a while; one that has no room here over the sheet."""
        self._tell(sentence, "trouble")
        if self._notice is None:
            self._notice = Notice(self, self._book)
        self._notice.tell(sentence if self._message.text() != sentence else "")
        self._quiet.start()

    @property
    def told(self) -> str:
        """The whole of what is said now."""
        return self._whole

    def _tell(self, sentence: str, tone: str) -> None:
        self._whole = sentence
        self._message.setToolTip(plain_tip(sentence))
        set_tone(self._message, tone)
        self._cut()

    def _cut(self) -> None:
        """Write as much of the sentence as there is room for on one line."""
        taken = sum(w.sizeHint().width() for w in (*self._figures.values(), self._disk) if not w.isHidden())
        room = self.width() - taken - self._book.now.px(90)
        self._message.setText(at_a_word(self._whole, lambda said: self._book.now.width(said, 14) <= room))

    def _fit(self) -> None:
        """Show which session it is where there are several, and room for it beside the figures."""
        self._figures["session"].setVisible(
            len(self._table.studio.sessions) > 1 and self.width() >= self._book.now.px(_ROOM_FOR_ALL)
        )

    def _word(self, word: str) -> str:
        """Return what stands before a figure; nothing where text is large and every figure speaks for itself."""
        return f"{word}  " if self.width() >= self._book.now.px(_ROOM_FOR_WORDS) else ""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        wide = [self._book.now.px(w) for w in (_ROOM_FOR_ALL, _ROOM_FOR_WORDS)]
        self._cut()
        if event is not None and any((event.oldSize().width() >= w) != (event.size().width() >= w) for w in wide):
            self.refresh()

    def _changed(self) -> None:
        self._quiet.stop()
        if self._notice is not None:
            self._notice.hide()
        if self._table.autosave.posted > self._table.autosave.done and not self._trouble:
            self._disk.setText("writing…")
        elif not self._trouble:
            self._show_disk()
        self._table.follow_edit("tally", self.refresh)

    def _kept(self, number: int) -> None:
        self._trouble = ""
        if number == self._table.autosave.posted:
            self._show_disk()

    def _failed(self, sentence: str) -> None:
        self._trouble = sentence
        self._disk.setText("▲ not on disk")
        self.say(sentence)

    def _show_disk(self) -> None:
        self._disk.setText("to look at only" if self._table.autosave.read_only else "✓ on disk")
        self._disk.setToolTip(plain_tip(str(self._table.path or "")))

    def refresh(self) -> None:
        """Show the figures of the studio as it is."""
        theme = self._book.now
        self.setFixedHeight(theme.px(_HIGH))
        if not self._table.is_settled:
            return
        from ennead.reports.next_step import next_step
        from ennead.reports.sheet_of import sheet_of_step
        from ennead.survey.words import samples_text

        self._row.setContentsMargins(theme.px(12), theme.px(3), theme.px(14), theme.px(3))
        self._row.setSpacing(theme.px(8))
        survey, findings = self._table.survey, self._table.findings
        placed = sum(1 for r in survey.signal_paths if r.driver)
        loud = [f for f in findings if f.severity != "note"]
        worst = loud[0].severity if loud else "note"
        words = f"▲ {len(loud)} to look at" if loud else "nothing to look at"
        name, leader = self._table.studio.current.name, leader_text(self._table)
        self._fit()
        self._figures["leader"].setToolTip(plain_tip(leader))
        self._figures["session"].setToolTip(plain_tip(name))
        texts = {
            "session": theme.elided(name, theme.px(190)),
            "rate": f"{self._word('rate')}{samples_text(survey) if survey.pull_ppm else rate_text(survey.rate_hz)}",
            "leader": (
                f"{self._word('clock')}{theme.elided(leader, theme.px(190 if self.width() >= theme.px(_ROOM_FOR_ALL) else 120))}"
            ),
            "inputs": f"{self._word('inputs')}{placed} of {len(survey.signal_paths)} arrive",
            "findings": words,
        }
        for key, text in texts.items():
            figure = self._figures[key]
            figure.setText(text.replace("&", "&&"))
            set_tone(figure, worst if key == "findings" and loud else "ink")
        set_tone(self._disk, "soft")
        if not self._disk.text():
            self._show_disk()
        if not self._quiet.isActive():
            step = next_step(survey)
            text = f"Next: {step.text} (sheet {BY_NAME[sheet_of_step(step.step)].number})." if step else ""
            if self._notice is not None:
                self._notice.hide()
            self._tell(text, "accent")


def leader_text(table: Worktable) -> str:
    """Return the clock leader, in as few words as the tally has room for."""
    clocks = table.survey.clocks
    if not clocks.by_unit:
        return "–"
    leaders = [u for d in clocks.domains for u in d.leaders if len(d.units) > 1 or len(clocks.domains) == 1]
    if len(leaders) == 1:
        return f"{table.studio.units[leaders[0]].name} leads"
    return f"{len(leaders)} leaders" if leaders else "nobody leads"
