"""Calibrating a loop: what to do step by step, how loud a tone it bears, and what a reading of the meters comes to."""

from collections.abc import Sequence
from typing import Final, NamedTuple

from ennead.reports.loop_rows import LoopFigures, numbers_text
from ennead.survey.bypass_points import bypass_points
from ennead.survey.staircase import Staircase
from ennead.survey.survey_interface import Parts

#: Frequency of the tone, Hz (AES17: 997 Hz, which is in no simple ratio to a sample rate).
TONE_HZ: Final = 997
#: Levels of the tone, the one that is tried first, dBFS. House default.
TONES_DBFS: Final = (-6.0, -18.0, -30.0)
#: How far the tone stays below every limit, dB. House default.
ROOM_DB: Final = 3.0
#: Closer than this is good enough, dB. House default; the user's own goes before it.
TOLERANCE_DB: Final = 0.1


class CalibrationStep(NamedTuple):
    """One thing to do; `warns` where ears, loudspeakers or boxes are at stake."""

    text: str
    warns: bool = False


class ToneReading(NamedTuple):
    """What came back of a tone.

    Parameters
    ----------
    trims_db : tuple of float, dB
        By channel, what makes the return as loud as the send.
    mismatch_db : float, dB
        How far the two channels lie apart; zero for one.
    good : bool
        Whether all of it is within the tolerance.
    said : str
        The same in words.
    """

    trims_db: tuple[float, ...]
    mismatch_db: float
    good: bool
    said: str


def tone_dbfs(levels: Sequence[Staircase]) -> float:
    """Return the loudest tone that every stated limit of a loop bears with the box bypassed, dBFS."""
    for tone in TONES_DBFS:
        if all(_bears(stairs, tone) for stairs in levels):
            return tone
    return TONES_DBFS[-1]


def _bears(stairs: Staircase, tone: float) -> bool:
    """Say whether a tone stays below all limits of a channel: bypassed, what leaves the converter comes back to it."""
    out = next((s for s in stairs.stops if s.at.what == "D/A"), None)
    if out is None or out.limit_dbu is None:
        # No limit is stated: the cautious level.
        return tone <= TONES_DBFS[1]
    level = out.limit_dbu + tone
    return all(s.limit_dbu is None or level <= s.limit_dbu - ROOM_DB for s in stairs.stops)


def calibration_steps(survey: Parts, figures: LoopFigures) -> tuple[CalibrationStep, ...]:
    """Return the steps of calibrating a loop, in order."""
    tone = tone_dbfs(figures.levels)
    boxes = " and ".join(figures.boxes) or "the box"
    steps = [
        CalibrationStep("Turn the monitors and headphones all the way down: a tone hurts ears and tweeters.", True)
    ]
    points = bypass_points(survey, figures.circuit.channels[0])
    if points is not None:
        out, back = [survey.end_text(point) for point in points]
        steps.append(
            CalibrationStep(
                f"Bypass {boxes}; or lift it out at the bay: pull its cords and lay one from {out} to {back}"
                f"{_more(len(figures.levels))}. “Lay it as a scene” does so; its moves are in Bays."
            )
        )
    else:
        steps.append(CalibrationStep(f"Bypass {boxes}; or unplug it and join its two plugs with one cable a channel."))
    steps += [
        CalibrationStep(
            f"Put a tone on the track, before the loop in its order: {TONE_HZ} Hz at {tone:g} dBFS"
            f" ({_why(tone)}).".replace("-", "−")
        ),
        CalibrationStep(f"Open the loop: output {numbers_text(figures.sends)}, input {numbers_text(figures.returns)}."),
        CalibrationStep("Read the return's meter, each channel, and type it below."),
        CalibrationStep("Take the trim: the return's gain in the software, or the box's output where it has one."),
        CalibrationStep("Take the tone away before anything else.", True),
        CalibrationStep(f"Put {boxes} back, and bring the monitors up slowly.", True),
        CalibrationStep("Store the preset of the interface, and note what the box is set to."),
    ]
    return tuple(steps)


def _why(tone: float) -> str:
    if tone == TONES_DBFS[0]:
        return f"every stated limit has {ROOM_DB:g} dB of room for it"
    return "the level that suits where a stop has less room" if tone == TONES_DBFS[1] else "a stop clips early"


def _more(channels: int) -> str:
    return "" if channels == 1 else ", and one for the other side" if channels == 2 else ", and so for every channel"


def side_names(channels: int) -> tuple[str, ...]:
    """Return what the channels of a return are called."""
    return (
        ("return",)
        if channels == 1
        else ("left", "right")
        if channels == 2
        else tuple(map(str, range(1, channels + 1)))
    )


def reading(sent_dbfs: float, read_dbfs: Sequence[float], tolerance_db: float = TOLERANCE_DB) -> ToneReading:
    """Return what the levels that came back of a tone come to.

    Parameters
    ----------
    sent_dbfs : float, dBFS
    read_dbfs : sequence of float, dBFS
        One a channel.
    tolerance_db : float, dB
        Closer than this is good enough.

    Examples
    --------
    >>> reading(-18.0, (-17.3, -17.5)).said
    'Trim −0.7 dB left, −0.5 dB right; the sides are 0.2 dB apart, more than the 0.1 dB that are good enough.'
    """
    trims = tuple([round(sent_dbfs - level, 3) for level in read_dbfs])
    apart = round(max(trims) - min(trims), 3)
    off = max(abs(trim) for trim in trims)
    names = side_names(len(trims)) if len(trims) > 1 else ("",)
    words = ", ".join([f"{trim:+.1f} dB {side}".strip() for trim, side in zip(trims, names, strict=True)])
    if off <= tolerance_db and apart <= tolerance_db:
        return ToneReading(trims, apart, True, f"Good enough: within {tolerance_db:g} dB of what is sent.")
    said = f"Trim {words}"
    if len(trims) > 1:
        more = apart > tolerance_db
        said += f"; {'the sides' if len(trims) == 2 else 'they'} are {apart:.1f} dB apart,"
        said += f" {'more than' if more else 'within'} the"
        said += f" {tolerance_db:g} dB that are good enough"
    return ToneReading(trims, apart, False, f"{said}.".replace("-", "−"))
