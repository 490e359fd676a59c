"""Runs in words: what each stop is called, and why a run ends too early. Names are read here, and only here."""

from collections.abc import Mapping
from typing import Protocol

from ennead.standards.clock import pulled_hz
from ennead.standards.links import LINKS
from ennead.standards.rates import pull_size_text, rate_text
from ennead.studio.house import Settings, Unit
from ennead.studio.ids import UnitId
from ennead.survey.links import Link, link_into
from ennead.survey.numbering import Numbering
from ennead.survey.signal_paths import Gap, SignalPath, Stop
from ennead.survey.sorted_cables import SpanKey
from ennead.survey.unit_view import UnitView, mode_of, waits_for


class Named(Protocol):
    """The parts of a survey that its words are made of."""

    @property
    def units(self) -> Mapping[UnitId, Unit]: ...
    @property
    def rate_hz(self) -> int: ...
    @property
    def pull_ppm(self) -> float: ...
    @property
    def views(self) -> Mapping[UnitId, UnitView]: ...
    @property
    def links(self) -> Mapping[SpanKey, Link]: ...
    @property
    def numbering(self) -> Numbering: ...
    @property
    def settings(self) -> Mapping[UnitId, Settings]: ...


def stop_text(survey: Named, run: SignalPath, stop: Stop) -> str:
    """Return a stop as it is written on a line: the source, a port with its unit, a driver output."""
    if stop.unit is None:
        way = "output" if run.out else "input"
        return run.signal if stop.zone == "source" else f"driver {way} {run.driver.number if run.driver else '?'}"
    port = survey.views[stop.unit].profile.port_by_key[stop.port]
    text = f"{survey.units[stop.unit].name} · {port.label}"
    if port.is_digital:
        text = f"{text} lane {stop.lane}"
    if run.out and run.way.lands is not None and stop is run.way.stops[-1]:
        # What was sent out has come back: by which number is what one asks.
        return f"{text} (driver input {survey.numbering.input_at(run.way.lands).number})"
    return text


def stop_texts(survey: Named, run: SignalPath) -> tuple[str, ...]:
    """Return all stops of a run in words."""
    return tuple(stop_text(survey, run, stop) for stop in run.stops)


def gap_text(survey: Named, run: SignalPath) -> str:
    """Return why a run ends too early, as a sentence; empty where it does not."""
    gap = run.gap
    if gap is None:
        return ""
    if gap.unit is None:
        return f"{run.signal} is not plugged in anywhere yet."
    view = survey.views[gap.unit]
    if gap.cause == "not-listed":
        labels = [b.label for m in view.profile.driver_maps for b in m.inputs if b.key == gap.port]
        what = f"{labels[0] if labels else gap.port} {gap.lane}"
        return f"{survey.units[gap.unit].name} gives no number for {what} as it is set, or is not on the computer."
    name, label = survey.units[gap.unit].name, view.profile.port_by_key[gap.port].label
    rate = rate_text(survey.rate_hz)
    if gap.cause == "off":
        return f"{name} is switched off."
    if gap.cause == "insert":
        return f"The plug in {name}'s {label} breaks the way, and nothing leaves by it."
    if gap.cause == "rate":
        return f"{name} does not run at {rate}."
    if gap.cable is not None:
        return _lost_on_cable(survey, gap, f"{name}'s {label}", rate)
    if gap.cause == "lane":
        out = view.profile.port_by_key[view.lost[gap.port, gap.lane]]
        carried = lanes_text(view.lanes[out.key])
        return f"{name}'s {out.label} carries {carried} at {rate}; {label} is not among them."
    if gap.cause == "no-onward" and (chosen := _chosen_otherwise(survey, gap.unit, gap.port)):
        return f"{name} sends {label} nowhere: {chosen}."
    return {
        "no-cable": f"No cable leaves {name}'s {label}.",
        "no-computer": f"{name} is not on the computer.",
        "no-number": f"{name}'s driver map has no number for {label} at {rate}.",
        "no-onward": f"{name} sends {label} nowhere.",
        "silent": f"Nothing passes at {label} of {name}.",
        "ring": "The signal runs in a ring and never reaches the computer.",
    }[gap.cause]


def _chosen_otherwise(survey: Named, unit: UnitId, port: str) -> str:
    """Return how the switches stand that keep a socket from going on, in words; empty where none does."""
    profile, settings = survey.views[unit].profile, survey.settings[unit]
    # Of several switches those that every way from the socket waits for say why.
    modes = [mode for key in waits_for(profile, settings, port) if (mode := profile.mode(key)) is not None]
    return " and ".join(f"{m.label} stands at {m.label_of(mode_of(profile, settings, m.key))}" for m in modes)


def _lost_on_cable(survey: Named, gap: Gap, where: str, rate: str) -> str:
    link = link_into(survey.links, gap.cable, gap.unit, gap.port) if gap.cable is not None else None
    if link is None:
        return f"{where} is not reached."
    if gap.cause == "overfull":
        return f"{where} carries nothing: {LINKS[link.sends].label} has no room for {samples_text(survey)}."
    if link.crosses is not None:
        return f"{where} is not among the sockets its cable joins lane {gap.lane} to."
    if gap.cause == "format":
        sends, takes = LINKS[link.sends].label, LINKS[link.takes].label
        return f"{where} is set to {takes}, but {survey.units[link.start.unit].name} sends {sends}."
    return f"{where} carries {lanes_text(link.lanes)} at {rate}; lane {gap.lane} is lost."


class Paced(Protocol):
    """The parts of a survey that say how fast it runs."""

    @property
    def rate_hz(self) -> int: ...
    @property
    def pull_ppm(self) -> float: ...


def samples_text(survey: Paced) -> str:
    """Return the samples a second of the current session, with the pull written out: ``47 952.048 samples/s (48 kHz − 0.1 %)``."""
    whole = pulled_hz(survey.rate_hz, survey.pull_ppm)
    figure = f"{whole:,.3f}".rstrip("0").rstrip(".").replace(",", " ")
    return f"{figure} samples/s ({rate_and_pull(survey.rate_hz, survey.pull_ppm)})"


def rate_and_pull(rate_hz: int, pull_ppm: float) -> str:
    """Return a rate with how far the clocks run off it: ``48 kHz``, ``48 kHz − 0.1 %``, ``48 kHz + 12 ppm``."""
    if not pull_ppm:
        return rate_text(rate_hz)
    return f"{rate_text(rate_hz)} {'−' if pull_ppm < 0 else '+'} {pull_size_text(pull_ppm)}"


def lanes_text(lanes: int) -> str:
    """Return a number of lanes in words."""
    return "no lane" if lanes == 0 else "1 lane" if lanes == 1 else f"{lanes} lanes"
