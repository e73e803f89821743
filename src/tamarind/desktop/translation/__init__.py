"""Translation: another language beside the source."""
