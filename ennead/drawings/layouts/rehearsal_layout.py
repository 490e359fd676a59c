"""Where two driver rulers lie beside each other, now and then, and the tracks that move between them; pure geometry."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ennead.drawings.layouts.wrapping import Scale
from ennead.survey.numbering import DriverChannel
from ennead.survey.rehearsal import Rehearsal
from ennead.survey.words import gap_text

ROW, FREE, HEAD, CELL = 26, 18, 52, 40


@dataclass(frozen=True, slots=True)
class Moving:
    """One track, or one channel of what is heard.

    Parameters
    ----------
    before, after : int or None
        Its driver number now and then; None where it has none.
    why : str
        Why it is lost.
    """

    name: str
    before: int | None
    after: int | None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Tick:
    """One number on both rulers, or a stretch on which nothing runs, now or then.

    Parameters
    ----------
    here, there : bool
        Whether the number exists now, and then.
    block : str
        What its block is called, at the first number of it.
    """

    text: str
    y: float
    height: float
    here: bool = True
    there: bool = True
    free: bool = False
    block: str = ""


@dataclass(frozen=True, slots=True)
class Thread:
    """The way of a track from its number now to its number then; y in px, None where it has none."""

    moving: Moving
    from_y: float | None
    to_y: float | None


@dataclass(frozen=True, slots=True)
class Side:
    """The rulers of one direction with all that moves between them."""

    title: str
    y: float
    ticks: tuple[Tick, ...]
    threads: tuple[Thread, ...]


@dataclass(frozen=True, slots=True)
class RehearsalLayout:
    """The whole drawing; x of both rulers, px."""

    width: float
    height: float
    left: float = 0.0
    right: float = 0.0
    sides: tuple[Side, ...] = ()
    said: tuple[tuple[str, float], ...] = ()


def lay_rehearsal(tried: Rehearsal, said: Sequence[str], width: float, px: Scale) -> RehearsalLayout:
    """Return the layout of what an edit does.

    Parameters
    ----------
    said : sequence of str
        What would be found wrong then, a sentence each; they stand below the rulers.
    width : float, px
    """
    left = min(max(px(200), width * 0.34), width * 0.40)
    # In a narrow window, or with large text, the names of blocks give way first, then the threads between the rulers.
    right = max(
        min(width - px(CELL) - px(150), max(left + px(220), width * 0.70)),
        min(left + px(CELL) + px(60), width - px(CELL) - px(8)),
    )
    y = float(px(4))
    sides = []
    outs = [Moving(h.name, h.before, h.after, h.why) for h in tried.heard]
    for title, moving, now, then in (
        ("tracks and their driver inputs", _tracks(tried), tried.before.numbering.inputs, tried.after.numbering.inputs),
        ("what is heard, and its driver outputs", outs, tried.before.numbering.outputs, tried.after.numbering.outputs),
    ):
        if not moving:
            continue
        side, y = _lay_side(title, moving, now, then, y, px)
        sides.append(side)
    lines = []
    for text in said:
        lines.append((text, y))
        y += px(ROW)
    return RehearsalLayout(width, y + px(10), left, right, tuple(sides), tuple(lines))


def _tracks(tried: Rehearsal) -> list[Moving]:
    """Return every track that arrives now or then."""
    then = {(r.of.id, r.channel): r for r in tried.after.signal_paths if r.of is not None}
    found = []
    for run in tried.before.signal_paths:
        new = then.get((run.of.id, run.channel)) if run.of is not None else None
        before = run.driver.number if run.driver is not None else None
        after = new.driver.number if new is not None and new.driver is not None else None
        if before is not None or after is not None:
            why = gap_text(tried.after, new) if new is not None and after is None else ""
            found.append(Moving(run.track or run.signal, before, after, why))
    return found


def _lay_side(
    title: str,
    moving: Sequence[Moving],
    now: Iterable[DriverChannel],
    then: Iterable[DriverChannel],
    y: float,
    px: Scale,
) -> tuple[Side, float]:
    here, there = {d.number: d for d in now if d.channel.live}, {d.number: d for d in then if d.channel.live}
    used = {n for m in moving for n in (m.before, m.after) if n is not None}
    top, y = y, y + px(HEAD)
    ticks: list[Tick] = []
    at: dict[int, float] = {}
    idle: list[int] = []

    def close() -> None:
        nonlocal y
        if idle:
            span = f"{idle[0]}–{idle[-1]}" if len(idle) > 1 else str(idle[0])
            ticks.append(Tick(span, y, px(FREE), free=True))
            y += px(FREE)
            idle.clear()

    block = ""
    for number in sorted(used | here.keys() | there.keys()):
        if number not in used:
            idle.append(number)
            continue
        close()
        named = here.get(number) or there.get(number)
        label = named.channel.block.label if named is not None else ""
        ticks.append(
            Tick(str(number), y, px(ROW), number in here, number in there, block=label if label != block else "")
        )
        block, at[number] = label, y + px(ROW) / 2
        y += px(ROW)
    close()
    threads = tuple(Thread(m, at.get(m.before or 0), at.get(m.after or 0)) for m in moving)
    return Side(title, top, tuple(ticks), threads), y + px(12)
