"""Short tasks for a person who waits: hearing a passage again, finding speech, shots and frames."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from tamarind.application.events import Event
from tamarind.application.jobstyles import JobStyles
from tamarind.application.pooldesk import PoolDesk
from tamarind.application.recordings import Recordings
from tamarind.audio.source import Source
from tamarind.batch.messages import (
    Done,
    Failed,
    FindShots,
    FindSpeech,
    FindStills,
    HearAgain,
    HeardAgain,
    HeardOnDemand,
    HearOnDemand,
    ListenedOnDemand,
    Prepare,
    Prepared,
    ShotsFound,
    SpeakersTold,
    SpeechFound,
    StillFound,
    TellSpeakers,
)
from tamarind.batch.messages import Event as News
from tamarind.job.recording import Recording
from tamarind.speech.activity import Activity
from tamarind.speech.diarisation.told import Told
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.transcript.model import Word

_TASKS = {
    HearAgain.__name__,
    HearOnDemand.__name__,
    TellSpeakers.__name__,
    Prepare.__name__,
    FindSpeech.__name__,
    FindShots.__name__,
    FindStills.__name__,
}

Frame = Any
"""A frame of a video, as PyAV has it."""

Outcome = tuple[Word, ...] | str
"""The words that were heard; or why none could be, a sentence."""


class OnDemand:
    """Runs tasks beside the transcription queue; none of them changes the job."""

    def __init__(
        self,
        desk: PoolDesk,
        recordings: Recordings,
        styles: JobStyles,
        trouble: Event[[str]],
    ) -> None:
        self._pool, self._recordings, self._styles = desk.pool, recordings, styles
        self._trouble = trouble
        self._cleaned: dict[int, tuple[Source, Path]] = {}
        self._speech: dict[int, tuple[Source, Activity | None]] = {}
        self._shots: dict[int, tuple[int, ...] | None] = {}
        self.heard_again: Event[[int, Outcome]] = Event()
        """A passage of a recording was heard again."""
        self.listened: Event[[int, int, int]] = Event()
        """Of a recording that is heard beside its text: up to where, and where it ends (ms)."""
        self.heard: Event[[int, Outcome]] = Event()
        """Its words, or those of the script with their times."""
        self.speakers_told: Event[[int, Told | str]] = Event()
        """Who says the words of a recording, or why that cannot be told."""
        self.prepared: Event[[int]] = Event()
        """The cleaned sound of a recording can be listened to."""
        self.speech_found: Event[[int]] = Event()
        """It is known where somebody speaks in a recording."""
        self.shots_found: Event[[int]] = Event()
        """It is known when the picture of a recording changes."""
        self.still_found: Event[[int, int, Frame]] = Event()
        """The picture of a recording at a time (ms)."""
        self.stills_done: Event[[int]] = Event()
        """All pictures that were asked for of a recording have been told, or cannot be read."""
        desk.add(self._take)

    def hear_again(self, recording_id: int, part: tuple[int, int], how: HearingOptions) -> None:
        """Transcribe a passage again at once; ``heard_again`` is emitted with its words."""
        self.stop(recording_id)
        recording = self._recordings.get(recording_id)
        how = self._with_terms(recording, how)
        self._pool.add(HearAgain(recording_id, recording.path, how, part))

    def hear(
        self, recording_id: int, script: Sequence[str] = (), into_english: bool = False
    ) -> None:
        """Transcribe a recording without touching its text, perhaps into English, or find the words
        of a script in it; ``heard`` is emitted."""
        self.stop(recording_id)
        recording = self._recordings.get(recording_id)
        how = replace(self._with_terms(recording, recording.how), into_english=into_english)
        part = recording.part
        self._pool.add(HearOnDemand(recording_id, recording.path, how, part, tuple(script)))

    def tell_speakers(
        self,
        recording_id: int,
        words: Sequence[Word],
        count: int = 0,
        speakers: Sequence[int | None] = (),
        certain: Sequence[bool] = (),
    ) -> None:
        """Find who says the words of a recording: ``count`` speakers, or the given ``speakers`` by
        their voices, those of ``certain`` words above all; ``speakers_told`` is emitted."""
        self.stop(recording_id)
        recording = self._recordings.get(recording_id)
        self._pool.add(
            TellSpeakers(
                recording_id,
                recording.path,
                recording.how.source,
                words=tuple(words),
                part=recording.part,
                count=count,
                speakers=tuple(speakers),
                certain=tuple(certain),
            )
        )

    def stop(self, recording_id: int) -> None:
        """Stop a task for a recording; nothing more is told of it."""
        self._pool.cancel_second_hearing(recording_id)

    def cleaned_sound(self, recording_id: int) -> Path | None:
        """Return a file with the cleaned sound, or None while it is made; ``prepared`` is emitted
        then."""
        recording = self._recordings.get(recording_id)
        source = replace(recording.how.source, clean=True)
        made = self._cleaned.get(recording_id)
        if made is not None and made[0] == source and made[1].is_file():
            return made[1]
        self._pool.add(Prepare(recording_id, recording.path, source))
        return None

    def speech(self, recording_id: int) -> Activity | None:
        """Return where somebody speaks, or None while that is found; ``speech_found`` is emitted
        then."""
        recording = self._recordings.get(recording_id)
        source = recording.how.source
        found = self._speech.get(recording_id)
        if found is None or found[0] != source:
            self._speech[recording_id] = (source, None)
            self._pool.add(FindSpeech(recording_id, recording.path, source))
            return None
        return found[1]

    def shots(self, recording_id: int) -> tuple[int, ...] | None:
        """Return when the picture changes (ms), or None while that is found; ``shots_found`` is
        emitted then."""
        recording = self._recordings.get(recording_id)
        if recording.info is None or recording.info.picture is None:
            return ()
        if recording_id not in self._shots:
            self._shots[recording_id] = None
            self._pool.add(FindShots(recording_id, recording.path))
        return self._shots[recording_id]

    def look_at(self, recording_id: int, times: Sequence[int]) -> None:
        """Decode the frames at some times (ms, rising); ``still_found`` is emitted for each, and
        ``stills_done`` at the end."""
        path = self._recordings.get(recording_id).path
        self._pool.add(FindStills(recording_id, path, tuple(times)))

    def forget(self, recording_id: int) -> None:
        """Drop what is kept of a recording that was removed."""
        self._cleaned.pop(recording_id, None)
        self._speech.pop(recording_id, None)
        self._shots.pop(recording_id, None)

    def _with_terms(self, recording: Recording, how: HearingOptions) -> HearingOptions:
        return replace(how, glossary=self._styles.glossary_of(recording))

    def _take(self, recording: Recording, news: News) -> bool:
        key = recording.id
        match news:
            case HeardAgain():
                self.heard_again.emit(key, news.words)
            case ListenedOnDemand():
                self.listened.emit(key, news.until, news.end)
            case HeardOnDemand():
                self.heard.emit(key, news.words)
            case SpeakersTold():
                self.speakers_told.emit(key, Told(news.speakers, news.voices))
            case Prepared():
                self._cleaned[key] = (news.source, news.path)
                self.prepared.emit(key)
            case SpeechFound():
                self._speech[key] = (news.source, news.activity)
                self.speech_found.emit(key)
            case ShotsFound():
                self._shots[key] = news.shots
                self.shots_found.emit(key)
            case StillFound():
                self.still_found.emit(key, news.time, _frame_of(news))
            case Done() if news.task == FindStills.__name__:
                self.stills_done.emit(key)
            case Failed() if news.task in _TASKS:
                self._failed(key, news)
            case Done() if news.task in _TASKS:
                pass
            case _:
                return False
        return True

    def _failed(self, key: int, news: Failed) -> None:
        if news.task == FindSpeech.__name__:
            self._speech.pop(key, None)
        if news.task == FindShots.__name__:
            self._shots[key] = ()
        if news.task == FindStills.__name__:
            # A picture that cannot be read is told where it is shown.
            self.stills_done.emit(key)
        elif news.task == HearAgain.__name__:
            self.heard_again.emit(key, news.reason)
        elif news.task == HearOnDemand.__name__:
            self.heard.emit(key, news.reason)
        elif news.task == TellSpeakers.__name__:
            self.speakers_told.emit(key, news.reason)
        else:
            self._trouble.emit(news.reason)


def _frame_of(news: StillFound) -> Frame:
    import av  # slow to import

    from tamarind.picture.compose import FORMAT

    frame = av.VideoFrame.from_ndarray(news.picture, FORMAT)
    frame.colorspace, frame.color_range = news.matrix, news.range
    return frame
