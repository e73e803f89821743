"""The queue of recordings to be transcribed.

Its order is that of the recordings. It is kept in the job, as are pause and bookmarks, so that a
program that was closed or killed goes on with it where it was.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.jobsettings import JobSettings
from tamarind.application.jobstyles import JobStyles
from tamarind.application.mediaprobe import MediaProbe
from tamarind.application.pooldesk import PoolDesk
from tamarind.application.recordings import Recordings
from tamarind.application.samevoices import SameVoices
from tamarind.application.texts import Texts
from tamarind.batch.messages import (
    Done,
    Failed,
    Hear,
    Heard,
    LanguageHeard,
    Started,
    VoicesKnown,
    VoicesSought,
)
from tamarind.batch.messages import Event as News
from tamarind.batch.timeleft import expected_seconds, seconds_in_queue
from tamarind.job.recording import Recording, State
from tamarind.job.settings import PAUSED, PERHAPS_SPEAKERS
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.later import Later
from tamarind.transcript.languages import UNDETERMINED, name_of
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.language import finishing
    from tamarind.speech.recognisers import catalogue
else:
    finishing = Later("tamarind.language.finishing")
    catalogue = Later("tamarind.speech.recognisers.catalogue")

NEWER = 0.5
"""What the last recording counts for when it is learned how fast this machine is."""


@dataclass(frozen=True, slots=True)
class Totals:
    """Counts of the batch: recordings asked for, done, failed; and the seconds left."""

    wanted: int
    done: int
    failed: int
    left: float
    side_by_side: int
    paused: bool


class TranscriptionQueue:
    """Puts recordings in the queue, takes them out, and keeps what is transcribed."""

    def __init__(
        self,
        desk: PoolDesk,
        recordings: Recordings,
        texts: Texts,
        *,
        settings: JobSettings,
        styles: JobStyles,
        media_probe: MediaProbe,
        same_voices: SameVoices,
        trouble: Event[[str]],
    ) -> None:
        self._desk, self._pool = desk, desk.pool
        self._recordings, self._texts = recordings, texts
        self._settings, self._styles = settings, styles
        self._media_probe, self._same_voices, self._trouble = media_probe, same_voices, trouble
        self._batch: dict[int, bool | None] = {}
        self._progress: dict[int, Heard] = {}
        self._voices_sought: dict[int, float] = {}
        self._to_hear: set[int] = set()
        self._slowness = 1.0
        self._paused = settings.get(PAUSED)
        self.changed: Event[[]] = Event()
        """The batch has moved: something was put in line, begun, ended, paused."""
        self.finished: Event[[Totals]] = Event()
        """The whole batch is done."""
        if self._paused:
            self._pool.pause()
        self._pool.warm_up()
        media_probe.known.connect(self._hear_known)
        desk.add(self._take)

    def take_up(self, recording: Recording) -> None:
        """Queue again, when a job is opened, what was queued when it was closed."""
        if recording.state is State.QUEUED:
            self._batch[recording.id] = None
            self._pool.add(self._task(recording))

    # What a person does

    def can_hear(self, recording: Recording) -> bool:
        """Whether a recording can be queued: ready, stopped, or with its text taken away."""
        if recording.state is State.DRAFT:
            return not self._texts.transcript(recording.id).cues
        return recording.can_be_heard and recording.duration > 0

    def transcribe(self, recording_ids: Sequence[int]) -> None:
        """Queue recordings; stopped ones go on where they were."""
        if not any(self._is_waiting(key) for key in self._batch):
            self._batch.clear()
        wanted = set(recording_ids)
        queued: list[Recording] = []
        for recording in self._recordings.all():
            if recording.id not in wanted or not self.can_hear(recording):
                continue
            problem = cannot_hear(recording)
            if problem is not None:
                self._trouble.emit(problem)
                continue
            how = catalogue.with_only_language(recording.how)
            asked = replace(recording, how=how, state=State.QUEUED, problem=None)
            queued.append(asked if recording.state is State.STOPPED else from_start(asked))
        self._recordings.change(*queued)
        self._batch |= {recording.id: None for recording in queued}
        self._pool.add(*map(self._task, queued))
        self._set_order()
        if self._paused:
            self.go_on()
        self._moved()

    def hear_in(self, recording_id: int, language: str) -> None:
        """Transcribe a recording from its start in another language than it was; its text is
        removed, which undo brings back."""
        self.cancel(recording_id)
        recording = self._recordings.get(recording_id)
        how = replace(recording.how, language=language)
        text = self._texts.transcript(recording_id)
        fresh = replace(from_start(recording), how=how, state=State.READY, problem=None, guesses=())
        self._recordings.change(fresh)
        if text.cues:
            self._texts.edit(
                recording_id, f"Transcribe in {name_of(language)}", Transcript(language)
            )
        self.transcribe([recording_id])

    def keep_language(self, recording_id: int) -> None:
        """Keep the chosen language, whatever the recording sounds like."""
        self._recordings.change(replace(self._recordings.get(recording_id), guesses=()))

    def look_again(self, *recording_ids: int) -> None:
        """Try failed recordings again, as after a file has come back."""
        for recording_id in recording_ids:
            recording = self._recordings.get(recording_id)
            if self._batch.get(recording_id) is False:
                self._to_hear.add(recording_id)
            self._recordings.change(replace(recording, state=State.ARRIVED, problem=None))
            self._media_probe.look(recording)

    def cancel(self, *recording_ids: int) -> None:
        """Stop transcribing recordings or take them out of the queue; their text so far stays."""
        self._pool.cancel(*recording_ids)
        self._desk.take_news()
        recordings = map(self._recordings.get, recording_ids)
        self._recordings.change(
            *(
                replace(r, state=State.STOPPED if r.bookmark else State.READY)
                for r in recordings
                if r.state is State.QUEUED
            )
        )
        for recording_id in recording_ids:
            self._progress.pop(recording_id, None)
            self._batch.pop(recording_id, None)
        self._moved()

    def cancel_all(self) -> None:
        """Empty the queue."""
        self.cancel(*(r.id for r in self._recordings.all() if r.state is State.QUEUED))

    def pause(self) -> None:
        """Free processor and memory; the queue stays, also when the job is closed."""
        self._set_paused(True)
        self._pool.pause()
        self._desk.take_news()
        self._moved()

    def go_on(self) -> None:
        """Continue after a pause."""
        self._set_paused(False)
        self._pool.go_on()
        self._moved()

    @property
    def paused(self) -> bool:
        """Whether the queue is paused."""
        return self._paused

    def follow_order(self) -> None:
        """Put the queue into the order of the recordings."""
        self._set_order()
        self._moved()

    def forget(self, recording_id: int) -> None:
        """Drop a recording that was removed."""
        self._pool.forget(recording_id)
        self._desk.take_news()
        self._progress.pop(recording_id, None)
        self._voices_sought.pop(recording_id, None)
        self._batch.pop(recording_id, None)

    # What is told of it

    def progress(self, recording_id: int) -> Heard | None:
        """Return the latest progress of a recording that is being transcribed."""
        return self._progress.get(recording_id)

    def voices_sought(self, recording_id: int) -> float | None:
        """Return the share (0 to 1) of a recording that was searched for voices, before any word is
        recognised."""
        return self._voices_sought.get(recording_id)

    def is_being_heard(self, recording_id: int) -> bool:
        """Whether a recording is being transcribed now."""
        return recording_id in self._pool.active()

    def place_in_queue(self, recording_id: int) -> int | None:
        """Return the place of a recording in the queue; 1 is next."""
        waiting = self._pool.waiting()
        return waiting.index(recording_id) + 1 if recording_id in waiting else None

    def expected(self, recording: Recording) -> float:
        """Estimate the seconds that transcribing a recording, or its rest, takes on this
        machine."""
        start = max(recording.part[0], recording.heard_until)
        length = max(recording.part_end - start, 0) / 1000
        return expected_seconds(length, recording.how) * self._slowness

    def seconds_for(self, recordings: Sequence[Recording]) -> float:
        """Estimate the seconds that transcribing all of these takes, in parallel as far as that
        helps."""
        return seconds_in_queue([], [self.expected(r) for r in recordings], self._pool.hearers())

    def totals(self) -> Totals:
        """Return the counts of the batch and the seconds left."""
        active = self._pool.active()
        begun = [
            self._progress[key].work.left
            if key in self._progress
            else self.expected(self._recordings.get(key))
            for key in active
        ]
        waiting = [self.expected(self._recordings.get(key)) for key in self._pool.waiting()]
        results = list(self._batch.values())
        return Totals(
            len(results),
            results.count(True),
            results.count(False),
            left=seconds_in_queue(begun, waiting, self._pool.hearers()),
            side_by_side=len(active),
            paused=self._paused,
        )

    # News from the pool

    def _take(self, recording: Recording, news: News) -> bool:
        match news:
            case Started():
                self._voices_sought.pop(recording.id, None)
                self._moved()
            case VoicesSought():
                self._voices_sought[recording.id] = news.share
                self._moved()
            case LanguageHeard():
                self._language_heard(recording, news)
            case VoicesKnown():
                self._settings.keep(PERHAPS_SPEAKERS.numbered(recording.id), news.perhaps)
                self._recordings.change(replace(recording, voices=news.voices))
            case Heard():
                if recording.state is State.QUEUED:
                    self._heard(recording, news)
            case Done():
                if news.task == Hear.__name__:
                    self._done(recording)
            case Failed():
                self._failed(recording, news)
            case _:
                return False
        return True

    def _language_heard(self, recording: Recording, news: LanguageHeard) -> None:
        """Take the detected language as the recording's, unless one was chosen."""
        how, guesses = recording.how, news.guesses
        if how.language == UNDETERMINED and guesses:
            how = replace(how, language=guesses[0].language)
        self._recordings.change(replace(recording, how=how, guesses=guesses))

    def _heard(self, recording: Recording, news: Heard) -> None:
        self._progress[recording.id] = news
        unheard = (*recording.unheard, *news.unheard)
        at_once = (*recording.at_once, *news.at_once)
        now = replace(
            recording,
            heard_until=news.until,
            bookmark=news.bookmark,
            unheard=unheard,
            at_once=at_once,
        )
        self._texts.append_heard(now, news.cues)

    def _done(self, recording: Recording) -> None:
        news = self._progress.pop(recording.id, None)
        if news is not None and news.work.begun == 0:
            length = (recording.part_end - recording.part[0]) / 1000
            slowness = news.work.seconds / max(expected_seconds(length, recording.how), 0.1)
            self._slowness += NEWER * (slowness - self._slowness)
        style = self._styles.of(recording)
        terms = [term.text for term in self._styles.glossary_of(recording).terms]
        text = finishing.finished(self._texts.transcript(recording.id), style, terms)
        text = self._same_voices.named(recording, text)
        self._texts.finish(recording.id, "paragraphs and names", text)
        self._recordings.change(
            replace(recording, state=State.DRAFT, heard_until=recording.part_end, bookmark="")
        )
        self._ended(recording.id, well=True)

    def _failed(self, recording: Recording, news: Failed) -> None:
        self._progress.pop(recording.id, None)
        self._media_probe.forget(recording.id)
        hearing = news.task == Hear.__name__
        if not hearing and self._texts.transcript(recording.id).cues:
            # The text is there and stays usable; only the sound is missing.
            state = recording.state
        elif hearing and recording.bookmark:
            state = State.STOPPED
        else:
            state = State.FAILED
        if not hearing and self._is_waiting(recording.id):
            self._pool.cancel(recording.id)
            hearing = True
        self._recordings.change(replace(recording, state=state, problem=news.reason))
        if hearing:
            self._ended(recording.id, well=False)
        self._moved()

    def _ended(self, recording_id: int, well: bool) -> None:
        if recording_id in self._batch:
            self._batch[recording_id] = well
        self._moved()
        if self._batch and not any(self._is_waiting(key) for key in self._batch):
            self.finished.emit(self.totals())

    def _hear_known(self, recording_id: int) -> None:
        """Queue again the recordings whose files were read again."""
        if recording_id in self._to_hear:
            self._to_hear.discard(recording_id)
            self.transcribe([recording_id])

    def _task(self, recording: Recording) -> Hear:
        how = replace(recording.how, glossary=self._styles.glossary_of(recording))
        limits = self._styles.of(recording).captions
        return Hear(
            recording.id,
            recording.path,
            how,
            part=recording.part,
            limits=limits,
            bookmark=recording.bookmark,
        )

    def _is_waiting(self, recording_id: int) -> bool:
        there = self._recordings.has(recording_id)
        return there and self._recordings.get(recording_id).state is State.QUEUED

    def _set_paused(self, paused: bool) -> None:
        self._paused = paused
        self._settings.keep(PAUSED, paused)

    def _set_order(self) -> None:
        self._pool.set_order([recording.id for recording in self._recordings.all()])

    def _moved(self) -> None:
        self.changed.emit()
        self._recordings.list_changed.emit()


def from_start(recording: Recording) -> Recording:
    """Return the recording as it was before it was transcribed."""
    return replace(
        recording,
        heard_until=recording.part[0],
        unheard=(),
        at_once=(),
        bookmark="",
        voices=(),
    )


def cannot_hear(recording: Recording) -> str | None:
    """Return a sentence on why no recogniser here can transcribe a recording as chosen, or ""."""
    how = recording.how
    try:
        chosen = catalogue.choice(how.recogniser)
        if how.language == UNDETERMINED:
            catalogue.check(how)
            return None
    except RecogniserError as error:
        return str(error)
    unknown = [language for language in how.languages if not chosen.hears(language)]
    if not unknown:
        return None
    return (
        f"Nothing here recognises {name_of(unknown[0])} yet: choose a model that does,"
        f" under Recogniser."
    )
