"""Simulated boxes: lock state machines with crystals that drift. They play the house before it is cabled."""
