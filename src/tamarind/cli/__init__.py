"""The same core without a window."""
