"""The Clock sheet, who leads, who follows, over which cable."""
