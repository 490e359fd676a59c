"""Unbalanced tails soldered to balanced points."""

from collections.abc import Iterator

from ennead.checks.at_points import behind
from ennead.checks.finding import Finding
from ennead.studio.house import PortEnd
from ennead.survey.asked import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield a note for each bay whose balanced points have cables to unbalanced sockets behind them."""
    if not survey.bays:
        return
    tails: dict[str, list[tuple[str, str]]] = {}
    for point, there in survey.once(behind).items():
        if survey.port(point).wiring != "balanced":
            continue
        for cable in there:
            far = cable.far
            if isinstance(far, PortEnd) and (
                survey.port(far).connector in ("rca", "ts") or survey.port(far).wiring == "unbalanced"
            ):
                tails.setdefault(point.unit, []).append((survey.end_text(far), cable.cable))
    for unit, found in tails.items():
        text = f"{found[0][0]} is unbalanced" if len(found) == 1 else f"{len(found)} unbalanced sockets are wired"
        yield Finding(
            "unbalanced_tail", "note", "Bays", unit, (unit, *(cable for _, cable in found)),
            f"{text} behind balanced points of {survey.units[unit].name}.",  # type: ignore[index]
            "Over the bay its shield is ground of two boxes: hum, and 6 dB less into a balanced input that expects both legs. "
            "Solder the ring to the shield at the far end, or pass a line transformer.",
            (), tuple(f"{cable}: {name}" for name, cable in found[:8]),
        )  # fmt: skip
