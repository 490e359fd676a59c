"""More cords in a scene than there are."""

from collections import Counter
from collections.abc import Iterator

from ennead.checks.finding import Finding
from ennead.studio.subjects import subject_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble where a scene has more cords than were counted, all together or of one colour."""
    stock, cords = survey.at_the_bays.stock, survey.cords
    if not stock or not cords:
        return
    scene = survey.at_the_bays.scene
    total = sum(kind.count for kind in stock)
    short = [(f"{len(cords)} cords, and there are {total}", len(cords) - total)] if len(cords) > total else []
    there = Counter({colour: sum(k.count for k in stock if k.colour == colour) for colour in {k.colour for k in stock}})
    for colour, count in Counter(c.colour for c in cords if c.colour).items():
        if count > there[colour]:
            short.append((f"{count} {colour} cords, and there are {there[colour]}", count - there[colour]))
    for text, lack in short:
        yield Finding(
            "cords_beyond_stock",
            "trouble",
            subject_of(cords[-1].id),
            tuple(c.id for c in cords),
            f"{scene} wants {text}.",
            f"{lack} of its lines cannot be patched tonight. Wire the everyday ones as normals, or count the cords"
            " anew.",
            (),
            tuple(f"{k.count} of {k.length_m:g} m{f', {k.colour}' if k.colour else ''}" for k in stock),
        )
