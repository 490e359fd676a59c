"""Rig: which boxes, where, in what mode."""
