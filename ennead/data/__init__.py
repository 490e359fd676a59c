"""Profiles and fonts that ship with the program."""

from pathlib import Path
from typing import Final

#: Where they lie. A plain path: `importlib.resources` costs a tenth of the time the window takes to appear.
FOLDER: Final = Path(__file__).resolve().parent
