"""Play a recording, with times exact to the word and the pitch kept at any speed.

Qt's player works in threads of its own that now and then ask for Python's lock (to look up virtual
methods of the objects made here). A command called straight from Python holds that lock while it
waits for those threads, and both wait for ever. So commands go by signals, which let go of it.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QElapsedTimer, QObject, QTimer, QUrl, Signal
from PySide6.QtMultimedia import QAudio, QAudioOutput, QMediaPlayer, QVideoSink

from tamarind.audio.decode import Samples
from tamarind.audio.splice import Span
from tamarind.desktop.exact_sound import LONGEST_MS, ExactSound

TICK_MS = 25
LONGEST_WITHOUT_PICTURE_MS = 4_000
"""A longer stretch of a video is played with its picture, if less exactly."""

SLOWEST, FASTEST, SPEED_STEP = 0.5, 2.0, 0.1
VOLUME_STEP = 0.1
LOADED = (
    QMediaPlayer.MediaStatus.LoadedMedia,
    QMediaPlayer.MediaStatus.BufferingMedia,
    QMediaPlayer.MediaStatus.BufferedMedia,
)


class Player(QObject):
    """The one player of the window; positions are in ms."""

    moved = Signal(int)
    playing_changed = Signal(bool)
    speed_changed = Signal(float)
    volume_changed = Signal(float)
    trouble = Signal(str)
    _play = Signal()
    _pause = Signal()
    _stop = Signal()
    _set_source = Signal(QUrl)
    _set_position = Signal(int)
    _set_rate = Signal(float)
    _set_volume = Signal(float)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._media = QMediaPlayer(self)
        self._output = QAudioOutput(self)
        self._media.setAudioOutput(self._output)
        self.picture = QVideoSink(self)
        self._media.setVideoSink(self.picture)
        self._media.setPitchCompensation(True)
        self._play.connect(self._media.play)
        self._pause.connect(self._media.pause)
        self._stop.connect(self._media.stop)
        self._set_source.connect(self._media.setSource)
        self._set_position.connect(self._media.setPosition)
        self._set_rate.connect(self._media.setPlaybackRate)
        self._set_volume.connect(self._output.setVolume)
        self.volume = 1.0
        self._exact = ExactSound(self)
        self._exact.finished.connect(self._exact_ended)
        self._samples: Samples | None = None
        self.path: Path | None = None
        """What is played."""
        self._position = 0
        self._known = self._exact_end = 0
        self._since = QElapsedTimer()
        self._stop_at: int | None = None
        self._wanted: int | None = None
        self._is_loading = False
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._media.positionChanged.connect(self._reported)
        self._media.playbackStateChanged.connect(self._state_changed)
        self._media.mediaStatusChanged.connect(self._status_changed)
        self._media.errorOccurred.connect(self._failed)

    @property
    def position(self) -> int:
        """The playhead."""
        return self._position

    @property
    def speed(self) -> float:
        """The speed; 1.0 as recorded."""
        return self._media.playbackRate()

    @property
    def is_playing(self) -> bool:
        """Whether sound is being played."""
        playing = self._media.playbackState() == QMediaPlayer.PlaybackState.PlayingState
        return playing or self._exact.is_active

    @property
    def has_recording(self) -> bool:
        """Whether a recording is loaded."""
        return self.path is not None

    def load(self, path: Path | None) -> None:
        """Load a recording, with the playhead at its start."""
        if path == self.path:
            return
        self._stop.emit()
        self._exact.stop()
        self._samples = None
        self.path = path
        self._position = self._known = 0
        self._wanted = None
        self._is_loading = path is not None
        self._set_source.emit(QUrl.fromLocalFile(str(path)) if path else QUrl())
        self.moved.emit(0)

    def set_samples(self, samples: Samples | None) -> None:
        """Set the decoded sound of what is loaded (mono, 16 kHz), from which short stretches are
        played exactly."""
        self._samples = samples

    def play(self, start: int | None = None, end: int | None = None) -> None:
        """Play from ``start`` (None: the playhead), stopping at ``end``."""
        if self.path is None:
            return
        if self._exact.is_active:
            self._exact.stop()
        if end is not None and self._is_exact(self._position if start is None else start, end):
            self._play_exactly(self._position if start is None else start, end)
            return
        if start is None and self._media.mediaStatus() == QMediaPlayer.MediaStatus.EndOfMedia:
            start = 0
        if start is not None:
            self.seek(start)
        self._stop_at = end
        self._play.emit()

    def play_stretches(self, spans: Sequence[Span]) -> bool:
        """Play stretches (ms) in a row without gaps, as if what lies between were cut out; return
        whether that is possible, which needs decoded sound."""
        if self.path is None or self._samples is None or not spans:
            return False
        if sum(end - start for start, end in spans) > LONGEST_MS:
            return False
        self._stop_at = None
        self._exact.stop()
        self._pause.emit()
        self._move_to(spans[0][0])
        self._exact_end = spans[-1][1]
        self._exact.play_spliced(self._samples, spans, self.speed, self._output.volume())
        self._state_changed()
        return True

    def stop(self) -> None:
        """Stop; the playhead stays where it is."""
        self._stop_at = None
        at = self._position
        if self._exact.is_active:
            self._exact.stop()
            self._state_changed()
        else:
            self._pause.emit()
        self._move_to(at)

    def _is_exact(self, start: int, end: int) -> bool:
        """Whether a stretch is played from the decoded sound."""
        length = end - start
        most = LONGEST_WITHOUT_PICTURE_MS if self._media.hasVideo() else LONGEST_MS
        return self._samples is not None and 0 < length <= most

    def _play_exactly(self, start: int, end: int) -> None:
        if self._samples is None:
            return
        self._stop_at = None
        self._exact_end = end
        self._exact.stop()
        self._pause.emit()
        self._move_to(start)
        self._exact.play(self._samples, start, end, self.speed, self._output.volume())
        self._state_changed()

    def _exact_ended(self) -> None:
        self._move_to(self._exact_end)
        self._state_changed()

    def seek(self, position: int) -> None:
        """Move the playhead; a stretch being played goes on from there."""
        position = max(position, 0)
        if self._exact.is_active:
            if position < self._exact_end:
                self._play_exactly(position, self._exact_end)
            else:
                self._exact.stop()
                self._exact_ended()
            return
        self._move_to(position)

    def _move_to(self, position: int) -> None:
        self._position = self._known = position
        self._since.restart()
        if self._is_loading:
            self._wanted = position
        else:
            self._set_position.emit(position)
        self.moved.emit(position)

    def set_speed(self, speed: float) -> None:
        """Set the speed, from half to double."""
        speed = round(min(max(speed, SLOWEST), FASTEST), 2)
        self._known = self._position
        self._since.restart()
        self._set_rate.emit(speed)
        if self._exact.is_active:
            self._play_exactly(self._position, self._exact_end)
        self.speed_changed.emit(speed)

    def set_volume(self, volume: float) -> None:
        """Set the volume from 0 to 1, on a scale that sounds even."""
        self.volume = round(min(max(volume, 0.0), 1.0), 2)
        scale = QAudio.VolumeScale
        linear = QAudio.convertVolume(self.volume, scale.CubicVolumeScale, scale.LinearVolumeScale)
        self._set_volume.emit(linear)
        self.volume_changed.emit(self.volume)

    def _tick(self) -> None:
        """Move the playhead by the clock between the player's own reports, which are far apart."""
        if self._exact.is_active:
            self._position = self._exact.position
            self.moved.emit(self._position)
            return
        position = self._known + round(self._since.elapsed() * self.speed)
        self._position = max(position, self._position) if self.is_playing else self._position
        if self._stop_at is not None and self._position >= self._stop_at:
            self._position = self._stop_at
            self.stop()
        self.moved.emit(self._position)

    def _reported(self, position: int) -> None:
        if self.is_playing and not self._exact.is_active:
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
        # Never from within: a command to the player while it tells its news can lock it up.
        if status in LOADED:
            QTimer.singleShot(0, self, self._loaded)
        elif status == QMediaPlayer.MediaStatus.InvalidMedia:
            self._is_loading = False

    def _loaded(self) -> None:
        """Go where the playhead was put meanwhile; pause there unless playing, so that a video
        shows its frame."""
        if self.path is None or not self._is_loading or self._media.mediaStatus() not in LOADED:
            return
        self._is_loading = False
        if not self.is_playing:
            self._pause.emit()
        if self._wanted is not None:
            self._set_position.emit(self._wanted)
            self._wanted = None

    def _failed(self, _error: QMediaPlayer.Error, text: str) -> None:
        self.trouble.emit(f"The recording cannot be played: {text.rstrip('.')}.")
