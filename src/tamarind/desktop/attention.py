"""Telling a person who has gone away that the batch is done: a notice and a quiet sound."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject, QUrl
from PySide6.QtMultimedia import QMediaDevices, QSoundEffect

from tamarind.application.transcriptionqueue import Totals
from tamarind.batch.timeleft import human

SOUND = Path(__file__).parent / "theme" / "sounds" / "done.wav"
VOLUME = 0.35
SERVICE = "org.freedesktop.Notifications"
SHOWN_MS = 10_000


class Notices(Protocol):
    """Where notices go."""

    def show(self, title: str, text: str) -> None:
        """Show a notice, if there is somebody to show it; never waits for them."""


class DesktopNotices:
    """The desktop's own notices, after the Desktop Notifications specification."""

    def show(self, title: str, text: str) -> None:
        """Show the notice from a thread, so that a slow desktop does not hold up the window."""
        threading.Thread(target=self.tell, args=(title, text), daemon=True).start()

    def tell(self, title: str, text: str) -> bool:
        """Hand a notice over and wait until it is taken; False if there is nobody to show it."""
        from PySide6.QtDBus import QDBus, QDBusConnection, QDBusInterface, QDBusMessage

        bus = QDBusConnection.sessionBus()
        if not bus.isConnected():
            return False
        service = QDBusInterface(SERVICE, "/org/freedesktop/Notifications", SERVICE, bus)
        if not service.isValid():
            return False
        told = ["Tamarind", 0, "", title, text, [], {}, SHOWN_MS]
        answer = service.callWithArgumentList(QDBus.CallMode.Block, "Notify", told)
        return answer.type() is not QDBusMessage.MessageType.ErrorMessage


class KeptNotices:
    """A stand-in for the desktop: keeps what would be shown."""

    def __init__(self) -> None:
        self.shown: list[tuple[str, str]] = []

    def show(self, title: str, text: str) -> None:
        self.shown.append((title, text))


class Attention(QObject):
    """Tells that a batch is done, once, in a way that does not startle."""

    def __init__(self, notices: Notices, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.notices = notices
        self._sound: QSoundEffect | None = None

    def batch_done(self, job: str, totals: Totals, seconds_to_proof: float) -> None:
        """The batch of a job has come to its end."""
        self.notices.show(*words_for(job, totals, seconds_to_proof))
        if QMediaDevices.audioOutputs():
            if self._sound is None:
                self._sound = QSoundEffect(self)
                self._sound.setSource(QUrl.fromLocalFile(str(SOUND)))
                self._sound.setVolume(VOLUME)
            self._sound.play()


def words_for(job: str, totals: Totals, seconds_to_proof: float) -> tuple[str, str]:
    """Title and text of the notice."""
    drafts = "1 draft is" if totals.done == 1 else f"{totals.done} drafts are"
    title = f"{job}: {drafts} ready" if totals.done else f"{job}: nothing could be transcribed"
    parts = []
    if totals.done:
        parts.append(f"{human(seconds_to_proof).capitalize()} to proof.")
    if totals.failed:
        parts.append(f"{totals.failed} could not be transcribed; their cards say why.")
    return title, " ".join(parts)
