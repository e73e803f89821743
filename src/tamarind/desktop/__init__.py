"""The window: the only package that uses Qt."""
