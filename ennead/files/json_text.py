"""JSON read strictly: no NaN, no Infinity, no number or text that could not be written again."""

import json
import math
from typing import Any, Final, NoReturn

#: Digits of the longest whole number a studio holds; counters are far below.
_MOST_DIGITS: Final = 18


class NotJson(ValueError):
    """A text that is no JSON, or holds what JSON has no word for; the message begins in lower case."""


def loads(text: str | bytes) -> Any:
    """Return the value of a JSON text.

    Raises
    ------
    NotJson

    References
    ----------
    RFC 8259: numbers are finite, texts are sequences of Unicode scalar values.
    """
    try:
        value = json.loads(text, parse_constant=_no_constant, parse_int=_whole, parse_float=_fraction)
    except NotJson:
        raise
    except (ValueError, RecursionError) as error:
        raise NotJson(f"it is no JSON ({error})") from None
    # Halves of surrogate pairs only come in by their escapes.
    if ("\\u" if isinstance(text, str) else b"\\u") in text:  # type: ignore[operator]
        _check_texts(value)
    return value


def _no_constant(name: str) -> NoReturn:
    raise NotJson(f"{name} is no number in JSON")


def _whole(text: str) -> int:
    if len(text) > _MOST_DIGITS:
        raise NotJson(f"a whole number with {len(text)} digits is longer than any in a studio")
    return int(text)


def _fraction(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise NotJson(f"the number {text[:20]} is too large")
    return value


def _check_texts(value: Any) -> None:
    waiting = [value]
    while waiting:
        here = waiting.pop()
        if isinstance(here, str):
            try:
                here.encode()
            except UnicodeEncodeError:
                raise NotJson("a text in it holds half a character") from None
        elif isinstance(here, dict):
            waiting += [*here, *here.values()]
        elif isinstance(here, list):
            waiting += here
