"""What goes wrong unforeseen, in one sentence for the person and noted in the log."""

from __future__ import annotations

from tamarind.application.events import Event
from tamarind.audio.media import MediaError
from tamarind.formats.captionfile import FormatError
from tamarind.job.jobfile import JobError
from tamarind.language.housestyle import StyleError
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.log import note_failure
from tamarind.translation.engines.base import TranslationError

SAY_WHY = (FormatError, JobError, MediaError, RecogniserError, StyleError, TranslationError)
"""Errors whose message is a sentence for the person."""

failed: Event[[str]] = Event()
"""Something went wrong that nobody else tells of; may come in any thread."""

_UNFORESEEN = "Something went wrong in Tamarind itself"


def sentence_of(error: BaseException, doing: str) -> str:
    """What to say of an error; one that was not foreseen is noted in the log."""
    if isinstance(error, SAY_WHY):
        return str(error)
    note_failure(doing, error)
    if isinstance(error, MemoryError):
        return "There is not enough memory for that."
    if isinstance(error, OSError) and error.strerror:
        return f"That could not be done: {error.strerror}."
    return f"{_UNFORESEEN} ({type(error).__name__}); your text is as it was."


def is_unforeseen(sentence: str) -> bool:
    """Whether a sentence tells of an error that is noted in the log."""
    return sentence.startswith(_UNFORESEEN)
