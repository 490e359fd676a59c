"""Searches for the clock: every way it could go, the cheapest trees within the sockets there are, ranked by school."""
