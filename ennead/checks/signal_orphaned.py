"""A plug that breaks a normal on which a signal of the session goes its way."""

from collections.abc import Iterator, Mapping

from ennead.checks.at_points import Point, broken_normals, cord_text
from ennead.checks.finding import Finding, Fix
from ennead.edits.change import change
from ennead.edits.scenes import pull_cord
from ennead.studio.bays import NORMAL_LABELS, Cord, Normal
from ennead.studio.house import PortEnd
from ennead.survey.asked import Parts
from ennead.survey.runs import Run


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every line of the session that ends at a point whose normal a plug has broken."""
    if not survey.cords:
        return
    broken = survey.once(broken_normals)
    for run in (*survey.broken_runs, *[r for r in survey.output_runs if r.way.gap is not None and not r.is_spare]):
        found = orphaned_by(run, broken)
        if found is None or run.gap is None or run.gap.unit is None:
            continue
        normal, cords = found
        start, end = (survey.end_text(PortEnd(run.gap.unit, key)) for key in (normal.start, normal.end))
        name = (
            survey.source_by_id[run.source].name
            if run.source is not None
            else f"Driver output {run.driver.number if run.driver else ''}"
        )
        texts = [f"Pull {cord_text(survey, cord)}" for cord in cords]
        yield Finding(
            "signal_orphaned", "trouble", "Bays", cords[0].id,
            (*(c.id for c in cords), run.gap.unit, *((run.source,) if run.source else ())),
            f"{name} ends at {start}: a plug breaks its normal to {end}.",
            "What came by itself yesterday stays silent tonight, and every box looks right.",
            tuple(Fix(text, change(text, pull_cord, cord.id)) for text, cord in zip(texts, cords, strict=True)),
            (f"{start} is {NORMAL_LABELS[normal.mode]} to {end}; " + ("a plug in either breaks it" if normal.mode == "full" else "a plug there breaks it"),
             *(cord_text(survey, cord) for cord in cords)),
        )  # fmt: skip


def orphaned_by(
    run: Run, broken: Mapping[Point, tuple[Normal, tuple[Cord, ...]]]
) -> tuple[Normal, tuple[Cord, ...]] | None:
    """Return the broken normal at which a run ends, or None."""
    gap = run.gap
    if gap is None or gap.cause != "no-cable" or gap.unit is None:
        return None
    return broken.get((gap.unit, gap.port))
