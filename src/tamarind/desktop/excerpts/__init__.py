"""The Excerpts page."""
