"""Profiles, fonts and icons that ship with the program."""
