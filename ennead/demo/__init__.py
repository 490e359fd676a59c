"""Skerry Sound House: a made-up studio in a former lifeboat station, built with edits like any other."""
