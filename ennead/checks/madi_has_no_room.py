"""Sixty-four MADI channels fill their line: off the nominal rate they may no longer fit."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix
from ennead.edits.change import Change, change, step
from ennead.edits.session import set_pull
from ennead.edits.settings import set_mode
from ennead.standards.clock import MADI_BIT_S, madi_bit_s, pulled_hz
from ennead.standards.links import LINKS
from ennead.standards.rates import single_speed_of
from ennead.studio.subjects import subject_of
from ennead.survey.links import Link
from ennead.survey.survey_interface import Parts
from ennead.survey.words import samples_text


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every MADI cable with channels that need more than the line carries.

    References
    ----------
    AES10: 64 × 32 bit × rate against 100 Mbit/s; 56 channels leave room for ±12.5 %.
    """
    if survey.pull_ppm <= 0:
        return
    for link in survey.links.values():
        if not link.overfull:
            continue
        channels, rate = LINKS[link.sends].lanes["single"], pulled_hz(single_speed_of(survey.rate_hz), survey.pull_ppm)
        needs = madi_bit_s(channels, rate) / 1e6
        text = "Run at the rate itself"
        yield Finding(
            "madi_has_no_room",
            "trouble",
            subject_of(link.cable),
            (link.cable, link.start.unit, link.end.unit),
            f"{link.cable} carries nothing: {channels} MADI channels do not fit at {samples_text(survey)}.",
            "The line is full at the nominal rate already. In 56-channel mode there is room for varispeed.",
            (*_fewer(survey, link), Fix(text, change(text, set_pull, 0.0))),
            (
                (
                    f"{channels} × 32 bit × {rate:,.0f} Hz = {needs:.1f} Mbit/s; the line carries {MADI_BIT_S / 1e6:g}"
                    " (AES10)"
                ),
            ),
            cause=(link.sends, link.takes),
        )


def _fewer(survey: Parts, link: Link) -> tuple[Fix, ...]:
    """Return the fix that sets both ends to 56 channels, where both can be set."""
    steps, wanted = [], link.sends.replace("madi", "madi-56")
    for end in (link.start, link.end):
        port, profile = survey.port(end), survey.profiles[end.unit]
        mode = profile.mode(port.format_mode or "")
        choice = next((c.key for c in mode.choices if c.key in (wanted, "madi-56")), None) if mode is not None else None
        if mode is None or choice is None:
            return ()
        steps.append(step(set_mode, end.unit, mode.key, choice))
    text = "Set both ends to 56 channels"
    return (Fix(text, Change(text, tuple(steps))),)
