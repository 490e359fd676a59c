"""Print passes: which jobs are played together, and in which order."""
