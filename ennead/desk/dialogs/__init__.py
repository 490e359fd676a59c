"""Questions and answers in windows of their own."""
