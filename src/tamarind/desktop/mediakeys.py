"""Media keys and headset buttons: the player on the session bus (MPRIS D-Bus Interface
Specification 2.2)."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import ClassInfo, Property, QObject, Slot
from PySide6.QtDBus import QDBusAbstractAdaptor, QDBusConnection, QDBusMessage

from tamarind.desktop.player import Player
from tamarind.desktop.systemsettings import has_session_bus

PATH = "/org/mpris/MediaPlayer2"
ROOT, PLAYER = "org.mpris.MediaPlayer2", "org.mpris.MediaPlayer2.Player"
SKIP_MS = 2_000

_interface: Any = ClassInfo
_property: Any = Property
"""Qt takes more than its annotations say: names of interfaces, and of its own types."""


@_interface({"D-Bus Interface": ROOT})
class _Root(QDBusAbstractAdaptor):
    """What the program is."""

    def __init__(self, owner: MediaKeys) -> None:
        super().__init__(owner)
        self._owner = owner

    @Slot()
    def Raise(self) -> None:
        """Bring the window to the front."""
        self._owner.show_window()

    @Slot()
    def Quit(self) -> None:
        """Do nothing, since closing is for the person."""

    Identity = _property(str, lambda self: "Tamarind")
    DesktopEntry = _property(str, lambda self: "tamarind")
    CanRaise = _property(bool, lambda self: True)
    CanQuit = _property(bool, lambda self: False)
    HasTrackList = _property(bool, lambda self: False)
    SupportedUriSchemes = _property("QStringList", lambda self: [])
    SupportedMimeTypes = _property("QStringList", lambda self: [])


@_interface({"D-Bus Interface": PLAYER})
class _PlayerAdaptor(QDBusAbstractAdaptor):
    """What is played, and the buttons."""

    def __init__(self, owner: MediaKeys) -> None:
        super().__init__(owner)
        self._owner = owner

    @Slot()
    def PlayPause(self) -> None:
        """Play or stop, as the key of the window does."""
        self._owner.play()

    @Slot()
    def Play(self) -> None:
        """Play, unless it plays."""
        if not self._owner.player.is_playing:
            self._owner.play()

    @Slot()
    def Pause(self) -> None:
        """Stop, if it plays."""
        if self._owner.player.is_playing:
            self._owner.play()

    @Slot()
    def Stop(self) -> None:
        """Stop, if it plays."""
        self.Pause()

    @Slot()
    def Next(self) -> None:
        """Go forward two seconds."""
        self._owner.skip(SKIP_MS)

    @Slot()
    def Previous(self) -> None:
        """Go back two seconds."""
        self._owner.skip(-SKIP_MS)

    @Slot("qlonglong")
    def Seek(self, microseconds: int) -> None:
        """Move the playhead by a time."""
        self._owner.skip(microseconds // 1000)

    PlaybackStatus = _property(
        str, lambda self: "Playing" if self._owner.player.is_playing else "Paused"
    )
    Rate = _property(float, lambda self: self._owner.player.speed)
    MinimumRate = _property(float, lambda self: 0.5)
    MaximumRate = _property(float, lambda self: 2.0)
    Position = _property("qlonglong", lambda self: self._owner.player.position * 1000)
    Metadata = _property("QVariantMap", lambda self: self._owner.metadata())
    CanPlay = _property(bool, lambda self: self._owner.player.has_recording)
    CanPause = _property(bool, lambda self: True)
    CanSeek = _property(bool, lambda self: True)
    CanGoNext = _property(bool, lambda self: True)
    CanGoPrevious = _property(bool, lambda self: True)
    CanControl = _property(bool, lambda self: True)


class MediaKeys(QObject):
    """Lets media keys and headset buttons play and stop, where there is a session bus.

    ``title`` returns what is shown as being played.
    """

    def __init__(
        self,
        player: Player,
        play: Callable[[], object],
        title: Callable[[], str],
        show_window: Callable[[], object],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.player, self.play, self._title, self.show_window = player, play, title, show_window
        self.name = ""
        if not has_session_bus():
            return
        bus = QDBusConnection.sessionBus()
        name = f"{ROOT}.tamarind.instance{os.getpid()}"
        if not bus.isConnected() or not bus.registerService(name):
            return
        self.name = name
        self._adaptors = _Root(self), _PlayerAdaptor(self)
        bus.registerObject(PATH, self, QDBusConnection.RegisterOption.ExportAdaptors)
        player.playing_changed.connect(lambda _playing: self._tell())

    def skip(self, ms: int) -> None:
        """Move the playhead by so many ms."""
        self.player.seek(self.player.position + ms)

    def metadata(self) -> dict[str, Any]:
        """Return what is played."""
        return {"xesam:title": self._title()}

    def close(self) -> None:
        """Leave the bus."""
        if self.name:
            bus = QDBusConnection.sessionBus()
            bus.unregisterObject(PATH)
            bus.unregisterService(self.name)
            self.name = ""

    def _tell(self) -> None:
        """Tell the desktop whether it plays, and what."""
        if not self.name:
            return
        signal = QDBusMessage.createSignal(
            PATH, "org.freedesktop.DBus.Properties", "PropertiesChanged"
        )
        status = "Playing" if self.player.is_playing else "Paused"
        signal.setArguments([PLAYER, {"PlaybackStatus": status, "Metadata": self.metadata()}, []])
        QDBusConnection.sessionBus().send(signal)
