"""The recognisers that come along: a module for each, with its ``ENTRY``."""
