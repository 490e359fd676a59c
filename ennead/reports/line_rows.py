"""Runs as plain rows, for scripts."""

from typing import Any

from ennead.survey.runs import Run


def line_row(run: Run) -> dict[str, Any]:
    """Return one run: signal, stops, driver number, track, latency in samples, and the problem if there is one."""
    return {
        "signal": run.signal,
        "complete": run.complete,
        "stops": [{"text": s.text} for s in run.stops],
        "driver_number": run.driver.number if run.driver else None,
        "track": run.track,
        "latency_samples": run.latency_samples,
        "problem": run.gap.reason if run.gap else None,
    }
