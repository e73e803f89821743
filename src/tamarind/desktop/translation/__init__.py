"""The Translation page: another language beside the source."""
