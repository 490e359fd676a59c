"""A scene in which a loop over a bay is closed past its boxes, by one cord a channel, to calibrate it."""

from ennead.edits.change import Change, Edit, step
from ennead.edits.scenes import add_scene, lay_cord, pull_cord
from ennead.studio.errors import BadValue
from ennead.studio.house import PortEnd
from ennead.survey.bypass_points import bypass_points
from ennead.survey.circuits import Circuit
from ennead.survey.survey import Survey


def bypass_scene(survey: Survey, circuit: Circuit) -> Change:
    """Return the change that lays a new scene: the cords of the present one, but one cord past the boxes of each channel.

    Raises
    ------
    BadValue
        If a channel meets no bay on its way out or back.
    """
    points = [bypass_points(survey, channel) for channel in circuit.channels]
    pairs = [pair for pair in points if pair is not None]
    name = circuit.loop.name
    if not pairs or len(pairs) < len(points):
        raise BadValue(f"{name} past its boxes", "no bay on the way", "Join the two plugs of its box by a cable.")
    taken = {point for pair in pairs for point in pair}
    cords: dict[PortEnd, PortEnd] = {}
    for out, back in pairs:
        # One plug a point: of a mono send into two returns, the first return.
        if out not in cords and back not in cords.values():
            cords[out] = back
    studio = survey.studio
    steps: list[Edit] = [step(add_scene, _free_name(survey, f"{name} past its boxes"), studio.scene or None)]
    # The cords of the copy have numbers of their own, which follow on those the document has given out.
    copied = add_scene(studio, _free_name(survey, name), studio.scene or None).cords
    steps += [step(pull_cord, cord.id) for cord in copied if taken.intersection(cord.plugs)]
    steps += [step(lay_cord, out, back) for out, back in cords.items()]
    return Change(f"Close {name} past its boxes", tuple(steps))


def _free_name(survey: Survey, name: str) -> str:
    names = {scene.name for scene in survey.studio.scenes.values()}
    return next(n for n in (name, *[f"{name} {k}" for k in range(2, len(names) + 3)]) if n not in names)
