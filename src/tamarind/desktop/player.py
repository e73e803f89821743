"""Playing a recording: exact to the word for the eye, with its pitch kept at any speed."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QElapsedTimer, QObject, QTimer, QUrl, Signal
from PySide6.QtMultimedia import QAudioOutput, QMediaPlayer, QVideoSink

TICK_MS = 25
SLOWEST, FASTEST, SPEED_STEP = 0.5, 2.0, 0.1


class Player(QObject):
    """One player for the whole window; positions in ms."""

    moved = Signal(int)
    playing_changed = Signal(bool)
    speed_changed = Signal(float)
    trouble = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._media = QMediaPlayer(self)
        self._output = QAudioOutput(self)
        self._media.setAudioOutput(self._output)
        self.picture = QVideoSink(self)
        self._media.setVideoSink(self.picture)
        self._path: Path | None = None
        self._position = 0
        self._known = 0
        self._since = QElapsedTimer()
        self._stop_at: int | None = None
        self._wanted: int | None = None
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._media.positionChanged.connect(self._reported)
        self._media.playbackStateChanged.connect(self._state_changed)
        self._media.mediaStatusChanged.connect(self._status_changed)
        self._media.errorOccurred.connect(self._failed)

    @property
    def position(self) -> int:
        """Where the playhead is."""
        return self._position

    @property
    def speed(self) -> float:
        """1.0 for as recorded."""
        return self._media.playbackRate()

    @property
    def is_playing(self) -> bool:
        """Whether sound is coming out."""
        return self._media.playbackState() == QMediaPlayer.PlaybackState.PlayingState

    def load(self, path: Path | None) -> None:
        """Put a recording in, with the playhead at its start."""
        if path == self._path:
            return
        self._media.stop()
        self._path = path
        self._position = self._known = 0
        self._wanted = None
        self._media.setSource(QUrl.fromLocalFile(str(path)) if path else QUrl())
        self.moved.emit(0)

    def play(self, start: int | None = None, end: int | None = None) -> None:
        """Play from ``start`` (where the playhead is, if None), stopping at ``end``."""
        if self._path is None:
            return
        if start is None and self._media.mediaStatus() == QMediaPlayer.MediaStatus.EndOfMedia:
            start = 0
        if start is not None:
            self.seek(start)
        self._stop_at = end
        self._media.play()

    def stop(self) -> None:
        """Stop, with the playhead staying where it is."""
        self._stop_at = None
        at = self._position
        self._media.pause()
        self.seek(at)

    def seek(self, position: int) -> None:
        """Move the playhead."""
        position = max(position, 0)
        self._position = self._known = position
        self._since.restart()
        loading = QMediaPlayer.MediaStatus.LoadingMedia
        if self._media.mediaStatus() == loading:
            self._wanted = position
        else:
            self._media.setPosition(position)
        self.moved.emit(position)

    def set_speed(self, speed: float) -> None:
        """Between half and double speed."""
        speed = round(min(max(speed, SLOWEST), FASTEST), 2)
        self._known = self._position
        self._since.restart()
        self._media.setPlaybackRate(speed)
        self.speed_changed.emit(speed)

    def _tick(self) -> None:
        """The playhead runs by the clock between the player's own reports, which are far apart."""
        position = self._known + round(self._since.elapsed() * self.speed)
        self._position = max(position, self._position) if self.is_playing else self._position
        if self._stop_at is not None and self._position >= self._stop_at:
            self._position = self._stop_at
            self.stop()
        self.moved.emit(self._position)

    def _reported(self, position: int) -> None:
        if self.is_playing:
            drift = position - self._position
            self._known = position
            self._since.restart()
            if drift < -300 or drift > 300:
                self._position = position

    def _state_changed(self) -> None:
        playing = self.is_playing
        if playing:
            self._known = self._position
            self._since.restart()
            self._timer.start()
        else:
            self._timer.stop()
        self.playing_changed.emit(playing)

    def _status_changed(self, status: QMediaPlayer.MediaStatus) -> None:
        if status == QMediaPlayer.MediaStatus.LoadedMedia and self._wanted is not None:
            self._media.setPosition(self._wanted)
            self._wanted = None
        elif status == QMediaPlayer.MediaStatus.LoadedMedia and self._position == 0:
            # Without this a video shows nothing until it is played.
            self._media.pause()

    def _failed(self, _error: QMediaPlayer.Error, text: str) -> None:
        self.trouble.emit(f"The recording cannot be played: {text.rstrip('.')}.")
