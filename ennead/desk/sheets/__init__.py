"""The planning sheets, a folder each."""
