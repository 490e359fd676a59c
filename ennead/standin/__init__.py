"""Simulated boxes: lock state machines with crystals that drift. They play the house that nobody has cabled yet."""
