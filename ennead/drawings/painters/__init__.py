"""How a layout is painted: QtGui and a theme, no widgets."""
