"""The work in the background of the open job: looking at files, hearing them in line, and the rest.

The line's order is that of the recordings. It is kept in the job, as are pause and bookmarks, so
that a program that was closed or killed goes on with it where it was.
"""

from __future__ import annotations

import queue
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QObject, Signal

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import is_whole, known_fingerprint
from tamarind.audio.peaks import Peaks
from tamarind.audio.source import Source
from tamarind.batch.crew import Crew
from tamarind.batch.messages import (
    Decode,
    Done,
    Drawn,
    Event,
    Failed,
    FindShots,
    FindSpeech,
    Hear,
    HearAgain,
    HearAside,
    Heard,
    HeardAgain,
    HeardAside,
    Identified,
    Known,
    ListenedAside,
    Look,
    Prepare,
    Prepared,
    ShotsFound,
    SoundReady,
    SpeechFound,
    Started,
    VoicesSought,
)
from tamarind.batch.pace import Pace, pace_file
from tamarind.batch.timeleft import expected_seconds, seconds_in_line
from tamarind.job.recording import Recording, State
from tamarind.speech.activity import Activity
from tamarind.speech.glossary import Glossary
from tamarind.speech.howtohear import HowToHear

if TYPE_CHECKING:
    from tamarind.desktop.session import Session

PAUSED = "paused"
CHANGED = (
    "The file is another one than that which this text is of: put the old one back, or bring the"
    " new one in under another name."
)

NEWER = 0.5
"""What the last recording counts for when it is learned how fast this machine is."""

_ASIDE = {
    HearAgain.__name__,
    HearAside.__name__,
    Prepare.__name__,
    FindSpeech.__name__,
    FindShots.__name__,
}
"""Tasks whose end changes nothing in the job."""


@dataclass(frozen=True, slots=True)
class Totals:
    """Of the batch: how many were asked for, are done, and could not be; the seconds left."""

    wanted: int
    done: int
    failed: int
    left: float
    side_by_side: int
    paused: bool


class Background(QObject):
    """What the crew does for a job, and what is told of it."""

    line_changed = Signal()
    """The batch has moved: something was put in line, begun, ended, paused."""
    finished = Signal(object)
    """The whole batch is done; its totals."""
    listened_aside = Signal(int, int, int)
    """Of a recording that is heard beside its text: up to where, and where it ends (ms)."""
    heard_aside = Signal(int, object)
    """Its words, or those of the script with their times; or why not, a sentence."""
    heard_again = Signal(int, object)
    """A passage of a recording was heard again: its words, or why it could not be, a sentence."""
    prepared = Signal(int)
    """The cleaned sound of a recording can be listened to."""
    speech_found = Signal(int)
    shots_found = Signal(int)
    """It is known where somebody speaks in a recording."""
    _news = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._events: queue.SimpleQueue[Event] = queue.SimpleQueue()
        self._closed = False
        self._batch: dict[int, bool | None] = {}
        self._progress: dict[int, Heard] = {}
        self._voices_sought: dict[int, float] = {}
        self._drawn: dict[int, list[Peaks]] = {}
        self._cleaned: dict[int, tuple[Source, Path]] = {}
        self._speech: dict[int, tuple[Source, Activity | None]] = {}
        self._shots: dict[int, tuple[int, ...] | None] = {}
        self._to_hear: set[int] = set()
        self._slowness = 1.0
        self._paused = session.setting(PAUSED) == "yes"
        self._crew = Crew(self._tell, Pace(file=pace_file()))
        if self._paused:
            self._crew.pause()
        self._crew.warm_up()
        self._news.connect(self._take_news)
        soundcache.clear_away()

    def take_up(self) -> None:
        """On opening: the line goes on where it was; what is not known yet is looked at."""
        for recording in self._session.recordings():
            if recording.state is State.QUEUED:
                self._batch[recording.id] = None
                self._crew.add(self._task(recording, self._session.glossary()))
            if self._is_unknown(recording):
                self.look(recording)
            elif not self._session.has_sound(recording.id):
                self._crew.add(Decode(recording.id, recording.path))

    def close(self) -> None:
        """Stop all work; what was heard so far has been written, and the rest stays in line."""
        self._crew.close()
        self._take_news()
        self._closed = True

    def _is_unknown(self, recording: Recording) -> bool:
        """Whether it is to be looked at: nothing is known of it, or its file may have changed."""
        if recording.info is None or recording.state is State.ARRIVED:
            return True
        return known_fingerprint(recording.path) != recording.fingerprint

    # Looking

    def look(self, *recordings: Recording) -> None:
        """Find out what files are."""
        self._crew.add(*(Look(recording.id, recording.path) for recording in recordings))

    def look_again(self, *recording_ids: int) -> None:
        """Try recordings that could not be heard once more, as after a file has come back."""
        for recording_id in recording_ids:
            recording = self._session.recording(recording_id)
            if self._batch.get(recording_id) is False:
                self._to_hear.add(recording_id)
            self._session.change_recording(replace(recording, state=State.ARRIVED, problem=None))
            self.look(recording)

    def drawn(self, recording_id: int) -> Peaks | None:
        """The peaks of a recording that is being decoded, as far as they have come."""
        parts = self._drawn.get(recording_id)
        if not parts:
            return None
        if len(parts) > 1:
            parts[:] = [np.concatenate(parts)]
        return parts[0]

    # The line

    def can_hear(self, recording: Recording) -> bool:
        """Whether a recording can be put in line: ready, stopped, or with its text taken away."""
        if recording.state is State.DRAFT:
            return not self._session.transcript(recording.id).cues
        return recording.can_be_heard and recording.duration > 0

    def transcribe(self, recording_ids: Sequence[int]) -> None:
        """Put recordings in line to be heard; stopped ones go on where they were."""
        if not any(self._is_in_line(key) for key in self._batch):
            self._batch.clear()
        wanted = set(recording_ids)
        queued: list[Recording] = []
        for recording in self._session.recordings():
            if recording.id not in wanted or not self.can_hear(recording):
                continue
            problem = self._session.cannot_hear(recording)
            if problem is not None:
                self._session.trouble.emit(problem)
                continue
            asked = replace(recording, state=State.QUEUED, problem=None)
            queued.append(asked if recording.state is State.STOPPED else from_start(asked))
        self._session.change_recordings(queued)
        self._batch |= {recording.id: None for recording in queued}
        glossary = self._session.glossary()
        self._crew.add(*(self._task(recording, glossary) for recording in queued))
        self._follow_order()
        if self._paused:
            self.go_on()
        self._moved()

    def cancel(self, *recording_ids: int) -> None:
        """Stop hearing recordings or take them out of the line; what was heard stays."""
        self._crew.cancel(*recording_ids)
        self._take_news()
        recordings = map(self._session.recording, recording_ids)
        self._session.change_recordings(
            [
                replace(r, state=State.STOPPED if r.bookmark else State.READY)
                for r in recordings
                if r.state is State.QUEUED
            ]
        )
        for recording_id in recording_ids:
            self._progress.pop(recording_id, None)
            self._batch.pop(recording_id, None)
        self._moved()

    def cancel_all(self) -> None:
        """Empty the line."""
        self.cancel(*(r.id for r in self._session.recordings() if r.state is State.QUEUED))

    def pause(self) -> None:
        """Give processor and memory back; the line stays as it is, also when the job is closed."""
        self._set_paused(True)
        self._crew.pause()
        self._take_news()
        self._moved()

    def go_on(self) -> None:
        """Go on after a pause."""
        self._set_paused(False)
        self._crew.go_on()
        self._moved()

    def _set_paused(self, paused: bool) -> None:
        self._paused = paused
        self._session.keep_setting(PAUSED, "yes" if paused else "")

    @property
    def paused(self) -> bool:
        """Whether the line waits for the person."""
        return self._paused

    def forget(self, recording_id: int) -> None:
        """A recording goes out of the job."""
        self._crew.forget(recording_id)
        self._take_news()
        for held in (
            self._progress,
            self._voices_sought,
            self._drawn,
            self._cleaned,
            self._speech,
            self._shots,
            self._batch,
        ):
            held.pop(recording_id, None)

    def follow_order(self) -> None:
        """The recordings have changed places; those in line follow."""
        self._follow_order()
        self._moved()

    def _follow_order(self) -> None:
        self._crew.set_order([recording.id for recording in self._session.recordings()])

    def _task(self, recording: Recording, glossary: Glossary) -> Hear:
        how = replace(recording.how, glossary=glossary)
        limits = self._session.style_of(recording).captions
        return Hear(recording.id, recording.path, how, recording.part, limits, recording.bookmark)

    # What is told of it

    def progress(self, recording_id: int) -> Heard | None:
        """The last news of a recording being heard."""
        return self._progress.get(recording_id)

    def voices_sought(self, recording_id: int) -> float | None:
        """How much of it (0 to 1) was gone through for voices before any word is recognised."""
        return self._voices_sought.get(recording_id)

    def is_being_heard(self, recording_id: int) -> bool:
        """Whether it is this recording's turn."""
        return recording_id in self._crew.active()

    def place_in_line(self, recording_id: int) -> int | None:
        """1 for the next to be heard, and so on."""
        waiting = self._crew.waiting()
        return waiting.index(recording_id) + 1 if recording_id in waiting else None

    def expected(self, recording: Recording) -> float:
        """The seconds that hearing a recording, or the rest of it, may take on this machine."""
        start = max(recording.part[0], recording.heard_until)
        length = max(recording.part_end - start, 0) / 1000
        return expected_seconds(length, recording.how) * self._slowness

    def seconds_for(self, recordings: Sequence[Recording]) -> float:
        """The seconds that hearing all of these may take, as many side by side as help."""
        return seconds_in_line([], [self.expected(r) for r in recordings], self._crew.hearers())

    def totals(self) -> Totals:
        """How far the batch is."""
        active = self._crew.active()
        begun = [
            self._progress[key].work.left
            if key in self._progress
            else self.expected(self._session.recording(key))
            for key in active
        ]
        waiting = [self.expected(self._session.recording(key)) for key in self._crew.waiting()]
        results = list(self._batch.values())
        return Totals(
            len(results),
            results.count(True),
            results.count(False),
            seconds_in_line(begun, waiting, self._crew.hearers()),
            len(active),
            self._paused,
        )

    # Beside the line

    def hear_again(self, recording_id: int, part: tuple[int, int], how: HowToHear) -> None:
        """Hear a passage a second time, whatever else is being heard; ``heard_again`` tells."""
        self._crew.cancel_second_hearing(recording_id)
        how = replace(how, glossary=self._session.glossary())
        path = self._session.recording(recording_id).path
        self._crew.add(HearAgain(recording_id, path, how, part))

    def stop_hearing_again(self, recording_id: int) -> None:
        """Nothing more is told of the second hearing that is under way."""
        self._crew.cancel_second_hearing(recording_id)

    def hear_aside(self, recording_id: int, script: Sequence[str] = ()) -> None:
        """Hear a recording beside its text, or find the words of a script in it; ``heard_aside``
        tells."""
        self._crew.cancel_second_hearing(recording_id)
        recording = self._session.recording(recording_id)
        how = replace(recording.how, glossary=self._session.glossary())
        part = recording.part
        self._crew.add(HearAside(recording_id, recording.path, how, part, tuple(script)))

    def cleaned_sound(self, recording_id: int) -> Path | None:
        """A file with what is heard after clean-up; None while it is made, ``prepared`` tells."""
        recording = self._session.recording(recording_id)
        source = replace(recording.how.source, clean=True)
        made = self._cleaned.get(recording_id)
        if made is not None and made[0] == source and made[1].is_file():
            return made[1]
        self._crew.add(Prepare(recording_id, recording.path, source))
        return None

    def speech(self, recording_id: int) -> Activity | None:
        """Where somebody speaks; None while that is being found, ``speech_found`` tells."""
        recording = self._session.recording(recording_id)
        source = recording.how.source
        found = self._speech.get(recording_id)
        if found is None or found[0] != source:
            self._speech[recording_id] = (source, None)
            self._crew.add(FindSpeech(recording_id, recording.path, source))
            return None
        return found[1]

    def shots(self, recording_id: int) -> tuple[int, ...] | None:
        """When the picture changes (ms); None while that is being found, ``shots_found`` tells."""
        recording = self._session.recording(recording_id)
        if recording.info is None or recording.info.picture is None:
            return ()
        if recording_id not in self._shots:
            self._shots[recording_id] = None
            self._crew.add(FindShots(recording_id, recording.path))
        return self._shots[recording_id]

    def typed_by_hand(self, recording_id: int) -> None:
        """A recording has got empty cues: it is a draft, whatever of it was heard."""
        recording = self._session.recording(recording_id)
        if recording.state is not State.FAILED:
            self._session.change_recording(
                replace(recording, state=State.DRAFT, problem=None, bookmark="")
            )

    # News from the crew

    def _tell(self, event: Event) -> None:
        self._events.put(event)
        self._news.emit()

    def _take_news(self) -> None:
        while True:
            try:
                event = self._events.get_nowait()
            except queue.Empty:
                return
            if not self._closed and self._session.has(event.key):
                self._take(event, self._session.recording(event.key))

    def _take(self, event: Event, recording: Recording) -> None:
        change: Callable[[Recording], None] = self._session.change_recording
        match event:
            case HeardAgain():
                self.heard_again.emit(recording.id, event.words)
            case ListenedAside():
                self.listened_aside.emit(recording.id, event.until, event.end)
            case HeardAside():
                self.heard_aside.emit(recording.id, event.words)
            case Prepared():
                self._cleaned[recording.id] = (event.source, event.path)
                self.prepared.emit(recording.id)
            case SpeechFound():
                self._speech[recording.id] = (event.source, event.activity)
                self.speech_found.emit(recording.id)
            case ShotsFound():
                self._shots[recording.id] = event.shots
                self.shots_found.emit(recording.id)
            case Done() | Failed() if event.task in _ASIDE:
                if isinstance(event, Failed):
                    self._aside_failed(recording, event)
            case Known():
                self._known(recording, event)
            case Identified():
                self._identified(recording, event.fingerprint)
            case Drawn():
                self._drawn.setdefault(recording.id, []).append(event.peaks)
                self._session.recording_changed.emit(recording.id)
            case SoundReady():
                self._drawn.pop(recording.id, None)
                fresh = recording.state is State.ARRIVED
                state = State.READY if fresh else recording.state
                length = event.duration if event.is_whole else recording.duration
                changed = self._is_changed(recording, event.fingerprint)
                change(
                    replace(
                        recording,
                        duration=length,
                        state=state,
                        problem=CHANGED if changed else event.damage,
                        fingerprint=event.fingerprint or recording.fingerprint,
                    )
                )
            case Started():
                self._voices_sought.pop(recording.id, None)
                self._moved()
            case VoicesSought():
                self._voices_sought[recording.id] = event.share
                self._moved()
            case Heard() if recording.state is State.QUEUED:
                self._progress[recording.id] = event
                self._session.append_heard(
                    replace(
                        recording,
                        heard_until=event.until,
                        bookmark=event.bookmark,
                        unheard=(*recording.unheard, *event.unheard),
                    ),
                    event.cues,
                )
            case Done() if event.task == Hear.__name__:
                self._done(recording)
            case Failed():
                self._failed(recording, event)

    def _known(self, recording: Recording, event: Known) -> None:
        duration = recording.duration or event.info.duration
        ready = recording.state is State.ARRIVED and duration > 0
        self._session.change_recording(
            replace(
                recording,
                info=event.info,
                duration=duration,
                state=State.READY if ready else recording.state,
            )
        )
        if recording.id in self._to_hear:
            self._to_hear.discard(recording.id)
            self.transcribe([recording.id])

    def _identified(self, recording: Recording, mark: str) -> None:
        """It is known which file it is, and so whether its sound is at hand."""
        problem = CHANGED if self._is_changed(recording, mark) else recording.problem
        if (mark, problem) != (recording.fingerprint, recording.problem):
            self._session.change_recording(replace(recording, fingerprint=mark, problem=problem))
        if not self._session.has_sound(recording.id):
            self._crew.add(Decode(recording.id, recording.path))

    def _is_changed(self, recording: Recording, mark: str) -> bool:
        """Whether the file is another one than that which the text is of."""
        known = is_whole(recording.fingerprint) and is_whole(mark)
        has_text = bool(self._session.transcript(recording.id).cues)
        return known and has_text and mark != recording.fingerprint

    def _done(self, recording: Recording) -> None:
        news = self._progress.pop(recording.id, None)
        if news is not None and news.work.begun == 0:
            length = (recording.part_end - recording.part[0]) / 1000
            slowness = news.work.seconds / max(expected_seconds(length, recording.how), 0.1)
            self._slowness += NEWER * (slowness - self._slowness)
        self._session.change_recording(
            replace(recording, state=State.DRAFT, heard_until=recording.part_end, bookmark="")
        )
        self._ended(recording.id, well=True)

    def _failed(self, recording: Recording, event: Failed) -> None:
        self._progress.pop(recording.id, None)
        self._drawn.pop(recording.id, None)
        hearing = event.task == Hear.__name__
        if not hearing and self._session.transcript(recording.id).cues:
            # The text is there and stays usable; only the sound is missing.
            state = recording.state
        elif hearing and recording.bookmark:
            state = State.STOPPED
        else:
            state = State.FAILED
        if not hearing and self._is_in_line(recording.id):
            self._crew.cancel(recording.id)
            hearing = True
        self._session.change_recording(replace(recording, state=state, problem=event.reason))
        if hearing:
            self._ended(recording.id, well=False)
        self._moved()

    def _aside_failed(self, recording: Recording, event: Failed) -> None:
        if event.task == FindSpeech.__name__:
            self._speech.pop(recording.id, None)
        if event.task == FindShots.__name__:
            self._shots[recording.id] = ()
        if event.task == HearAgain.__name__:
            self.heard_again.emit(recording.id, event.reason)
        elif event.task == HearAside.__name__:
            self.heard_aside.emit(recording.id, event.reason)
        else:
            self._session.trouble.emit(event.reason)

    def _ended(self, recording_id: int, well: bool) -> None:
        if recording_id in self._batch:
            self._batch[recording_id] = well
        self._moved()
        if self._batch and not any(self._is_in_line(key) for key in self._batch):
            self.finished.emit(self.totals())

    def _is_in_line(self, recording_id: int) -> bool:
        there = self._session.has(recording_id)
        return there and self._session.recording(recording_id).state is State.QUEUED

    def _moved(self) -> None:
        self.line_changed.emit()
        self._session.recordings_changed.emit()


def from_start(recording: Recording) -> Recording:
    """The recording as before anything of it was heard."""
    return replace(recording, heard_until=recording.part[0], unheard=(), bookmark="")
