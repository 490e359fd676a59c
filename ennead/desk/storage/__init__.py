"""Where things are kept: every edit on disk, preferences and folders, what killed processes left."""
