"""Searches: where the sources go. Each comes back as a change of primitive edits; nothing here changes anything."""
