"""The survey of one studio: its parts, each worked out when first asked for and kept while what it reads is unchanged."""

from collections.abc import Callable, Iterator, Mapping
from functools import cached_property
from typing import Any, TypeVar

from ennead.studio.document import Studio
from ennead.studio.errors import UnknownObject
from ennead.studio.ids import DestinationId
from ennead.studio.session import PlacedDestination

# Every module with parts is read here, so that each is known by its name.
from ennead.survey import (  # noqa: F401
    arrival_numbers,
    balance,
    behind,
    clock,
    destination_leads,
    input_points,
    links,
    loops,
    nets,
    normals,
    numbering,
    output_points,
    paths_onward,
    paths_out,
    placed,
    powered,
    rings,
    session_paths,
    sorted_cables,
    split_paths,
    strands,
    unit_view,
)
from ennead.survey.faults import changed
from ennead.survey.parts import PARTS, Held, Part, forget_compared, kept, work_out
from ennead.survey.survey_interface import Parts
from ennead.survey.view import PLAN, Standing, View, standing_of
from ennead.survey.wiring import FIELDS, RENEWED_FIELDS, Wiring

T = TypeVar("T")

_latest: list["Survey"] = []


def wiring(studio: Studio, view: View = PLAN) -> Wiring:
    """Return what of the house is there in a view of it.

    Raises
    ------
    UnknownObject
        If there is no such session, or no such scene.
    """
    return Survey(studio, view=view).wiring


def survey_of(studio: Studio) -> "Survey":
    """Return a survey of a studio for an edit that has to know where something hangs; it rests on the one asked for last."""
    last = _latest[-1] if _latest else None
    if last is None or last.studio is not studio:
        last = Survey(studio, last)
        _latest[:] = [last]
    return last


class Survey(Parts):
    """Everything that follows from a studio.

    Parameters
    ----------
    studio : Studio
    view : View
        The plan of the current session in its scene, where nothing else is said.
    laid : Wiring, optional
        A wiring to work from instead of that of the view: what the studio would come to with something changed in it.
    previous : Survey, optional
        The survey of the studio before an edit. A part is taken over from it when every object it read is
        still the very same object; and a part that comes out as it was stays the very same object, so that
        what reads it is kept as well.
    """

    def __init__(
        self, studio: Studio, previous: "Survey | None" = None, view: View = PLAN, laid: Wiring | None = None
    ) -> None:
        self.studio, self.view, self._laid = studio, view, laid
        self.session = studio.session_of(view.session) if view.session is not None else studio.current
        if view.scene and view.scene not in studio.scenes:
            raise UnknownObject("scene", view.scene)
        self._held: dict[Any, Held] = {}
        if previous is None:
            forget_compared()
        # What the survey before was not asked for may be older still: it is good as long as its reads are the same.
        self._before: Mapping[Any, Held] = {**previous._before, **previous._held} if previous is not None else {}  # noqa: SLF001

    def named(self, name: str) -> Any:
        """Return a part, or a field of the wiring, by its name."""
        held = self._held.get(name)
        if held is None:
            part = PARTS.get(name)
            if part is None:
                value = self._field(name, len(self.view.faults)) if self._laid is None else getattr(self._laid, name)
                held = Held((), value, {})
            else:
                held = work_out(part, tuple([self.named(r) for r in part.reads]), self._before.get(name))
            self._held[name] = held
        return held.value

    def _field(self, name: str, faults: int) -> Any:
        """Return a field of the wiring with so many of the view's faults in it."""
        if faults:
            value = self._field(name, faults - 1)
            return changed(self.view.faults[faults - 1], name, value, lambda other: self._field(other, faults - 1))
        key = "of the document", name
        held = self._held.get(key)
        if held is None:
            part = FIELD_PARTS[name]
            reads = tuple([self._of_document(r) for r in part.reads])
            held = self._held[key] = work_out(part, reads, self._before.get(key))
        return held.value

    def _of_document(self, name: str) -> Any:
        """Return what a field of the wiring is read from."""
        studio, view = self.studio, self.view
        if name == "at_hand":
            return self.session
        if name == "at_scene":
            return studio.scenes.get(view.scene if view.scene is not None else self.session.scene)
        if name == "standing_now":
            return self._standing
        return view.rate_hz if name == "rate" else getattr(studio, name)

    @cached_property
    def _standing(self) -> Standing | None:
        return standing_of(self.studio) if self.view.standing else None

    def once(self, make: Callable[[Parts], T]) -> T:
        """Return what a function makes of the parts, made anew only where one that it asked for is another."""
        held = self._held.get(make)
        if held is None:
            was = self._before.get(make)
            if was is not None and all(self._again(asked) is answer for asked, answer in was.reads):
                held = was
            else:
                reading = Reading(self)
                value: Any = make(reading)
                if isinstance(value, Iterator):
                    value = tuple(value)
                held = Held(reading.notes, value if was is None else kept(was.value, value), {})
            self._held[make] = held
        found: T = held.value
        return found

    def placed(self, destination: DestinationId) -> PlacedDestination:
        """Return a destination, of whatever session, with the sockets it has on this one.

        Raises
        ------
        UnknownObject
        """
        return self.destination_by_id.get(destination) or placed.place(self, self.studio.destination(destination))

    def _again(self, asked: Any) -> Any:
        return self.named(asked) if isinstance(asked, str) else self.once(asked)


class Reading(Parts):
    """A survey as a rule sees it: every part it asks for is noted, so that no read can be forgotten; the studio is out of sight."""

    def __init__(self, survey: Survey) -> None:
        self._survey = survey
        self._asked: dict[Any, Any] = {}

    @property
    def notes(self) -> tuple[tuple[Any, Any], ...]:
        """What was asked for, each with its answer, in the order in which it was first asked for."""
        return tuple(self._asked.items())

    def named(self, name: str) -> Any:
        """Return a part, or a field of the wiring, by its name."""
        found = self._asked.get(name)
        if found is None:
            found = self._asked[name] = self._survey.named(name)
        return found

    def once(self, make: Callable[[Parts], T]) -> T:
        """Return what a function makes of the parts, made anew only where one that it asked for is another."""
        found: T | None = self._asked.get(make)
        if found is None:
            found = self._asked[make] = self._survey.once(make)
        return found


#: The fields of the wiring, read from the document.
FIELD_PARTS: Mapping[str, Part] = {
    name: Part(
        name, make, tuple(make.__code__.co_varnames[: make.__code__.co_argcount]), renew=RENEWED_FIELDS.get(name)
    )
    for name, make in FIELDS.items()
}
