"""Ennead plans, checks and explains the wiring of one recording studio."""

__version__ = "0.1.0"
