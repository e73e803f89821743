"""The command line: the same core without a window."""
