"""What a recogniser raises; apart from the rest so that it loads at once."""

from tamarind.system.errors import ToldError


class RecogniserError(ToldError):
    """A recogniser cannot work here; the message is one sentence for the person."""
