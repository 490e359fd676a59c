"""Primitive edits by subject: pure functions ``edit(studio, …) -> Studio`` that raise one precise error per broken rule."""
