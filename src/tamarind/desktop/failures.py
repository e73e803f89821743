"""What goes wrong unforeseen, told to the person in one sentence and noted in the log."""

from __future__ import annotations

from PySide6.QtCore import QMessageLogContext, QObject, QtMsgType, Signal, qInstallMessageHandler

from tamarind.audio.media import MediaError
from tamarind.formats.captionfile import FormatError
from tamarind.job.jobfile import JobError
from tamarind.language.housestyle import StyleError
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.log import catch_all, log_file, logger, note_failure
from tamarind.translation.engines.base import TranslationError

SAY_WHY = (FormatError, JobError, MediaError, RecogniserError, StyleError, TranslationError)
"""Errors whose message is a sentence for the person."""


class Failures(QObject):
    """One for the program; ``told`` comes in the window's thread, whichever it happened in."""

    told = Signal(str)


failures = Failures()


def sentence_of(error: BaseException, doing: str) -> str:
    """What to say of an error; one that was not foreseen is noted in the log."""
    if isinstance(error, SAY_WHY):
        return str(error)
    note_failure(doing, error)
    if isinstance(error, MemoryError):
        return "There is not enough memory for that."
    if isinstance(error, OSError) and error.strerror:
        return f"That could not be done: {error.strerror}."
    return (
        f"Something went wrong in Tamarind itself ({type(error).__name__}); your text is as it"
        f" was. The log says where: {log_file()}"
    )


def watch() -> None:
    """From now on nothing goes wrong unseen: in no thread, and not in Qt."""
    catch_all(lambda doing, error: failures.told.emit(sentence_of(error, doing)))
    qInstallMessageHandler(_note_qt)


def _note_qt(kind: QtMsgType, _context: QMessageLogContext, message: str) -> None:
    if kind in (QtMsgType.QtCriticalMsg, QtMsgType.QtFatalMsg):
        logger.error("Qt: %s", message)
    elif kind is QtMsgType.QtWarningMsg:
        logger.warning("Qt: %s", message)
