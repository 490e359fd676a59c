"""What a bench run found: lines for people, a dictionary for programs."""

import gc
import json
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any


@dataclass
class Report:
    """Figures as they come in; printed at once, stored at the end."""

    lines: list[str] = field(default_factory=list)
    figures: dict[str, Any] = field(default_factory=dict)

    def head(self, text: str) -> None:
        """Begin a part."""
        self.say(f"\n{text}")

    def say(self, text: str) -> None:
        """Say something."""
        print(text, flush=True)
        self.lines.append(text)

    def figure(self, name: str, value: Any, text: str, most: float | None = None) -> None:
        """Note a figure, and whether it keeps within what is asked of it."""
        self.figures[name] = value
        if most is not None:
            self.figures[f"{name}_asked_at_most"] = most
            text += f"   (asked: at most {most:g}) {'ok' if value <= most else '▲ NOT REACHED'}"
        self.say(f"  {text}")

    def store(self, folder: Path) -> None:
        """Write bench.txt and bench.json."""
        folder.mkdir(parents=True, exist_ok=True)
        (folder / "bench.txt").write_text("\n".join(self.lines) + "\n", encoding="utf-8")
        (folder / "bench.json").write_text(
            json.dumps(self.figures, indent=2, ensure_ascii=False) + "\n", encoding="utf-8"
        )


def turn_about(deeds: Sequence[Callable[[], object]], rounds: int) -> list[float]:
    """Return the median time of each of several things done in turn, s: what slows the machine slows all alike.

    The first is the median of its own times; the others stand to it as the median of their ratios round by round, so that
    a machine that is slow for half of the rounds does not tell in the ratio.
    """
    times: list[list[float]] = [[] for _ in deeds]
    for _ in range(rounds):
        for deed, taken in zip(deeds, times, strict=True):
            gc.collect()
            gc.disable()
            start = time.perf_counter()
            deed()
            taken.append(time.perf_counter() - start)
            gc.enable()
    first = median(times[0])
    return [first, *(first * median(b / a for a, b in zip(times[0], taken, strict=True)) for taken in times[1:])]
