"""Session: what has to come in and go out."""
