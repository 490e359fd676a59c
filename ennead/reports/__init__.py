"""Rows of schedules and lists: data, not paper."""
