"""What a recogniser raises; apart from the rest so that it loads at once."""


class RecogniserError(Exception):
    """A recogniser cannot work here; the message is one sentence for the person."""
