"""What is printed: pages painted with QtGui, without widgets; loaded where something is printed, and only then."""
