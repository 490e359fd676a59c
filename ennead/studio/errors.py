"""The one family of errors Ennead raises on purpose: each carries fields and says what, where, remedy."""


class EnneadError(Exception):
    """Base of every error meant for a person; ``str(error)`` is one or two plain sentences."""


class UnknownObject(EnneadError):
    """An id that the studio does not hold."""

    def __init__(self, kind: str, key: str) -> None:
        super().__init__(kind, key)
        self.kind, self.key = kind, key

    def __str__(self) -> str:
        shown = self.key if self.key.isalnum() else f"“{self.key}”"
        return f"There is no {self.kind} {shown} in this studio."


class NoSuchPort(EnneadError):
    """A port key that a unit's profile does not have."""

    def __init__(self, unit: str, port: str) -> None:
        super().__init__(unit, port)
        self.unit, self.port = unit, port

    def __str__(self) -> str:
        return f"{self.unit} has no port called “{self.port}”. Choose one of the ports on its rear strip."


class SocketsDoNotFit(EnneadError):
    """Two ends that no cable can join."""

    def __init__(self, from_text: str, to_text: str, reason: str) -> None:
        super().__init__(from_text, to_text, reason)
        self.from_text, self.to_text, self.reason = from_text, to_text, reason

    def __str__(self) -> str:
        return f"{self.from_text} cannot feed {self.to_text}: {self.reason}."


class SocketTaken(EnneadError):
    """A socket that already has a cable in it."""

    def __init__(self, port_text: str, cable: str) -> None:
        super().__init__(port_text, cable)
        self.port_text, self.cable = port_text, cable

    def __str__(self) -> str:
        return f"{port_sentence(self.port_text)} already holds cable {self.cable}. Pull that one first."


class BadValue(EnneadError):
    """A value that a field of the document cannot take."""

    def __init__(self, field: str, value: object, remedy: str) -> None:
        super().__init__(field, value, remedy)
        self.field, self.value, self.remedy = field, value, remedy

    def __str__(self) -> str:
        shown = str(self.value)
        shown = shown if len(shown) <= 60 else shown[:57] + "…"
        return f"“{shown}” cannot be {self.field}. {self.remedy}"


def port_sentence(text: str) -> str:
    """Return a port's text with its first letter raised, to begin a sentence."""
    return text[:1].upper() + text[1:]
