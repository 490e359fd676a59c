"""The scenes, one beside the other, the current one underlined."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QInputDialog,
    QMenu,
    QPushButton,
    QWidget,
)

from ennead.desk.shell.worktable import Worktable
from ennead.desk.widgets.plain_tip import plain_tip
from ennead.drawings.painters.theme import ThemeBook
from ennead.edits.change import change
from ennead.edits.scenes import (
    BACK_TO_NORMALS,
    add_scene,
    choose_scene,
    keep_for,
    remove_scene,
    rename_scene,
    set_steps,
)
from ennead.studio.ids import SceneId, SessionId


class SceneStrip(QWidget):
    """Scenes to choose from."""

    def __init__(self, table: Worktable, book: ThemeBook) -> None:
        super().__init__()
        self._table, self._book = table, book
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self.buttons: dict[SceneId, QPushButton] = {}
        self.add_button = QPushButton("+ scene")
        self.add_button.setObjectName("add_scene")
        self.add_button.setProperty("quiet", True)
        self.add_button.setToolTip("Add a scene: the cords of the present one, or none")
        self.add_button.clicked.connect(self._add)
        #: Where all scenes have no room beside each other, one is chosen from a list.
        self.choice = QComboBox()
        self.choice.setObjectName("scene_choice")
        self.choice.setAccessibleName("Scene")
        self.choice.activated.connect(lambda at: self._choose(self.choice.itemData(at), self.choice.itemText(at)))
        self.choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.choice.setMinimumContentsLength(6)
        self._wide = 0.0
        table.changed.connect(self.refresh)
        book.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the scenes there are."""
        studio, theme = self._table.studio, self._book.now
        while (item := self._row.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None and widget not in (self.add_button, self.choice):
                widget.deleteLater()
        self.buttons = {}
        self._row.setSpacing(theme.px(6))
        self.choice.clear()
        for key, name in ((SceneId(""), BACK_TO_NORMALS), *((s.id, s.name) for s in studio.scenes.values())):
            button = QPushButton(theme.elided(name, theme.px(190), 14).replace("&", "&&"))
            button.setCheckable(True)
            button.setChecked(key == studio.scene)
            button.setProperty("switch", True)
            button.setObjectName(f"scene_{key}")
            apart = [studio.units[u].name for u in (studio.scenes[key].settings if key else ()) if u in studio.units]
            button.setToolTip(plain_tip(f"{name}; otherwise in it: {', '.join(apart)}" if apart else name))
            button.clicked.connect(lambda _=False, k=key, n=name: self._choose(k, n))
            if key:
                button.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
                button.customContextMenuRequested.connect(lambda at, k=key, b=button: self._menu(k, b.mapToGlobal(at)))
            self._row.addWidget(button)
            self.buttons[key] = button
            self.choice.addItem(name, key)
            if key == studio.scene:
                self.choice.setCurrentIndex(self.choice.count() - 1)
        self._row.addWidget(self.choice, 1)
        self._row.addWidget(self.add_button)
        self._row.addStretch(1)
        self._wide = sum(theme.width(b.text(), 14) + theme.px(26) for b in self.buttons.values())
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Show the scenes beside each other where they have room, else as a list to choose from."""
        room = self.width() - self.add_button.sizeHint().width() - self._book.now.px(20)
        for button in self.buttons.values():
            button.setVisible(self._wide <= room)
        self.choice.setVisible(self._wide > room)

    def _choose(self, key: SceneId, name: str) -> None:
        if not self._table.do(change(f"Go to {name}", choose_scene, key)):
            self.refresh()

    def _add(self) -> None:
        name, taken = QInputDialog.getText(self, "Add a scene", "Its name")
        if taken and name.strip():
            self._table.do(change(f"Add the scene {name.strip()}", add_scene, name, self._table.studio.scene or None))

    def _menu(self, key: SceneId, at: object) -> None:
        menu = QMenu(self)
        scene = self._table.studio.scenes[key]
        rename, by_hand, tonight = (
            menu.addAction("Rename…"),
            menu.addAction("Steps by hand…"),
            menu.addAction("Only for this session"),
        )
        assert tonight is not None  # noqa: S101 - a menu gives what it adds
        tonight.setCheckable(True)
        tonight.setChecked(scene.session == self._table.studio.session)
        remove = menu.addAction("Remove")
        chosen = menu.exec(at)  # type: ignore[call-overload]
        if chosen is remove and chosen is not None:
            self._table.do(change(f"Remove the scene {scene.name}", remove_scene, key))
        elif chosen is tonight:
            kept = SessionId("") if scene.session else self._table.studio.session
            self._table.do(
                change(f"Keep {scene.name} for {'any session' if scene.session else 'this one'}", keep_for, key, kept)
            )
        elif chosen is by_hand and chosen is not None:
            self._steps(key)
        elif chosen is rename and chosen is not None:
            name, taken = QInputDialog.getText(self, "Rename the scene", "Its name", text=scene.name)
            if taken:
                self._table.do(change(f"Rename the scene {scene.name}", rename_scene, key, name))

    def _steps(self, key: SceneId) -> None:
        scene = self._table.studio.scenes[key]
        text, taken = QInputDialog.getMultiLineText(
            self, f"{scene.name}: steps by hand", "A fader, a knob, an aux send: one a line", "\n".join(scene.steps)
        )
        if taken:
            steps = tuple([line for line in text.split("\n") if line.strip()])
            self._table.do(change(f"Say what is done by hand in {scene.name}", set_steps, key, steps))
