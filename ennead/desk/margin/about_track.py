"""What the margin says of what the recording software does with a source, or with what a loop brings back."""

from ennead.desk.margin.notes import Fact
from ennead.edits.change import Change, change
from ennead.edits.tracks import set_track
from ennead.studio.errors import BadValue
from ennead.studio.ids import DestinationId
from ennead.studio.session import PlacedDestination, Source
from ennead.studio.tracks import Track
from ennead.survey.survey import Survey


def track_facts(survey: Survey, source: Source) -> list[Fact]:
    """Return what is stated of a source's track, to be changed."""
    now = survey.named("tracks").get(source.id, Track(source.id))
    loops = [(d.id, d.name) for d in survey.destinations if d.kind == "loop"]

    def said(**stated: object) -> Change:
        return change(f"State the track of {source.name}", set_track, source.id, **stated)

    facts = [
        Fact("Picked in the software", _text(now.picked), edit=lambda t: said(picked=_numbers(t))),
        Fact("Sent to outputs", _text(now.outputs), edit=lambda t: said(outputs=_numbers(t))),
        Fact("Armed", "", ticked=now.armed, edit=lambda on: said(armed=on == "1")),
        Fact("Monitored through the software", "", ticked=now.monitored, edit=lambda on: said(monitored=on == "1")),
    ]
    if loops or now.insert:
        choices = (("", "none"), *loops)
        facts.append(
            Fact("Insert", now.insert or "", choices, lambda key: said(insert=DestinationId(key) if key else None))
        )
    return facts


def print_facts(survey: Survey, loop: PlacedDestination) -> list[Fact]:
    """Return what is stated of the track that a loop is printed on, to be changed."""
    now = survey.named("tracks").get(loop.id, Track(loop.id))

    def said(**stated: object) -> Change:
        return change(f"State the printed track of {loop.name}", set_track, loop.id, **stated)

    facts = [
        Fact("Printed track sent to outputs", _text(now.outputs), edit=lambda t: said(outputs=_numbers(t))),
        Fact("Printed track armed", "", ticked=now.armed, edit=lambda on: said(armed=on == "1")),
        Fact("Printed track monitored", "", ticked=now.monitored, edit=lambda on: said(monitored=on == "1")),
    ]
    others = [(d.id, d.name) for d in survey.destinations if d.kind == "loop"]
    choices = (("", "none"), *others)
    facts.append(
        Fact(
            "Printed track's insert",
            now.insert or "",
            choices,
            lambda key: said(insert=DestinationId(key) if key else None),
        )
    )
    return facts


def _text(numbers: tuple[int, ...]) -> str:
    return ", ".join(str(n) for n in numbers)


def _numbers(text: str) -> tuple[int, ...]:
    words = text.replace(",", " ").replace("–", " ").replace("-", " ").split()
    try:
        return tuple([int(word) for word in words])
    except ValueError:
        raise BadValue("a driver number", text, "Type numbers, such as 15 or 15, 16; or nothing.") from None
