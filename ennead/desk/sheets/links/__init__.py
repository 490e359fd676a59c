"""The Links sheet, how the house is expanded."""
