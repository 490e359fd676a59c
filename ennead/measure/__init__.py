"""Ping, tone, drift and hum from arrays of samples; no files, no Qt, nothing of the studio."""
