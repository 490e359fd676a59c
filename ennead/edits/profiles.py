"""Edits of embedded profiles: what a type of box is found to be like when one looks closer."""

from collections.abc import Collection

from ennead.edits.overrides import changed_overrides
from ennead.studio.document import Studio
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd, Settings, Unit
from ennead.studio.ids import ProfileId, SourceId, UnitId
from ennead.studio.inner_channels import is_inner
from ennead.studio.mixes import Level, are_levels
from ennead.studio.plugs import cable_faults
from ennead.studio.profile import Profile
from ennead.studio.record import replace
from ennead.studio.session import SourceFacts
from ennead.studio.switches import fitting, offers


def change_profile(studio: Studio, unit: UnitId, profile: Profile) -> Studio:
    """Give a unit, and all others made from the same profile, another description of their box.

    Settings that the new description still offers stay; a switch it does not have falls back to its first position.

    Raises
    ------
    BadValue
        If a socket that holds a cable is no longer there, or is of another kind.
    """
    old = studio.profile_of(unit)
    new = replace(profile, id=old.id)
    for cable in studio.cables.values():
        for end in cable.plugs:
            if isinstance(end, PortEnd) and studio.units[end.unit].profile == old.id:
                _check_port(studio, end, old, new)
    standing = [
        *(end for d in studio.destinations.values() for end in d.at),
        *(end for s in studio.sources.values() for end in s.at),
    ]
    for end in standing:
        if studio.units[end.unit].profile == old.id:
            _check_port(studio, end, old, new)
    for unit_id, bay in studio.bays.items():
        if studio.units[unit_id].profile == old.id:
            for key in sorted(bay.points):
                if key not in new.port_by_key or new.port_by_key[key].direction != "either":
                    raise BadValue(
                        f"without its {old.port_by_key[key].label}",
                        studio.units[unit_id].name,
                        "It is a point of a bay.",
                    )
    units = {u.id: fitted(u, new) for u in studio.units.values() if u.profile == old.id}
    if not new.driver_maps and any(u in h.interfaces for h in studio.hosts.values() for u in units):
        raise BadValue("without a driver map", new.name, "Take the unit off its computer first.")
    changed = replace(studio, profiles=studio.profiles.put(ProfileId(old.id), new), units=studio.units.put_all(units))
    changed = replace(changed, sources=changed.sources.put_all(_holding(changed, units)))
    changed = changed_overrides(changed, lambda of, stated: fitting(new, stated) if of in units else stated)
    for cable in changed.cables.values():
        if any(isinstance(p, PortEnd) and p.unit in units for p in cable.plugs):
            for fault in cable_faults(changed, cable):
                raise BadValue(
                    f"the description of {studio.units[unit].name}",
                    new.name,
                    f"{cable.id} would not do any more: {fault}. Pull it first.",
                )
    return changed


def _check_port(studio: Studio, end: PortEnd, old: Profile, new: Profile) -> None:
    was, now = old.port_by_key[end.port], new.port_by_key.get(end.port)
    if now is None or now.direction != was.direction or now.is_digital != was.is_digital:
        raise BadValue(
            f"without its {was.label}", studio.units[end.unit].name, "A cable is in that socket; pull it first."
        )


def _holding(studio: Studio, units: Collection[UnitId]) -> dict[SourceId, SourceFacts]:
    """Return the sources that hold numbers of some units, without those that are no longer there."""
    found = {}
    for source in studio.sources.values():
        left = tuple([c for c in source.inside if c.unit not in units or is_inner(studio.profile_of(c.unit), c)])
        if len(left) < len(source.inside):
            found[source.id] = replace(source, inside=left)
    return found


def _mixes_that_fit(settings: Settings, profile: Profile) -> dict[str, dict[str, Level]]:
    held = {
        mix: {lane: level for lane, level in levels.items() if are_levels(profile, mix, {lane: level})}
        for mix, levels in settings.mixes.items()
    }
    return {mix: levels for mix, levels in held.items() if levels}


def fitted(unit: Unit, profile: Profile) -> Unit:
    """Return a unit with only those switch positions that its profile offers."""
    settings = unit.settings
    modes = {k: v for k, v in settings.modes.items() if (m := profile.mode(k)) and v in {c.key for c in m.choices}}
    clock = settings.clock_source
    if profile.clock_source(clock) is None:
        clock = profile.clock_sources[0].key if profile.clock_sources else ""
    maps = {m.key for m in profile.driver_maps}
    left = replace(
        settings,
        modes=modes,
        phantom=tuple(b for b in settings.phantom if b in {x.key for x in profile.banks}),
        clock_source=clock,
        pads=tuple(p for p in settings.pads if p in profile.port_by_key and profile.port_by_key[p].pad_db is not None),
        driver_map=settings.driver_map if settings.driver_map in maps else "",
        gains={k: v for k, v in settings.gains.items() if offers(profile, "gain", k, "")},
        outputs={k: v for k, v in settings.outputs.items() if offers(profile, "output", k, v)},
        mixes=_mixes_that_fit(settings, profile),
        feeds={k: v for k, v in settings.feeds.items() if offers(profile, "feed", k, v)},
    )
    faults = {k: n for k, n in unit.faults.items() if k in profile.port_by_key}
    delays = {k: d for k, d in unit.delays.items() if k in profile.port_by_key}
    return replace(unit, settings=left, faults=faults, delays=delays)
