"""Translate texts: engines, routes, and tracks attached to the cues of their source."""
