"""Report the clock leader and followers, and rank the other possible leaders."""

import argparse
from typing import Any

from ennead.cli.studio_argument import add_studio, survey_of
from ennead.cli.terminal import print_json, say
from ennead.planning.clock.clock_plan import POLICIES, Alternative, ClockPlan, consequences, forced, menus, plan_clock
from ennead.planning.clock.clock_ways import pulled_text, way_text
from ennead.studio.errors import BadValue, EnneadError
from ennead.survey.clock import Domain
from ennead.survey.survey import Survey


class NoClock(EnneadError):
    """A studio in which nothing runs on a sample clock."""

    def __str__(self) -> str:
        return "There is no digital unit in this studio, so there is no clock to plan. Add an interface first."


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    add_studio(verb, standing=True)
    verb.add_argument("--policy", choices=POLICIES, default="fewest", help="which choice is put first")
    verb.add_argument("--hops", metavar="N", type=int, help="the longest way from the leader that is allowed")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb; of several domains the largest comes first, the others after it."""
    if args.hops is not None and args.hops < 1:
        raise BadValue("the number of hops", args.hops, "Allow at least 1.")
    survey = survey_of(args)
    domains = sorted(survey.clocks.domains, key=lambda d: -len(d.units))
    if not domains:
        raise NoClock
    rows = [_row(survey, domain, plan_clock(survey, domain, args.policy, hops=args.hops)) for domain in domains]
    if args.json:
        print_json({**rows[0], "others": rows[1:]})
        return 0
    for row in rows:
        say(f"{row['leader'] or 'nobody'} leads" + ("" if row["locked"] else "; not everybody is locked"))
        for unit, source in row["sources"].items():
            hops = row["hops"].get(unit)
            say(f"    {unit}: {source}" + (f", hop {hops}" if hops else ""))
        for alternative in row["alternatives"]:
            cables = "; ".join(alternative["cables_to_add"]) or "no cable to add"
            cables += "".join(f"; to pull: {text}" for text in alternative["cables_to_pull"])
            say(f"  could lead: {alternative['leader']} ({cables})")
        if row["forced"]:
            say(f"  {row['forced']}")
        for unit, why in row["cannot_lead"].items():
            say(f"  cannot lead: {unit}. {why}")
    return 0


def _row(survey: Survey, domain: Domain, plan: ClockPlan) -> dict[str, Any]:
    studio, clocks = survey.studio, survey.clocks.by_unit
    names = {u: studio.units[u].name for u in domain.units}
    leader = names[domain.leaders[0]] if len(domain.leaders) == 1 else None
    sources = {names[u]: _source(survey, u) for u in domain.units}
    return {
        "leader": leader,
        "locked": leader is not None and domain.all_locked,
        "hops": {names[u]: clocks[u].hops for u in domain.units if clocks[u].hops >= 0},
        "sources": sources,
        "alternatives": [_alternative(survey, a) for a in plan.alternatives],
        "forced": forced(survey, plan),
        "cannot_lead": {studio.units[u].name: why for u, why in plan.cannot_lead.items()},
    }


def _source(survey: Survey, unit: str) -> str:
    source = survey.settings[unit].clock_source  # type: ignore[index]
    entry = survey.profiles[unit].clock_source(source)  # type: ignore[index]
    return entry.label if entry is not None else source


def _alternative(survey: Survey, alternative: Alternative) -> dict[str, Any]:
    return {
        "leader": survey.studio.units[alternative.leader].name,
        "cables_to_add": [way_text(survey, way) for way in alternative.added],
        "cables_to_pull": [pulled_text(survey, way.pulls) for way in alternative.added if way.pulls is not None],
        "menus": {survey.studio.units[u].name: menu for u, menu in menus(survey, alternative).items()},
        "max_hops": alternative.most_hops,
        "score": alternative.tree.cost,
        "consequences": list(consequences(survey, alternative)),
    }
