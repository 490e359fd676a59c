"""Work that does not block the interface: on a thread, with a progress window, in turns of the event loop."""
