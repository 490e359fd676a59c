"""A case that asks the verbs: a studio is written to a file, and what a verb prints of it comes back."""

import unittest
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from bench.verbs import json_of
from ennead.files.studio_path import write_studio
from ennead.studio.document import Studio
from tests.builders import SCRATCH


class VerbCase(unittest.TestCase):
    """Has a folder of its own."""

    def setUp(self) -> None:
        held = TemporaryDirectory(dir=SCRATCH)
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def json(self, verb: str, studio: Studio, *argv: object, status: int | None = 0) -> Any:
        write_studio(self.folder / "a.json", studio)
        return json_of(verb, self.folder / "a.json", *argv, status=status)
