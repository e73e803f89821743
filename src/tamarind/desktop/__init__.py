"""The window: everything that knows Qt."""
