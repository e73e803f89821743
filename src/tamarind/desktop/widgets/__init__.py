"""Parts that more than one screen uses."""
