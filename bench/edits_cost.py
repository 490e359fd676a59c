"""What the survey costs after single edits of a house with bays: twenty seeded edits of each kind, against the whole of it.

The whole is kept as 1.9 times the plain graph of the same edges, built in the same run, so that a faster whole is no punishment.
"""

import random
from collections.abc import Callable, Iterator
from statistics import mean, median

from bench.bays_cost import _edges, full_house
from bench.report import Report, turn_about
from bench.survey_cost import whole
from ennead.edits.cables import disconnect
from ennead.edits.house import rename_unit
from ennead.edits.scenes import pull_cord
from ennead.edits.settings import set_gain, set_mode, set_phantom
from ennead.studio.document import Studio
from ennead.studio.errors import EnneadError
from ennead.studio.house import PortEnd, SourceEnd
from ennead.survey.survey import Survey

_TIMES = 20
#: Of the whole, as the plain graph stands to it: what it was when the promise was made.
_WHOLE = 1.9
#: Kinds that change copper between contacts.
_COPPER = frozenset({"cable_behind_a_bay", "cord"})


def _cables(studio: Studio, kind: str) -> list[str]:
    """Return the cables of a kind: of a microphone, a fibre, behind a point, or between two other boxes."""
    found = []
    for cable in studio.cables.values():
        ends = [p for p in cable.plugs if isinstance(p, PortEnd)]
        if isinstance(cable.start, SourceEnd):
            what = "microphone_lead"
        elif any(p.unit in studio.bays for p in ends):
            what = "cable_behind_a_bay"
        else:
            what = "fibre" if any("optical" in p.port for p in ends) else "cable_between_boxes"
        if what == kind:
            found.append(cable.id)
    return found


def _one(studio: Studio, kind: str, dice: random.Random) -> Studio:
    """Return the studio after one edit of a kind.

    Raises
    ------
    EnneadError
        Where that edit cannot be made.
    """
    if kind in ("microphone_lead", "fibre", "cable_behind_a_bay", "cable_between_boxes"):
        return disconnect(studio, dice.choice(_cables(studio, kind)))
    if kind == "cord":
        return pull_cord(studio, dice.choice(studio.cords).id)
    unit = dice.choice([u for u in studio.units if u not in studio.bays])
    profile = studio.profile_of(unit)
    if kind == "rename":
        return rename_unit(studio, unit, f"Box {dice.randrange(10**6)}")
    if kind == "mode" and profile.modes:
        mode = dice.choice(profile.modes)
        now = studio.settings_of(unit).modes.get(mode.key, mode.default)
        return set_mode(studio, unit, mode.key, dice.choice([c.key for c in mode.choices if c.key != now]))
    if kind == "phantom" and profile.banks:
        bank = dice.choice(profile.banks)
        return set_phantom(studio, unit, bank.key, bank.key not in studio.settings_of(unit).phantom)
    mics = [p.key for p in profile.ports if p.carries[0] == "mic"] if kind == "gain" else []
    return set_gain(studio, unit, dice.choice(mics), float(dice.randint(10, 60))) if mics else studio


KINDS = (
    "microphone_lead",
    "cable_between_boxes",
    "cable_behind_a_bay",
    "cord",
    "fibre",
    "mode",
    "phantom",
    "rename",
    "gain",
)


def _edits(studio: Studio, kind: str) -> Iterator[Studio]:
    """Yield the studio after edits of a kind, seeded; none where there is nothing of it."""
    dice, made = random.Random(f"{kind} 7"), 0
    for _ in range(50 * _TIMES):
        try:
            after = _one(studio, kind, dice)
        except (EnneadError, IndexError):
            continue
        if after is not studio:
            yield after
            made += 1
        if made == _TIMES:
            return


def run(report: Report, rounds: int = 5) -> None:
    """Measure all kinds."""
    import networkx as nx

    studio = full_house()
    edges = _edges(studio)
    report.head(
        f"Survey after one edit, {_TIMES} of each kind, against {_WHOLE} × the plain graph of the house with bays"
    )
    before = Survey(studio)
    whole(before)
    middles, worst = {}, 0.0
    for kind in KINDS:
        afters = list(_edits(studio, kind))
        if not afters:
            report.say(f"  {kind}: this house has none")
            continue
        deeds: list[Callable[[], object]] = [lambda: nx.DiGraph(edges)]
        deeds += [lambda s=after: whole(Survey(s, before)) for after in afters]
        graph, *took = turn_about(deeds, rounds)
        ratios = [t / (graph * _WHOLE) for t in took]
        middles[kind] = median(ratios)
        worst = max(worst, *ratios)
        most = 0.30 if kind in _COPPER else 0.25
        text = f"{kind.replace('_', ' ')}: median {median(ratios):.2f}, {min(ratios):.2f} to {max(ratios):.2f}"
        report.figure(f"edit_{kind}", round(median(ratios), 3), text, most)
    report.figure("edit_worst", round(worst, 3), f"worst single edit: {worst:.2f}", 0.45)
    report.figure(
        "edit_mean", round(mean(middles.values()), 3), f"mean of the kinds: {mean(middles.values()):.2f}", 0.16
    )
