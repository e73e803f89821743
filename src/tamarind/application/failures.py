"""Turn unexpected errors into one sentence for the person, with details in the log."""

from __future__ import annotations

from tamarind.application.events import Event
from tamarind.system.errors import ToldError
from tamarind.system.log import note_failure


class Unforeseen(str):
    """The sentence for an unexpected error, whose details are in the log."""

    __slots__ = ()


failed: Event[[str]] = Event()
"""Something went wrong that nobody else tells of; may come in any thread."""


def sentence_of(error: BaseException, doing: str) -> str:
    """Return the sentence to show for an error; an unexpected one is logged."""
    if isinstance(error, ToldError):
        return str(error)
    note_failure(doing, error)
    if isinstance(error, MemoryError):
        return "There is not enough memory for that."
    if isinstance(error, OSError) and error.strerror:
        return f"That could not be done: {error.strerror}."
    name = type(error).__name__
    return Unforeseen(f"Something went wrong in Tamarind itself ({name}); your text is as it was.")
