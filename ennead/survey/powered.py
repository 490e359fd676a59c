"""48 V on copper: from which preamp socket it reaches which socket, over panels, bays and split leads."""

from collections.abc import Mapping

from ennead.studio.house import PortEnd
from ennead.studio.ids import LETTERS, UnitId
from ennead.studio.profile import Profile
from ennead.survey.nets import Contact, Net, turned_nets
from ennead.survey.parts import Held, kept, part, renews


@part
def powered(
    nets: Mapping[Contact, Net], profiles: Mapping[UnitId, Profile]
) -> dict[tuple[UnitId, str], tuple[PortEnd, ...]]:
    """Return the sockets that feed 48 V to each socket of a panel, of a bay or of a split lead: the inputs on its conductors.

    A splitter's direct leg passes 48 V; what stands behind a transformer passes none.

    References
    ----------
    IEC 61938: P48 travels on the two conductors of the microphone line, through anything that only joins them.
    """
    found: dict[tuple[UnitId, str], tuple[PortEnd, ...]] = {}
    letter = LETTERS["units"]
    for net in {id(net): net for net in nets.values()}.values():
        if not net.receivers:
            continue
        sockets = [PortEnd(UnitId(k), p) for k, p, _ in net.receivers if k[:1] == letter]
        ends = tuple([s for s in sockets if s.port in profiles[s.unit].bank_of_port] or sockets)
        if not ends:
            continue
        alone = (ends[0].unit, ends[0].port) if len(ends) == 1 else None
        for key, port, lane in net.contacts:
            if lane == 1 and key[:1] == letter and (key, port) != alone:
                found[key, port] = ends  # type: ignore[index]
    return found


@renews(powered)
def _powered_again(
    was: Held, nets: Mapping[Contact, Net], profiles: Mapping[UnitId, Profile]
) -> dict[tuple[UnitId, str], tuple[PortEnd, ...]] | None:
    """Return them, found again in those nets that are not as they were."""
    then, known = was.reads
    if profiles is not known:
        return None
    old, new = turned_nets(nets, then)
    gone = {contact[:2] for net in (*old.values(), *new.values()) for contact in net.contacts if contact[2] == 1}
    before: dict[tuple[UnitId, str], tuple[PortEnd, ...]] = was.value
    found = {key: ends for key, ends in before.items() if key not in gone} if gone else before
    return kept(before, found | powered({net.contacts[0]: net for net in new.values()}, profiles))


@part
def powered_of(
    powered: Mapping[tuple[UnitId, str], tuple[PortEnd, ...]],
) -> dict[UnitId, dict[str, tuple[PortEnd, ...]]]:
    """Return the sockets that feed 48 V to the inputs of each unit, where it is not the socket itself."""
    found: dict[UnitId, dict[str, tuple[PortEnd, ...]]] = {}
    for (unit, port), ends in powered.items():
        found.setdefault(unit, {})[port] = ends
    return found
