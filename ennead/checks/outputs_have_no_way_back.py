"""Optical is one way: an expander's outputs stay dead unless a second fibre runs back."""

from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.survey.survey import Survey


def check(survey: Survey) -> Iterator[Finding]:
    """Yield a note for every expander that sends to an interface but gets nothing back for its own outputs."""
    studio = survey.studio
    for unit in studio.units.values():
        profile = studio.profiles[unit.profile]
        fed = {k for path in profile.inner_paths for k in path.to_ports if not profile.port_by_key[k].is_digital}
        feeds = {
            k
            for path in profile.inner_paths
            if set(path.to_ports) & fed
            for k in path.from_ports
            if profile.port_by_key[k].is_digital
        }
        sends = [n for n in survey.links.values() if n.start.unit == unit.id and n.digital and n.lanes_out]
        if not feeds or not sends or any(n.end.unit == unit.id and n.end.port in feeds for n in survey.links.values()):
            continue
        back = profile.port_by_key[min(feeds)].label
        yield Finding(
            "outputs_have_no_way_back",
            "note",
            "Rig",
            unit.id,
            (unit.id,),
            f"{unit.name}'s {len(fed)} outputs stay silent: no cable comes back to its {back}.",
            "A fibre carries sound one way only. If you need these outputs, run a second fibre back.",
            (),
            (f"out of {unit.name}: {len(sends)} digital cable; into {back}: none",),
        )
