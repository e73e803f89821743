"""The shipped recognisers: a module for each, with its ``ENTRY``."""
