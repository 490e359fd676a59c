"""The running audio server: its ports, what its driver reports, and takes through it, each in a process of its own."""
