"""Work that nobody has to wait for: on a thread, with a progress window, in turns of the event loop."""
