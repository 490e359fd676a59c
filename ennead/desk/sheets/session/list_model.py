"""The input list as a table model: a line a source."""

from typing import TYPE_CHECKING, Any, ClassVar

from ennead.desk.sheets.session.lines_model import LinesModel
from ennead.studio.ids import SourceId
from ennead.studio.session import KIND_LABELS, KINDS, PHANTOMS, Source

if TYPE_CHECKING:
    from ennead.edits.change import Change


class ListModel(LinesModel):
    """Sources of the current session."""

    columns: ClassVar = (
        ("", "", "000"),
        ("source", "name", ""),
        ("kind", "kind", "condenser mic ?"),
        ("48 V", "phantom", "tolerated ?"),
        ("width", "channels", "stereo ?"),
        ("place", "place", "Control room"),
        ("group", "group", "Quartet"),
    )
    kind: ClassVar = "source"
    first_words: ClassVar = "type the first source, or paste a whole list (Ctrl+V)"
    next_words: ClassVar = "next source"
    #: The session's sources as they were last looked up, by id.
    _found: tuple[tuple[Source, ...], dict[SourceId, Source]] = ((), {})

    def items(self) -> tuple[Source, ...]:
        return self._table.studio.session_sources

    def find(self, key: Any) -> Source | None:
        sources = self.items()
        if self._found[0] is not sources:
            self._found = sources, {source.id: source for source in sources}
        return self._found[1].get(key)

    def choices_of(self, column: int) -> dict[str, Any]:
        choices: dict[str, dict[str, Any]] = {
            "kind": {KIND_LABELS[k]: k for k in KINDS},
            "phantom": {p: p for p in PHANTOMS},
            "channels": {"mono": 1, "stereo": 2},
        }
        return choices.get(self.columns[column][1], {})

    def guessed(self, item: Source) -> tuple[str, ...]:
        return item.guessed

    def text_of(self, item: Source, field: str) -> str:
        return {
            "name": item.name,
            "kind": KIND_LABELS[item.kind],
            "phantom": item.phantom,
            "channels": "stereo" if item.channels == 2 else "mono",
            "place": self._place_text(item),
            "group": item.group,
        }.get(field, "")

    def adding(self, text: str) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.session import add_source
        from ennead.planning.boxes.guessing import guess

        facts = guess(text, (p.name for p in self._table.studio.places.values()))
        last = self.item_at(len(self._ids) - 1)
        if last is not None:
            # What stands above goes on, unless the name itself names a place.
            facts = {"place": last.place, "group": last.group} | facts
        return change(f"Add {text[:40]}", add_source, text, **facts)

    def changing(self, item: Source, **facts: Any) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.session import change_source

        return change(f"Change {item.name}", change_source, item.id, **facts)

    def removing(self, keys: list[SourceId]) -> "Change":
        from ennead.edits.change import Change, step
        from ennead.edits.session import remove_source

        one = self._table.studio.sources[keys[0]].name
        label = f"Remove {one}" if len(keys) == 1 else f"Remove {len(keys)} sources"
        return Change(label, tuple(step(remove_source, s) for s in keys))

    def moving(self, item: Source, to: int) -> "Change":
        from ennead.edits.change import change
        from ennead.edits.session import move_source

        return change(f"Move {item.name}", move_source, item.id, to)
