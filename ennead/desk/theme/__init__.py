"""Colours, type and measures of the two themes, paper and night."""
