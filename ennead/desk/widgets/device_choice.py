"""The device of an audio server that driver numbers are of: one, or all, one behind the other."""

from PyQt6.QtWidgets import QComboBox

from ennead.live.server_ports import ServerPorts


class DeviceChoice(QComboBox):
    """The choice."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The device that the driver numbers are of")
        self._found: ServerPorts | None = None

    def offer(self, found: ServerPorts | None, meant: ServerPorts | None = None) -> None:
        """Offer the devices of a server, the one that is meant chosen, without a word of it."""
        self._found = found
        self.blockSignals(True)
        self.clear()
        devices = found.devices if found is not None else ()
        for device in devices:
            self.addItem(device, device)
        if found is not None and len(devices) != 1:
            self.addItem("all devices, one behind the other", None)
        if meant is not None:
            whole = meant == found or not meant.devices
            self.setCurrentIndex(self.count() - 1 if whole else self.findData(meant.devices[0]))
        self.blockSignals(False)
        self.setVisible(found is not None)

    @property
    def ports(self) -> ServerPorts | None:
        """The ports of what is chosen."""
        device = self.currentData()
        return self._found.of_device(device) if self._found is not None and device is not None else self._found
