"""Searches for what is missing: what binds, what helps and at which price, an expander on a free link, the loss of a unit."""
