"""Runs as plain rows, for scripts."""

from collections.abc import Iterable
from itertools import pairwise
from typing import Any

from ennead.survey.loop_delay import nearest, stale_since
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey import Survey
from ennead.survey.traces import legs
from ennead.survey.words import gap_text, stop_texts


def line_rows(survey: Survey, runs: Iterable[SignalPath]) -> list[dict[str, Any]]:
    """Return some runs and the other legs of those that are split, each after the one its line is known by."""
    return [
        line_row(survey, one) | {"leg": n} for run in runs for n, one in enumerate((run, *legs(survey, run)), start=1)
    ]


def line_row(survey: Survey, run: SignalPath) -> dict[str, Any]:
    """Return one run: signal, stops, driver number, track, destination, latency in samples, and the problem if there is one."""
    row = {
        "signal": run.signal,
        "complete": run.complete,
        "stops": [{"text": text} for text in stop_texts(survey, run)],
        "driver_number": run.driver.number if run.driver else None,
        "track": run.track,
        "destination": survey.destination_by_id[run.to].name if run.to is not None else None,
        "latency_samples": run.latency_samples,
        "problem": None if run.is_spare else gap_text(survey, run) or None,
    }
    noted = _levels(survey, run)
    if noted:
        row["level_db"] = round(sum(noted), 6)
    loop = survey.destination_by_id[run.to] if run.to is not None else None
    last = nearest(survey, loop) if loop is not None and loop.measured else None
    if loop is not None and last is not None:
        row["measured"] = {
            "samples": last.samples,
            "rate_hz": last.rate_hz,
            "at": last.at,
            "stale": stale_since(survey, loop, last) or None,
        }
    return row


def _levels(survey: Survey, run: SignalPath) -> list[float]:
    """Return the noted levels, dB, at which a run is summed onto outputs on its way."""
    found = []
    for into, out in pairwise(run.stops):
        if into.unit is not None and into.unit == out.unit:
            level = survey.views[into.unit].levels.get(((into.port, into.lane), (out.port, out.lane)))
            found += [] if level is None else [level]
    return found
