"""Show and log every unexpected error, in any thread and in Qt."""

from __future__ import annotations

from PySide6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

from tamarind.application.failures import failed, sentence_of
from tamarind.system.log import catch_all, logger


def watch() -> None:
    """Show and log all errors from now on."""
    catch_all(lambda doing, error: failed.emit(sentence_of(error, doing)))
    qInstallMessageHandler(_note_qt)


def _note_qt(kind: QtMsgType, _context: QMessageLogContext, message: str) -> None:
    if kind in (QtMsgType.QtCriticalMsg, QtMsgType.QtFatalMsg):
        logger.error("Qt: %s", message)
    elif kind is QtMsgType.QtWarningMsg:
        logger.warning("Qt: %s", message)
