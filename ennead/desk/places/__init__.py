"""Questions about places: what matters, what binds and helps, why here, what if a unit dies, and sets of sources to drop in."""
