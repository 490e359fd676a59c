"""What the margin says about a source and its line."""

from ennead.desk.margin.about_track import track_facts
from ennead.desk.margin.notes import Deed, Fact, Notes
from ennead.desk.margin.source_wishes import wishes_of
from ennead.edits.as_built import tick_cable, untick_cable
from ennead.edits.cables import disconnect
from ennead.edits.change import Change, change, step
from ennead.edits.inner_channels import WITHOUT_SOCKET, hold_channels
from ennead.edits.session import change_source
from ennead.reports.cable_schedule import cable_state
from ennead.standards.rates import rate_text
from ennead.studio.house import Cable
from ennead.studio.ids import SourceId
from ennead.studio.inner_channels import InnerChannel
from ennead.studio.record import replace
from ennead.studio.session import KIND_LABELS, KINDS, PHANTOMS, Source
from ennead.survey.numbering import number_working
from ennead.survey.survey import Survey
from ennead.survey.traces import legs
from ennead.survey.words import gap_text


def about_source(survey: Survey, source_id: SourceId) -> Notes:
    """Return the notes about a source."""
    studio = survey.studio
    source = studio.source(source_id)

    def said(**facts: object) -> Change:
        return change(f"Change {source.name}", change_source, source_id, **facts)

    guess = "  (guessed)"
    facts = [
        Fact("Name", source.name, edit=lambda t: said(name=t)),
        Fact(
            "Kind" + guess * ("kind" in source.guessed),
            source.kind,
            tuple((k, KIND_LABELS[k]) for k in KINDS),
            lambda k: said(kind=k),
        ),
        Fact(
            "48 V" + guess * ("phantom" in source.guessed),
            source.phantom,
            tuple((p, p) for p in PHANTOMS),
            lambda p: said(phantom=p),
        ),
        Fact("Width", str(source.channels), (("1", "mono"), ("2", "stereo pair")), lambda c: said(channels=int(c))),
        Fact(
            "Place" + guess * ("place" in source.guessed),
            studio.places[source.place].name if source.place else "",
            edit=lambda t: said(place=t),
        ),
        Fact("Group", source.group, edit=lambda t: said(group=t)),
        Fact("Track", source.track, edit=lambda t: said(track=t)),
    ]
    if source.kind == "instrument":
        choices = (("", "none"), ("passive", "passive"), ("active", "active (48 V)"))
        facts.insert(3, Fact("DI box", source.di, choices, lambda d: said(di=d)))
    facts += _inside_facts(survey, source)
    facts.append(Fact("Stays put", "", edit=lambda on: said(pinned=on == "1"), ticked=source.pinned))
    cables = source_cables(survey, source)
    return Notes(
        source.name,
        f"{'stereo' if source.channels == 2 else 'mono'} {KIND_LABELS[source.kind]}",
        tuple(facts),
        _deeds(survey, source, cables),
        source_working(survey, source),
        (*track_facts(survey, source), *wishes_of(survey, source, said)),
        "Track, wishes and levels",
    )


def _inside_facts(survey: Survey, source: Source) -> list[Fact]:
    """Return by which driver numbers without a socket a source comes in, where it has no cable and the computer has such numbers."""
    studio = survey.studio
    if source.kind not in WITHOUT_SOCKET or source_cables(survey, source):
        return []
    held = {one for other in studio.session_sources if other.id != source.id for one in other.inside}
    at = {
        InnerChannel(d.unit, d.channel.block.key, d.channel.index - d.channel.block_first + 1): d
        for d in survey.numbering.inputs
        if not d.channel.port and d.channel.live
    }
    runs = [tuple([replace(one, channel=one.channel + n) for n in range(source.channels)]) for one in at]
    free = {str(at[run[0]].number): run for run in runs if all(one in at and one not in held for one in run)}
    now = next((key for key, run in free.items() if run == source.inside), "")
    if not free:
        return []
    names = {
        key: f"{'–'.join(str(at[one].number) for one in run)} · {at[run[0]].channel.block.label}"
        for key, run in free.items()
    }
    text = f"Let {source.name} come in without a socket"
    return [
        Fact(
            "Without a socket",
            now,
            (("", "no, by a cable"), *names.items()),
            lambda key: change(text, hold_channels, source.id, free.get(key, ())),
        )
    ]


def source_cables(survey: Survey, source: Source) -> list[Cable]:
    """Return the cables a source is on."""
    found = [survey.leads.get((source.id, c)) for c in range(1, source.channels + 1)]
    return [c for c in found if c is not None]


def _deeds(survey: Survey, source: Source, cables: list[Cable]) -> tuple[Deed, ...]:
    if not cables:
        if source.id not in survey.held_inside:
            return ()
        text = f"Let {source.name} go of its number"
        return (Deed("Let go of its number", change(text, hold_channels, source.id, ())),)
    studio = survey.studio
    built = all(cable_state(studio, c) == "as built" for c in cables)
    deeds = []
    if not built:
        ticks = tuple(step(tick_cable, c.id) for c in cables)
        deeds.append(Deed("Tick as wired", Change(f"Tick {source.name} as wired", ticks)))
    elif all(c.id in studio.stood for c in cables):
        ticks = tuple(step(untick_cable, c.id) for c in cables)
        deeds.append(Deed("Not wired after all", Change(f"Untick {source.name}", ticks)))
    deeds.append(Deed("Why is it here?", wish="why_here"))
    deeds.append(Deed("Unplug", Change(f"Unplug {source.name}", tuple(step(disconnect, c.id) for c in cables))))
    return tuple(deeds)


def source_working(survey: Survey, source: Source) -> tuple[str, ...]:
    """Return the way and the arithmetic behind each driver number of a source."""
    studio, lines = survey.studio, []
    for run in survey.signal_paths:
        if run.source != source.id:
            continue
        taken = [s.cable for s in run.stops if s.cable and s.cable in survey.in_use]
        lines += [f"{c}: {' → '.join(studio.ends_text(survey.in_use[c]))}" for c in taken]
        if run.driver is not None:
            view = survey.views[run.driver.unit]
            lines += number_working(run.driver, view, studio.units, rate_text(survey.rate_hz))
            if run.latency_samples is not None:
                ms = run.latency_samples / survey.rate_hz * 1000
                sums = [
                    (s.unit, survey.views[s.unit].profile.port_by_key[s.port].delay_samples(survey.views[s.unit].speed))
                    for s in run.stops
                    if s.unit
                ]
                terms = " + ".join(f"{late:g}" for _, late in sums if late)
                lines.append(f"delay in: {terms} = {run.latency_samples:g} samples = {ms:.3f} ms")
                lines.append("A/D and link delays as the profiles state them")
            for also in legs(survey, run):
                if also.driver is not None:
                    lines.append(
                        f"also at driver in {also.driver.number} · {studio.units[also.driver.unit].name}: the source is"
                        " split"
                    )
        elif run.gap is not None:
            lines.append(gap_text(survey, run))
        if run.driver is None or source.channels == 1:
            break
    return tuple(lines)
