"""What is to be measured live: the loops, the device that their numbers are of, together or in turn, monitors down first."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from ennead.desk.widgets.device_choice import DeviceChoice
from ennead.desk.widgets.tick_box import TickBox
from ennead.desk.widgets.whole_label import WholeLabel
from ennead.desk.widgets.wrapped_items import WrappedList
from ennead.drawings.painters.theme import Theme
from ennead.live.server_ports import ServerPorts
from ennead.reports.computer_reading import planned_ports
from ennead.reports.live_loops import closed_circuits, ports_text, server_text
from ennead.studio.errors import EnneadError
from ennead.studio.ids import DestinationId
from ennead.survey.circuits import Circuit
from ennead.survey.survey import Survey

_NONE = "No audio server is connected."


class LiveChoice(QWidget):
    """The choice; `changed` says that something of it is another."""

    changed = pyqtSignal()

    def __init__(self, survey: Survey, theme: Theme, chosen: DestinationId | None) -> None:
        super().__init__()
        self._survey = survey
        self._circuits: list[Circuit] = []
        self.found: ServerPorts | None = None
        self.server, self.loops = WholeLabel(_NONE), WrappedList()
        self.loops.setAccessibleName("Loops to be measured")
        self.device, self.together = DeviceChoice(), QComboBox()
        self.together.setAccessibleName("Together, or one after the other")
        self.together.addItem("All at once, each by a sequence of its own", False)
        self.together.addItem("One after the other", True)
        self.down = TickBox("Monitors and headphones are turned all the way down", theme)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.device)
        row.addWidget(self.together)
        row.addStretch(1)
        column.addWidget(self.loops, 1)
        column.addWidget(self.server)
        column.addLayout(row)
        column.addWidget(self.down)
        self._list(chosen)
        self.show_server(None)
        self.down.toggled.connect(lambda _: self.changed.emit())
        self.device.currentIndexChanged.connect(lambda _: self._named())
        self.loops.itemChanged.connect(lambda _: self.changed.emit())

    def _list(self, chosen: DestinationId | None) -> None:
        """List the loops that go round: the chosen one ticked, or all of them."""
        try:
            self._circuits = closed_circuits(self._survey)
        except EnneadError as error:
            self.loops.addItem(str(error))
        named = {c.loop.id for c in self._circuits}
        for circuit in self._circuits:
            item = QListWidgetItem(ports_text(circuit))
            ticked = circuit.loop.id == chosen or chosen not in named
            item.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
            self.loops.addItem(item)

    def show_server(self, found: ServerPorts | None, said: str = _NONE) -> None:
        """Offer the devices of a server, the one that the plan means chosen."""
        self.found = found
        self.device.offer(found, planned_ports(self._survey, found) if found is not None else None)
        for choice in (self.together, self.down):
            choice.setVisible(found is not None)
        self.server.setText(said)
        self._named()

    @property
    def ports(self) -> ServerPorts | None:
        """The ports of the chosen device."""
        return self.device.ports

    @property
    def chosen(self) -> list[Circuit]:
        """The loops that are ticked."""
        ticked = Qt.CheckState.Checked
        items = [self.loops.item(n) for n in range(len(self._circuits))]
        return [c for c, i in zip(self._circuits, items, strict=True) if i is not None and i.checkState() == ticked]

    @property
    def may_start(self) -> bool:
        """Whether all is there that a take needs."""
        at_rate = self.found is not None and self.found.rate_hz == self._survey.rate_hz
        return self.down.isChecked() and at_rate and bool(self.chosen)

    @property
    def in_turn(self) -> bool:
        """Whether the loops are measured one after the other."""
        return bool(self.together.currentData())

    def _named(self) -> None:
        if self.ports is not None:
            self.server.setText(server_text(self._survey, self.ports))
        self.changed.emit()
