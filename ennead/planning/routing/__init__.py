"""Searches for one line or one cable: a place by number or by socket, why it is here and why not there, partners of a socket, leads."""
