"""Read the headers of recordings and decode their sound, by tasks for the workers."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tamarind.application.events import Event
from tamarind.application.pooldesk import PoolDesk
from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.audio.fingerprint import is_whole, known_fingerprint
from tamarind.audio.peaks import Peaks
from tamarind.batch.bookmarks import later
from tamarind.batch.messages import Decode, Drawn, Identified, Known, Probe, SoundReady
from tamarind.batch.messages import Event as News
from tamarind.job.oneclock import later_by, recording_later
from tamarind.job.recording import Recording, State

CHANGED = (
    "The file is another one than that which this text is of: put the old one back, or bring the"
    " new one in under another name."
)


def _moved(recording: Recording, by: int) -> str:
    return (
        f"The sound of “{recording.name}” begins {by / 1000:.2f} s after its picture. Times count"
        " from the start of the file now, and were moved by that; undo takes it back."
    )


class MediaProbe:
    """Asks workers about files and keeps the peaks of those being decoded."""

    def __init__(self, desk: PoolDesk, recordings: Recordings, texts: Texts) -> None:
        self._pool, self._recordings, self._texts = desk.pool, recordings, texts
        self._drawn: dict[int, list[Peaks]] = {}
        self.known: Event[[int]] = Event()
        """It is known what a file is."""
        self.moved: Event[[str]] = Event()
        """Times that counted from a sound count from its file's start now: a sentence."""
        self.identified: Event[[int]] = Event()
        """It is known which file it is."""
        desk.add(self._take)

    def look(self, *recordings: Recording) -> None:
        """Have the headers of recordings read."""
        self._pool.add(*(Probe(recording.id, recording.path) for recording in recordings))

    def decode(self, recording: Recording) -> None:
        """Have a recording's sound decoded."""
        self._pool.add(Decode(recording.id, recording.path))

    def is_unknown(self, recording: Recording) -> bool:
        """Whether a recording is to be read: nothing is known of it, or its file may have
        changed."""
        if recording.info is None or recording.state is State.ARRIVED:
            return True
        if recording.from_sound:
            return True
        return known_fingerprint(recording.path) != recording.fingerprint

    def drawn(self, recording_id: int) -> Peaks | None:
        """Return the peaks of a recording that is being decoded, as far as they have come."""
        parts = self._drawn.get(recording_id)
        if not parts:
            return None
        if len(parts) > 1:
            parts[:] = [np.concatenate(parts)]
        return parts[0]

    def forget(self, recording_id: int) -> None:
        """Drop what is kept of a recording's decoding."""
        self._drawn.pop(recording_id, None)

    def _take(self, recording: Recording, news: News) -> bool:
        match news:
            case Known():
                self._take_known(recording, news)
            case Identified():
                self._take_identified(recording, news.fingerprint)
            case Drawn():
                self._drawn.setdefault(recording.id, []).append(news.peaks)
                self._recordings.changed.emit(recording.id)
            case SoundReady():
                self._take_sound(recording, news)
            case _:
                return False
        return True

    def _take_known(self, recording: Recording, news: Known) -> None:
        duration = recording.duration or news.info.duration
        ready = recording.state is State.ARRIVED and duration > 0
        state = State.READY if ready else recording.state
        recording = replace(recording, info=news.info, duration=duration, state=state)
        if recording.from_sound:
            recording = self._count_from_start(recording)
        self._recordings.change(recording)
        self.known.emit(recording.id)

    def _count_from_start(self, recording: Recording) -> Recording:
        """Shift times that counted from the start of the sound, and return what is now known of the
        recording."""
        by = later_by(recording)
        if not by:
            return replace(recording, from_sound=False)
        self._texts.move_all(recording.id, "times from where the file begins", by)
        moved = recording_later(recording, by)
        self.moved.emit(_moved(recording, by))
        return replace(moved, bookmark=later(recording.bookmark, by))

    def _take_identified(self, recording: Recording, mark: str) -> None:
        """Take a recording's fingerprint, and see whether its sound is in the cache."""
        problem = CHANGED if self._is_changed(recording, mark) else recording.problem
        if (mark, problem) != (recording.fingerprint, recording.problem):
            self._recordings.change(replace(recording, fingerprint=mark, problem=problem))
        self.identified.emit(recording.id)

    def _take_sound(self, recording: Recording, news: SoundReady) -> None:
        self._drawn.pop(recording.id, None)
        fresh = recording.state is State.ARRIVED
        changed = self._is_changed(recording, news.fingerprint)
        self._recordings.change(
            replace(
                recording,
                duration=news.duration if news.is_whole else recording.duration,
                state=State.READY if fresh else recording.state,
                problem=CHANGED if changed else news.damage,
                fingerprint=news.fingerprint or recording.fingerprint,
            )
        )

    def _is_changed(self, recording: Recording, mark: str) -> bool:
        """Whether the file is not the one that the text was made of."""
        known = is_whole(recording.fingerprint) and is_whole(mark)
        has_text = bool(self._texts.transcript(recording.id).cues)
        return known and has_text and mark != recording.fingerprint
