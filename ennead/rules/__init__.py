"""Hard predicates, such as whether a source may sit in a socket, that checks and planning both rest on."""
