"""What is drawn, for the screen and for paper: where everything stands, and how it is painted there."""
