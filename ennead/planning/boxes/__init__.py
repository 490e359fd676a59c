"""Guesses and descriptions: a profile from plain questions, a pasted list of inputs, facts from the words of a name."""
