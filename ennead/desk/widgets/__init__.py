"""Parts that more than one sheet uses."""
