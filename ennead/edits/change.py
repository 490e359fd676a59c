"""A named change: one or several edits that are done, undone and redone as one."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from ennead.edits.set_aside import with_subjects_that_are_there
from ennead.studio.document import Studio

Edit = Callable[[Studio], Studio]


@dataclass(frozen=True, slots=True)
class Change:
    """Edits applied one after the other under one name.

    Parameters
    ----------
    label : str
        What the Edit menu says, in the imperative: ``Connect Slipway to Pier``.
    """

    label: str
    steps: tuple[Edit, ...]

    def apply(self, studio: Studio) -> Studio:
        """Return the studio after all steps; if one raises, nothing has happened."""
        for step in self.steps:
            studio = step(studio)
        return with_subjects_that_are_there(studio) if studio.set_aside else studio


def change(label: str, edit: Callable[..., Studio], *args: Any, **kwargs: Any) -> Change:
    """Return a change of one edit with its arguments filled in."""
    return Change(label, (step(edit, *args, **kwargs),))


def step(edit: Callable[..., Studio], *args: Any, **kwargs: Any) -> Edit:
    """Return an edit with everything but the studio filled in."""
    return partial(_call, edit, args, kwargs)


def _call(edit: Callable[..., Studio], args: tuple[Any, ...], kwargs: dict[str, Any], studio: Studio) -> Studio:
    return edit(studio, *args, **kwargs)
