"""The sources of which more is stated than name and kind: most say nothing more, and the rules about them cost nothing then."""

from collections.abc import Iterator
from typing import NamedTuple

from ennead.studio.house import Lead, Unit
from ennead.studio.ids import SourceId
from ennead.studio.profile import Port
from ennead.studio.session import Source
from ennead.survey.signal_paths import SignalPath
from ennead.survey.survey_interface import Parts


class StatedSources(NamedTuple):
    """Sources by what is stated of them.

    Parameters
    ----------
    levels : tuple of Source
        With a level, a sensitivity, a loudest sound or an impedance.
    wishes : tuple of Source
        Wanted on a preamp or outboard.
    coherent : tuple of Source
        Marked as in step with their group.
    pinned : tuple of Source
    active : tuple of Source
        Behind an active DI box.
    ribbons : tuple of Source
    digital : tuple of Source
    important : tuple of Source
        Those that must be in.
    bare : tuple of Source
        Instruments without a DI box.
    """

    levels: tuple[Source, ...]
    wishes: tuple[Source, ...]
    coherent: tuple[Source, ...]
    pinned: tuple[Source, ...]
    active: tuple[Source, ...]
    ribbons: tuple[Source, ...]
    digital: tuple[Source, ...]
    important: tuple[Source, ...]
    bare: tuple[Source, ...]


def stated(survey: Parts) -> StatedSources:
    """Return the current session's sources by what is stated of them."""
    return survey.once(_sort)


class PluggedLevel(NamedTuple):
    """A source with a stated level, and the input it is plugged into."""

    source: Source
    cable: Lead
    port: Port
    unit: Unit


def plugged_levels(survey: Parts) -> Iterator[PluggedLevel]:
    """Yield the plugged sources with a stated level."""
    for source in stated(survey).levels:
        cable = survey.leads.get((source.id, 1))
        if cable is not None:
            yield PluggedLevel(source, cable, survey.port(cable.end), survey.units[cable.end.unit])


def _sort(survey: Parts) -> StatedSources:
    sources = survey.sources
    # Most sources state nothing; what is asked of few is asked of these alone.
    said = [s for s in sources if s.pinned or s.coherent or s.preamp or s.outboard is not None or s.priority == "must"]
    kinds = [s for s in sources if s.kind in ("instrument", "digital", "ribbon")]
    return StatedSources(
        tuple(
            [
                s
                for s in sources
                if s.level_dbu is not None or s.sensitivity_mv_pa is not None or s.impedance_ohm is not None
            ]
        ),
        tuple([s for s in said if s.preamp or s.outboard is not None]),
        tuple([s for s in said if s.coherent and s.group]),
        tuple([s for s in said if s.pinned]),
        tuple([s for s in sources if s.di == "active"]),
        tuple([s for s in kinds if s.kind == "ribbon"]),
        tuple([s for s in kinds if s.kind == "digital"]),
        tuple([s for s in said if s.priority == "must"]),
        tuple([s for s in kinds if s.kind == "instrument" and not s.di]),
    )


#: A source, the cable by which a channel of it is plugged in, and the socket it is in.
Seated = tuple[Source, Lead, Port]


def seated(survey: Parts) -> tuple[Seated, ...]:
    """Return every channel that is plugged in, worked out once for all rules that ask."""
    return survey.once(_seated)


def _seated(survey: Parts) -> tuple[Seated, ...]:
    sources, profiles = survey.source_by_id, survey.profiles
    return tuple(
        [
            (sources[key], cable, profiles[cable.end.unit].port_by_key[cable.end.port])
            for (key, _), cable in survey.leads.items()
        ]
    )


def paths_by_source(survey: Parts) -> dict[SourceId, list[SignalPath]]:
    """Return the runs of each source, worked out once for all rules that ask."""
    return survey.once(_by_source)


def _by_source(survey: Parts) -> dict[SourceId, list[SignalPath]]:
    found: dict[SourceId, list[SignalPath]] = {}
    for run in survey.signal_paths:
        if run.of is not None:
            found.setdefault(run.of.id, []).append(run)
    return found
