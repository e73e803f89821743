"""Tell a person who is away that the batch is done, by a notification and a quiet sound."""

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
    """Shows notifications."""

    def show(self, title: str, text: str) -> None:
        """Show a notification without waiting for the desktop."""


class DesktopNotices:
    """Notifications by the desktop (Desktop Notifications Specification)."""

    def show(self, title: str, text: str) -> None:
        """Show a notification from a thread, so that a slow desktop does not block the window."""
        threading.Thread(target=self.tell, args=(title, text), daemon=True).start()

    def tell(self, title: str, text: str) -> bool:
        """Send a notification and wait until it is accepted; False if nobody shows it."""
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
    """A stand-in for the desktop that keeps what would be shown."""

    def __init__(self) -> None:
        self.shown: list[tuple[str, str]] = []

    def show(self, title: str, text: str) -> None:
        self.shown.append((title, text))


class Attention(QObject):
    """Tells once that a batch is done."""

    def __init__(self, notices: Notices, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.notices = notices
        self._sound: QSoundEffect | None = None

    def batch_done(self, job: str, totals: Totals, seconds_to_proof: float) -> None:
        """Tell that the batch of a job has ended."""
        self.notices.show(*words_for(job, totals, seconds_to_proof))
        if QMediaDevices.audioOutputs():
            if self._sound is None:
                self._sound = QSoundEffect(self)
                self._sound.setSource(QUrl.fromLocalFile(str(SOUND)))
                self._sound.setVolume(VOLUME)
            self._sound.play()


def words_for(job: str, totals: Totals, seconds_to_proof: float) -> tuple[str, str]:
    """Return title and text of the notification."""
    drafts = "1 draft is" if totals.done == 1 else f"{totals.done} drafts are"
    title = f"{job}: {drafts} ready" if totals.done else f"{job}: nothing could be transcribed"
    parts = []
    if totals.done:
        parts.append(f"{human(seconds_to_proof).capitalize()} to proof.")
    if totals.failed:
        parts.append(f"{totals.failed} could not be transcribed; their cards say why.")
    return title, " ".join(parts)
