"""From older forms to the present one: one function a version, from the interchange form to the interchange form."""

from collections.abc import Callable
from typing import Any, Final

from ennead.files.rows import FORMAT_VERSION

Form = dict[str, Any]


def _two(form: Form) -> Form:
    """Form 2: profiles state levels, power and bus, computers their sockets; all of it may be left out."""
    return {**form, "version": 2}


def _three(form: Form) -> Form:
    """Form 3: termination, rate switch and stored routing of units, grade of cables; all of it may be left out."""
    return {**form, "version": 3}


def _four(form: Form) -> Form:
    """Form 4: where sound goes out, and what else a source and a session may wish for."""
    return {**form, "version": 4, "destinations": [], "prices": {}}


def _five(form: Form) -> Form:
    """Form 5: sessions off their rate or without monitors, boxes beside a computer's interfaces or chained; all may be left out."""
    return {**form, "version": 5}


#: By the version a function starts from.
_STEPS: Final[dict[int, Callable[[Form], Form]]] = {1: _two, 2: _three, 3: _four, 4: _five}


def migrated(form: Form) -> Form:
    """Return an older document in the present form; what is wrong with it is found when it is read."""
    while form.get("version") in _STEPS and form["version"] < FORMAT_VERSION:
        form = _STEPS[form["version"]](form)
    return form
