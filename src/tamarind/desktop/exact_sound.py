"""Play a short stretch exactly, from the first sample to the last.

A player of media files begins with a whole packet of the file and stops when it is told that the
time has come, some hundredths of a second off at either end. Here only the samples that are wanted
are handed to the sound device, taken from the decoded sound, to which all times of words refer; so
it does not matter either how a file finds its places.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import (
    QBuffer,
    QByteArray,
    QElapsedTimer,
    QIODevice,
    QObject,
    Qt,
    QTimer,
    Signal,
)
from PySide6.QtMultimedia import QAudio, QAudioDevice, QAudioFormat, QAudioSink, QMediaDevices

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.audio.snippet import snippet
from tamarind.audio.splice import Span

LONGEST_MS = 60_000


class ExactSound(QObject):
    """Plays one stretch at a time; without a sound device it keeps time in silence."""

    finished = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._sink: QAudioSink | None = None
        self._data = QByteArray()
        self._buffer = QBuffer(self)
        self._speed, self._length = 1.0, 0
        self._spans: Sequence[Span] = ()
        self._since = QElapsedTimer()
        self._end = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._end.timeout.connect(self._ended)
        self._active = False

    @property
    def is_active(self) -> bool:
        """Whether a stretch is being played."""
        return self._active

    @property
    def position(self) -> int:
        """The position in ms of the recording."""
        if self._sink is not None:
            played = self._sink.processedUSecs() / 1000
        else:
            played = self._since.elapsed()
        into = round(min(played, self._length) * self._speed)
        for start, end in self._spans:
            if into < end - start:
                return start + into
            into -= end - start
        return self._spans[-1][1] if self._spans else 0

    def play(self, samples: Samples, start: int, end: int, speed: float, volume: float) -> None:
        """Play from ``start`` to ``end`` (ms) of mono samples at 16 kHz; ``volume`` is linear."""
        self.play_spliced(samples, [(start, end)], speed, volume)

    def play_spliced(
        self, samples: Samples, spans: Sequence[Span], speed: float, volume: float
    ) -> None:
        """Play stretches in a row without a gap."""
        self.stop()
        device = QMediaDevices.defaultAudioOutput()
        form = format_for(device)
        sound = np.concatenate(
            [snippet(samples, start, end, speed, form.sampleRate()) for start, end in spans]
        )
        self._spans, self._speed = list(spans), speed
        self._length = round(1000 * len(sound) / form.sampleRate())
        self._active = True
        self._since.start()
        if device.isNull():
            self._end.start(self._length)
            return
        self._data = QByteArray(as_bytes(sound, form))
        self._buffer.setData(self._data)
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self._sink = QAudioSink(device, form, self)
        self._sink.setVolume(volume)
        self._sink.stateChanged.connect(self._state_changed)
        self._sink.start(self._buffer)

    def stop(self) -> None:
        """Stop at once."""
        self._active = False
        self._end.stop()
        if self._sink is not None:
            sink, self._sink = self._sink, None
            sink.stateChanged.disconnect(self._state_changed)
            sink.stop()
            sink.deleteLater()
        self._buffer.close()

    def _state_changed(self, state: QAudio.State) -> None:
        # All has been played, or the device has gone.
        if state in (QAudio.State.IdleState, QAudio.State.StoppedState):
            QTimer.singleShot(0, self, self._ended)

    def _ended(self) -> None:
        if self._active:
            self.stop()
            self.finished.emit()


def format_for(device: QAudioDevice) -> QAudioFormat:
    """Return the audio format for a device: one channel if it takes that, at its own rate."""
    form = QAudioFormat(device.preferredFormat()) if not device.isNull() else QAudioFormat()
    if device.isNull():
        form.setSampleRate(SAMPLE_RATE)
    form.setSampleFormat(QAudioFormat.SampleFormat.Int16)
    channels = form.channelCount()
    form.setChannelCount(1)
    if not device.isNull() and not device.isFormatSupported(form):
        form.setChannelCount(max(channels, 1))
    return form


def as_bytes(sound: Samples, form: QAudioFormat) -> bytes:
    whole = (np.clip(sound, -1, 1) * 32767).astype("<i2")
    return np.repeat(whole, form.channelCount()).tobytes()
