"""Measurements: ratios against a reference measured in the same run. Nothing here is imported by the program."""
