"""Whether the bays and scenes of a document hang together: points that are there, normals that can be soldered, cords in points."""

from collections.abc import Container, Iterable, Iterator, Sequence

from ennead.standards.bays import LONGEST_LABEL, MOST_CORDS, MOST_POINTS, MOST_ROWS, MOST_STEPS, PITCH_RANGE_MM
from ennead.standards.rates import RATES_HZ
from ennead.studio.bays import Bay, Cord, Scene
from ennead.studio.delays import LoopDelay, StopDelay, delay_fault
from ennead.studio.document import Studio
from ennead.studio.ids import LETTERS, DestinationId, SourceId, number_of
from ennead.studio.loop_use import use_fault
from ennead.studio.plugs import LONGEST_CABLE_M, loom_faults, spare_faults
from ennead.studio.set_aside import MOST_SET_ASIDE, entry_fault
from ennead.studio.switches import Overrides, offers
from ennead.studio.tracks import MOST_NUMBER, Track


def bay_problems(studio: Studio) -> Iterator[str]:
    """Yield what is wrong with bays, scenes, the stock of cords and the cords that stand, each with its place."""
    for bay in studio.bays.values():
        yield from _bay_problems(studio, f"bays.{bay.id}", bay)
    for session in studio.sessions.values():
        if session.scene and session.scene not in studio.scenes:
            yield f"sessions.{session.id}: there is no scene “{session.scene[:40]}”"
        yield from _override_problems(studio, f"sessions.{session.id}", session.settings)
        yield from _track_problems(
            studio, f"sessions.{session.id}", session.tracks, {*session.sources, *session.destinations}
        )
        for unit in session.missing:
            if unit not in studio.units or session.missing.count(unit) > 1:
                yield f"sessions.{session.id}: no unit “{unit[:40]}” can be missing, or it is twice"
    for scene in studio.scenes.values():
        yield from _scene_problems(studio, f"scenes.{scene.id}", scene)
    if any(not (0 < kind.length_m <= LONGEST_CABLE_M and 0 <= kind.count <= 10_000) for kind in studio.stock):
        yield "stock: its cords are none that could be there"
    yield from _delay_problems(studio)
    for n, entry in enumerate(studio.set_aside, start=1):
        if fault := entry_fault(entry):
            yield f"set_aside.{n}: {fault}"
    if len({e.key for e in studio.set_aside}) != len(studio.set_aside) or len(studio.set_aside) > MOST_SET_ASIDE:
        yield "set_aside: an entry stands twice, or there are too many"
    for n, spare in enumerate(studio.spares, start=1):
        for fault in (*spare_faults(spare), *loom_faults(spare.loom)):
            yield f"spares.{n}: {fault}"
    for key, cord in studio.as_built.cords.items():
        if cord.id != key:
            yield f"as_built.cords: {key} holds another cord, {cord.id}"
        yield from _cord_problems(studio, f"as_built.cords.{key}", cord)
    yield from _twice("as_built.cords", studio.as_built.cords.values())


def _delay_problems(studio: Studio) -> Iterator[str]:
    for unit in studio.units.values():
        profile = studio.profiles.get(unit.profile)
        for key, delays in unit.delays.items():
            if profile is not None and key not in profile.port_by_key:
                yield f"units.{unit.id}.delays: it has no port “{key[:40]}”"
            if fault := _fault_of(delays):
                yield f"units.{unit.id}.delays.{key[:40]}: {fault}"
    for destination in studio.destinations.values():
        if fault := _fault_of(destination.measured):
            yield f"destinations.{destination.id}.measured: {fault}"
        if fault := use_fault(destination.use, destination.channels, destination.backs):
            yield f"destinations.{destination.id}.use: {fault}"
        if gone := destination.use.peaks_dbu.keys() - studio.units.keys():
            yield f"destinations.{destination.id}.use: there is no box “{min(gone)[:40]}”"


def _fault_of(delays: Sequence[StopDelay | LoopDelay]) -> str:
    """Return what is wrong with delays that stand together, one a rate."""
    rates = [d.rate_hz for d in delays]
    if len(set(rates)) != len(rates) or any(rate not in RATES_HZ for rate in rates):
        return "its rates are none, or one stands twice"
    return next((fault for d in delays if (fault := delay_fault(d))), "")


def _track_problems(
    studio: Studio, where: str, tracks: Iterable[Track], lines: Container[SourceId | DestinationId]
) -> Iterator[str]:
    held = list(tracks)
    for track in held:
        if track.line not in lines:
            yield f"{where}.tracks: “{track.line[:40]}” is neither a source of it nor a loop"
        loop = studio.destinations.get(DestinationId(track.line))
        if loop is not None and (loop.kind != "loop" or track.picked):
            yield f"{where}.tracks.{track.line}: only a loop has one, and it picks no inputs"
        if track.insert is not None and track.insert not in studio.destinations:
            yield f"{where}.tracks.{track.line}: there is no destination “{track.insert[:40]}”"
        if any(not 1 <= n <= MOST_NUMBER for n in (*track.picked, *track.outputs)) or len(track.picked) > 2:
            yield f"{where}.tracks.{track.line}: its numbers are none of a driver"
    if len({t.line for t in held}) != len(held):
        yield f"{where}.tracks: a source has two"


def _override_problems(studio: Studio, where: str, settings: Overrides) -> Iterator[str]:
    for unit, stated in settings.items():
        if unit not in studio.units:
            yield f"{where}: there is no unit “{unit[:40]}”"
            continue
        profile = studio.profile_of(unit)
        if not stated:
            yield f"{where}.settings.{unit}: nothing is stated of it"
        if len({(s.what, s.key) for s in stated}) != len(stated):
            yield f"{where}.settings.{unit}: a switch is stated twice"
        for one in stated:
            if not offers(profile, one.what, one.key, one.value):
                yield f"{where}.settings.{unit}: {one.what} “{one.key[:40]}” cannot stand at “{one.value[:40]}”"


def _bay_problems(studio: Studio, where: str, bay: Bay) -> Iterator[str]:
    if bay.id not in studio.units:
        yield f"{where}: there is no unit “{bay.id[:40]}”"
        return
    ports = studio.profile_of(bay.id).port_by_key
    keys = [key for row in bay.rows for key in row if key]
    if not keys or len(bay.rows) > MOST_ROWS or any(len(row) > MOST_POINTS for row in bay.rows):
        yield f"{where}: a bay has 1 to {MOST_ROWS} rows of 1 to {MOST_POINTS} points"
    if len(set(keys)) != len(keys):
        yield f"{where}: a point stands in it twice"
    for key in keys:
        if key not in ports or ports[key].direction != "either":
            yield f"{where}: “{key[:40]}” is no socket that takes cords"
    for normal in bay.normals:
        if not {normal.start, normal.end} <= bay.points or normal.start == normal.end:
            yield f"{where}: a normal of it joins nothing"
    if len({frozenset((n.start, n.end)) for n in bay.normals}) != len(bay.normals):
        yield f"{where}: two of its normals are one"
    switches = [key for n in bay.normals for key in n.switches]
    if len(set(switches)) != len(switches):
        yield f"{where}: two of its normals are on one switch"
    for key, label in bay.labels.items():
        if key not in bay.points:
            yield f"{where}: there is no point “{key[:40]}” to label"
        if max(len(label.number), len(label.first), len(label.second)) > LONGEST_LABEL:
            yield f"{where}: the label of {key[:40]} has a line of more than {LONGEST_LABEL} characters"
    if not PITCH_RANGE_MM[0] <= bay.pitch_mm <= PITCH_RANGE_MM[1]:
        yield f"{where}: its points cannot stand {bay.pitch_mm} mm apart"


def _scene_problems(studio: Studio, where: str, scene: Scene) -> Iterator[str]:
    if scene.session and scene.session not in studio.sessions:
        yield f"{where}: there is no session “{scene.session[:40]}”"
    yield from _override_problems(studio, where, scene.settings)
    yield from _track_problems(studio, where, scene.tracks, {*studio.sources, *studio.destinations})
    if len(scene.cords) > MOST_CORDS or len(scene.steps) > MOST_STEPS:
        yield f"{where}: it has more than {MOST_CORDS} cords, or more than {MOST_STEPS} steps"
    for cord in scene.cords:
        yield from _cord_problems(studio, where, cord)
        for plug in cord.plugs:
            if not studio.is_point(plug):
                yield f"{where}: {cord.id} is plugged where there is no point, “{plug.unit[:20]} {plug.port[:40]}”"
    yield from _twice(where, scene.cords)


def _cord_problems(studio: Studio, where: str, cord: Cord) -> Iterator[str]:
    """Yield what is wrong with a cord in itself: what is plugged tonight may hang in what has left the plan."""
    letter = LETTERS["cords"]
    number = cord.id[1:]
    if (
        not (number.isascii() and number.isdecimal() and len(number) < 18)
        or cord.id[:1] != letter
        or number_of(cord.id) > studio.counters.get(letter, 0)
    ):
        yield f"{where}: “{cord.id[:40]}” is no cord that was ever given out"
    if not 1 <= len(set(cord.plugs)) == len(cord.plugs) <= 2:
        yield f"{where}: {cord.id} has not one plug, or two in different points"
    if cord.length_m is not None and not 0 < cord.length_m <= LONGEST_CABLE_M:
        yield f"{where}: {cord.length_m} m is no length of a cord"


def _twice(where: str, cords: Iterable[Cord]) -> Iterator[str]:
    laid = list(cords)
    plugs = [plug for cord in laid for plug in cord.plugs]
    if len(set(plugs)) != len(plugs):
        yield f"{where}: two cords are in one point"
    if len({c.id for c in laid}) != len(laid):
        yield f"{where}: a cord stands in it twice"
