"""The margin at the right: what is selected, what is wrong with it, and the working behind its figures."""
