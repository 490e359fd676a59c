"""What goes wrong with an audio server: none there, gone, or a take that cannot be believed."""

from ennead.studio.errors import EnneadError

_BY_FILES = "Measure by files instead: write the ping, play and record it in any software."


class NoServer(EnneadError):
    """No audio server with the JACK interface runs, or no library for it is here."""

    def __init__(self, said: str) -> None:
        super().__init__(said)
        self.said = said

    def __str__(self) -> str:
        return f"{self.said} {_BY_FILES}"


def no_server(*, has_library: bool) -> NoServer:
    """Return the error that none of the libraries reached a server, or that there is none."""
    if has_library:
        return NoServer("No audio server with the JACK interface runs here.")
    return NoServer("No library of an audio server (JACK or PipeWire) is installed here.")


class ServerGone(EnneadError):
    """The audio server ran, and gives no more cycles."""

    def __str__(self) -> str:
        return "The audio server is gone: no cycle came for 2 s. Start it again, and repeat the take; nothing is lost."


class BadTake(EnneadError):
    """A take that was asked for, or came back, in a way that measures nothing."""

    def __init__(self, said: str, remedy: str) -> None:
        super().__init__(said, remedy)
        self.said, self.remedy = said, remedy

    def __str__(self) -> str:
        return f"{self.said} {self.remedy}"
