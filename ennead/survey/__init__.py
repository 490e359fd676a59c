"""What can be worked out from a studio: views of units, driver maps, signal graph, runs, clock. Pure functions."""
