"""Edits of what stands in the house: places, profiles, units, and faults."""

from typing import Any

from ennead.edits.computer import join_computer, leave_computer
from ennead.edits.leads import let_go, without_leads
from ennead.edits.names import clean_name
from ennead.edits.overrides import changed_overrides
from ennead.edits.points import bay_as_it_comes, has_points
from ennead.edits.print_jobs import jobs_without
from ennead.edits.recalls import cards_without
from ennead.studio.document import Studio
from ennead.studio.errors import NoSuchPort, UnknownObject
from ennead.studio.house import Place, PortEnd, Settings, Unit
from ennead.studio.ids import CableId, PlaceId, ProfileId, UnitId
from ennead.studio.profile import Profile
from ennead.studio.record import replace
from ennead.studio.session import Wish
from ennead.survey.survey import survey_of


def rename_studio(studio: Studio, name: str) -> Studio:
    """Give the studio a name.

    Raises
    ------
    BadValue
    """
    return replace(studio, name=clean_name(name, "the name of a studio"))


def add_place(studio: Studio, name: str) -> Studio:
    """Add a room, rack or desk; a place of that name that is there already serves.

    Raises
    ------
    BadValue
    """
    name = clean_name(name, "the name of a place")
    if place_named(studio, name) is not None:
        return studio
    studio, key = studio.with_counter("places")
    return replace(studio, places=studio.places.put(PlaceId(key), Place(PlaceId(key), name)))


def with_place(studio: Studio, facts: dict[str, Any]) -> tuple[Studio, dict[str, Any]]:
    """Return facts with their place as an id; one given by a name that is new is added to the studio.

    Raises
    ------
    BadValue
    """
    place = facts.get("place")
    if isinstance(place, str) and place and place not in studio.places:
        studio = add_place(studio, place)
        facts["place"] = place_named(studio, clean_name(place))
    elif place is not None:
        facts["place"] = PlaceId(place) if place else None
    return studio, facts


def place_named(studio: Studio, name: str) -> PlaceId | None:
    """Return the place of a name, upper and lower case alike, or None."""
    return next((p.id for p in studio.places.values() if p.name.casefold() == name.casefold()), None)


def add_unit(studio: Studio, profile: Profile, name: str = "", place: PlaceId | None = None) -> Studio:
    """Add a unit made from a profile, which is embedded in the studio if it is not yet.

    An interface joins the first computer, after the interfaces already on it; without a computer one is added.
    The unit stands as delivered: every mode at its first position, its clock at the first menu entry; a patch bay half-normalled.

    Raises
    ------
    BadValue, UnknownObject
    """
    name = clean_name(name or fresh_name(studio, profile.name), "the name of a unit")
    if place is not None and place not in studio.places:
        raise UnknownObject("place", place)
    known = next((p for p in studio.profiles.values() if replace(p, id=profile.id) == profile), None)
    if known is None:
        studio, profile_key = studio.with_counter("profiles")
        known = replace(profile, id=ProfileId(profile_key))
        studio = replace(studio, profiles=studio.profiles.put(known.id, known))
    studio, key = studio.with_counter("units")
    clock = known.clock_sources[0].key if known.clock_sources else ""
    unit = Unit(UnitId(key), name, known.id, place, Settings(clock_source=clock))
    studio = replace(studio, units=studio.units.put(unit.id, unit))
    if has_points(known):
        studio = replace(studio, bays=studio.bays.put(unit.id, bay_as_it_comes(unit.id, known)))
    return join_computer(studio, unit.id) if known.driver_maps else studio


def fresh_name(studio: Studio, wanted: str) -> str:
    """Return a name no unit has yet: the wanted one, or that with a number behind it."""
    wanted = wanted[:1].upper() + wanted[1:]
    taken = {u.name.casefold() for u in studio.units.values()}
    if wanted.casefold() not in taken:
        return wanted
    return next(n for n in (f"{wanted} {i}" for i in range(2, len(taken) + 3)) if n.casefold() not in taken)


def rename_unit(studio: Studio, unit: UnitId, name: str) -> Studio:
    """Give a unit another name.

    Raises
    ------
    UnknownObject, BadValue
    """
    new = replace(studio.unit(unit), name=clean_name(name, "the name of a unit"))
    return replace(studio, units=studio.units.put(unit, new))


def put_unit(studio: Studio, unit: UnitId, place: PlaceId | None) -> Studio:
    """Move a unit to another place.

    Raises
    ------
    UnknownObject
    """
    if place is not None and place not in studio.places:
        raise UnknownObject("place", place)
    return replace(studio, units=studio.units.put(unit, replace(studio.unit(unit), place=place)))


def remove_unit(studio: Studio, unit: UnitId) -> Studio:
    """Remove a unit with its cables and its place on the computer; what stood stays in the as-built record.

    Raises
    ------
    UnknownObject
    """
    studio.unit(unit)
    gone: tuple[CableId, ...] = tuple(
        c.id for c in studio.cables.values() if any(isinstance(p, PortEnd) and p.unit == unit for p in c.plugs)
    )
    if any(unit in h.interfaces or unit in h.beside for h in studio.hosts.values()):
        studio = leave_computer(studio, unit)
    studio = _without_bay(_forget(studio, unit), unit)
    studio = changed_overrides(studio, lambda of, stated: () if of == unit else stated)
    sessions = {
        s.id: replace(s, missing=tuple([u for u in s.missing if u != unit]))
        for s in studio.sessions.values()
        if unit in s.missing
    }
    return replace(
        studio,
        units=studio.units.without(unit),
        cables=studio.cables.without(*gone),
        recalls=cards_without(studio, unit),
        prints=jobs_without(studio, unit) if any(unit in j.boxes for j in studio.prints.values()) else studio.prints,
        sessions=studio.sessions.put_all(sessions) if sessions else studio.sessions,
    )


def _without_bay(studio: Studio, unit: UnitId) -> Studio:
    """Return the studio without the bay on a unit, and every scene without the cords in it."""
    if unit not in studio.bays:
        return studio
    scenes = {
        s.id: replace(s, cords=tuple([c for c in s.cords if all(p.unit != unit for p in c.plugs)]))
        for s in studio.scenes.values()
        if any(p.unit == unit for c in s.cords for p in c.plugs)
    }
    return replace(studio, bays=studio.bays.without(unit), scenes=studio.scenes.put_all(scenes))


def _forget(studio: Studio, unit: UnitId) -> Studio:
    """Let every destination go of the sockets of a unit, and every source of its wish for it."""
    survey = survey_of(studio)
    for key in studio.destinations:
        there = survey.placed(key)
        if unit in there.boxes or any(e.unit == unit for e in there.at):
            studio = let_go(studio, key)
        elif any(e.unit == unit for e in (*there.outputs, *there.returns)):
            studio = without_leads(studio, key, ("", "return"))
    sources = {
        s.id: replace(
            s,
            at=() if any(e.unit == unit for e in s.at) else s.at,
            inside=tuple([c for c in s.inside if c.unit != unit]),
        )
        for s in studio.sources.values()
        if unit in (*[e.unit for e in s.at], *[c.unit for c in s.inside])
    }
    sessions = {s.id: replace(s, wishes=tuple([_without(w, unit) for w in s.wishes])) for s in studio.sessions.values()}
    changed = {key: s for key, s in sessions.items() if s != studio.sessions[key]}
    levels = {
        d.id: replace(d, use=replace(d.use, peaks_dbu={u: at for u, at in d.use.peaks_dbu.items() if u != unit}))
        for d in studio.destinations.values()
        if unit in d.use.peaks_dbu
    }
    return replace(
        studio,
        sources=studio.sources.put_all(sources),
        sessions=studio.sessions.put_all(changed),
        destinations=studio.destinations.put_all(levels),
    )


def _without(wish: Wish, unit: UnitId) -> Wish:
    if unit not in (wish.outboard, wish.preamp):
        return wish
    return replace(
        wish,
        outboard=None if wish.outboard == unit else wish.outboard,
        preamp="" if wish.preamp == unit else wish.preamp,
    )


def mark_fault(studio: Studio, end: PortEnd, note: str) -> Studio:
    """Mark a port out of service, with a note of what is wrong.

    Raises
    ------
    UnknownObject, NoSuchPort, BadValue
    """
    unit = studio.unit(end.unit)
    studio.port(end)
    note = clean_name(note or "out of service", "a note")
    return replace(studio, units=studio.units.put(unit.id, replace(unit, faults={**unit.faults, end.port: note})))


def clear_fault(studio: Studio, end: PortEnd) -> Studio:
    """Put a port back into service.

    Raises
    ------
    UnknownObject, NoSuchPort
    """
    unit = studio.unit(end.unit)
    if end.port not in unit.faults:
        raise NoSuchPort(f"{unit.name}'s list of faults", end.port)
    faults = {port: note for port, note in unit.faults.items() if port != end.port}
    return replace(studio, units=studio.units.put(unit.id, replace(unit, faults=faults)))
