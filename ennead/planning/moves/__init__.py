"""Moves: from the cords that stand to those of a scene, by the fewest plugs pulled and inserted, in an order that harms nothing."""
