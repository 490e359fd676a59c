"""One small module per rule. Each reads a survey and yields findings with why, fix and working."""
