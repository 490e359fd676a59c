"""The three parts of the margin as plain data: what it is, what is wrong, working."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ennead.edits.change import Change


@dataclass(frozen=True, slots=True)
class Fact:
    """One line of *what it is*.

    Parameters
    ----------
    choices : tuple of (key, label)
        Where the value is one of several.
    edit : callable, optional
        Takes the new text or key and returns the change; a fact without it is only read.
    """

    label: str
    value: str
    choices: tuple[tuple[str, str], ...] = ()
    edit: Callable[[str], Change] | None = None
    ticked: bool | None = None


@dataclass(frozen=True, slots=True)
class Deed:
    """A button of *what it is*.

    Parameters
    ----------
    wish : str
        Name of a question that the window asks, where there is no change.
    """

    text: str
    change: Change | None = None
    wish: str = ""


@dataclass(frozen=True, slots=True)
class Notes:
    """What the margin says about one selection.

    Parameters
    ----------
    more : tuple of Fact
        Facts that come after what is wrong, under a heading of their own.
    """

    title: str
    below: str = ""
    facts: tuple[Fact, ...] = ()
    deeds: tuple[Deed, ...] = ()
    working: tuple[str, ...] = field(default=())
    more: tuple[Fact, ...] = ()
    more_title: str = ""
