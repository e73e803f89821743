"""The error of recognisers, in a module of its own that loads at once."""

from tamarind.system.errors import ToldError


class RecogniserError(ToldError):
    """A recogniser cannot work here; the message is one sentence for the person."""
