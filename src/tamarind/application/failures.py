"""What goes wrong unforeseen, in one sentence for the person and noted in the log."""

from __future__ import annotations

from tamarind.application.events import Event
from tamarind.system.errors import ToldError
from tamarind.system.log import note_failure


class Unforeseen(str):
    """The sentence of an error of Tamarind itself, whose details are in the log."""

    __slots__ = ()


failed: Event[[str]] = Event()
"""Something went wrong that nobody else tells of; may come in any thread."""


def sentence_of(error: BaseException, doing: str) -> str:
    """Return what to say of an error; one that was not foreseen is noted in the log."""
    if isinstance(error, ToldError):
        return str(error)
    note_failure(doing, error)
    if isinstance(error, MemoryError):
        return "There is not enough memory for that."
    if isinstance(error, OSError) and error.strerror:
        return f"That could not be done: {error.strerror}."
    name = type(error).__name__
    return Unforeseen(f"Something went wrong in Tamarind itself ({name}); your text is as it was.")
