"""Laying out bays: which socket stands behind which point, so that tonight needs few cords and nothing soldered moves."""
