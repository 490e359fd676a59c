"""What a loop's box is wired to is where the loop comes back, whatever the plan says."""

from collections.abc import Iterator

from ennead.checks.finding import Finding, Fix, at
from ennead.edits.change import change
from ennead.edits.destinations import send_out
from ennead.studio.subjects import subject_of
from ennead.survey.interrupted import interruption
from ennead.survey.placed import all_backs, boxes_behind, come_back, lanes_of
from ennead.survey.survey_interface import Parts


def check(survey: Parts) -> Iterator[Finding]:
    """Yield trouble for every loop with a box that is wired to another input than the stated return, or to none at all."""
    for loop in survey.destinations:
        if loop.kind != "loop" or not loop.at:
            continue
        if not (loop.outputs and loop.returns) and interruption(survey, loop) is not None:
            continue
        boxes = boxes_behind(survey, loop.at)
        names = " and ".join(survey.units[u].name for u in boxes)
        wired = come_back(survey, list(lanes_of(loop.at)))
        there = tuple(end for end in wired if end is not None)
        if not loop.goes_straight:
            # Of what comes back beside what is stated, nothing is said: one listens to no more.
            found = all_backs(survey, lanes_of(loop.at))
            there = loop.returns if set(loop.returns) <= set(found) and loop.returns else tuple(found[: loop.backs])
        if boxes and len(there) < (len(wired) if loop.goes_straight else 1):
            yield Finding(
                "loop_wired_otherwise",
                "trouble",
                subject_of(loop.id),
                (loop.id, *boxes),
                f"{loop.name} goes out to {names}, and nothing brings it back.",
                "The track that listens for it stays silent. Run a cable from the last box to an input.",
                (),
                (
                    f"out by {', '.join(survey.end_text(e) for e in loop.outputs) or 'nothing'}",
                    "back: no cable leaves the last box",
                ),
                cause=at(*loop.at),
            )
        elif boxes and loop.returns and there != loop.returns and len(there) == loop.backs:
            said, is_ = (", ".join(survey.end_text(e) for e in ends) for ends in (loop.returns, there))
            text = f"Say that {loop.name} comes back by {is_}"
            yield Finding(
                "loop_wired_otherwise",
                "trouble",
                subject_of(loop.id),
                (loop.id, *boxes),
                f"{loop.name} is said to come back by {said}, but {names} is wired to {is_}.",
                "You would record silence, or somebody else.",
                (Fix(text, change(text, send_out, loop.id, loop.outputs, there)),),
                (f"plan: {said}", f"cables: {is_}"),
                cause=at(*loop.at, *there),
            )
