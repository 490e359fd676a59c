"""Lines: the run chart."""
