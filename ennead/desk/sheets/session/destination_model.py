"""The list of what goes out as a table model: a line a destination."""

from typing import TYPE_CHECKING, Any, ClassVar

from ennead.desk.sheets.session.lines_model import LinesModel
from ennead.studio.ids import DestinationId
from ennead.studio.session import DESTINATION_KINDS, DESTINATION_LABELS, Destination
from ennead.studio.widths import width_text

if TYPE_CHECKING:
    from ennead.edits.change import Change


class DestinationModel(LinesModel):
    """Destinations of the current session."""

    columns: ClassVar = (
        ("", "", "000"),
        ("goes out to", "name", ""),
        ("kind", "kind", "main loudspeakers"),
        ("width", "channels", "stereo"),
        ("place", "place", "Control room"),
        ("outputs", "outputs", "Harbour Line out 1–2"),
    )
    kind: ClassVar = "destination"
    first_words: ClassVar = "type who or what hears: main loudspeakers, a cue, a send, click, a loop"
    next_words: ClassVar = "next destination"
    read_only: ClassVar = frozenset({"outputs"})
    typed_freely: ClassVar = frozenset({"channels"})

    def items(self) -> tuple[Destination, ...]:
        return self._table.studio.session_destinations

    def find(self, key: Any) -> Destination | None:
        return self._table.studio.destinations.get(key)

    def choices_of(self, column: int) -> dict[str, Any]:
        choices: dict[str, dict[str, Any]] = {
            "kind": {DESTINATION_LABELS[k]: k for k in DESTINATION_KINDS},
            "channels": dict.fromkeys(("mono", "stereo", "mono out, stereo back", "16 out, 2 back")),
        }
        return choices.get(self.columns[column][1], {})

    def text_of(self, item: Destination, field: str) -> str:
        from ennead.reports.out_rows import sockets_text

        return {
            "name": item.name,
            "kind": DESTINATION_LABELS[item.kind],
            "channels": width_text(item),
            "place": self._place_text(item),
            "outputs": sockets_text(self._table.studio, self._table.survey.placed(item.id).outputs) or "–",
        }.get(field, "")

    def adding(self, text: str) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.destinations import add_destination
        from ennead.planning.boxes.guessing import guess_destination

        return change(f"Add {text[:40]}", add_destination, text, **guess_destination(text))

    def changing(self, item: Destination, **facts: Any) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.destinations import change_destination, set_width

        if "channels" in facts:
            return change(f"Change {item.name}", set_width, item.id, facts["channels"])
        return change(f"Change {item.name}", change_destination, item.id, **facts)

    def removing(self, keys: list[DestinationId]) -> "Change":
        from ennead.edits.change import Change, step
        from ennead.edits.destinations import remove_destination

        one = self._table.studio.destinations[keys[0]].name
        label = f"Remove {one}" if len(keys) == 1 else f"Remove {len(keys)} destinations"
        return Change(label, tuple(step(remove_destination, d) for d in keys))

    def moving(self, item: Destination, to: int) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.destinations import move_destination

        return change(f"Move {item.name}", move_destination, item.id, to)
