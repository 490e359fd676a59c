"""The Clock sheet: leaders, followers, and the cables between them."""
