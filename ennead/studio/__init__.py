"""The document: frozen dataclasses, ids and units of measure. Everything derived lives elsewhere."""
