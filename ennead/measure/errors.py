"""What is wrong with sound that was given to be measured."""

from ennead.studio.errors import EnneadError


class BadSound(EnneadError):
    """Samples, or a wish for samples, that cannot be used."""

    def __init__(self, said: str, remedy: str) -> None:
        super().__init__(said, remedy)
        self.said, self.remedy = said, remedy

    def __str__(self) -> str:
        return f"{self.said[:1].upper()}{self.said[1:]}. {self.remedy}"
