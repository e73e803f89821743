"""The open job as the window sees it: recordings, texts, undo, and the work in the background."""

from __future__ import annotations

import gc
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from tamarind.audio import soundcache
from tamarind.audio.peaks import Peaks
from tamarind.audio.soundcache import Sound
from tamarind.audio.source import Source
from tamarind.batch.crew import Crew
from tamarind.batch.messages import (
    Done,
    Event,
    Failed,
    Hear,
    HearAgain,
    Heard,
    HeardAgain,
    Known,
    Look,
    Prepare,
    Prepared,
    SoundReady,
    Started,
)
from tamarind.desktop.languages import name_of
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.job.document import Document
from tamarind.job.recording import Recording, State
from tamarind.job.store import JobError, JobStore
from tamarind.speech.glossary import Glossary, read_glossary, write_glossary
from tamarind.speech.howtohear import HowToHear
from tamarind.speech.recognisers.catalogue import choice
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.turns import Turn
from tamarind.transcript.edits import with_voices
from tamarind.transcript.history import History, Step
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import Survey

GLOSSARY = "glossary"

_ASIDE = {HearAgain.__name__, Prepare.__name__}
"""Tasks whose end changes nothing in the job."""


class Session(QObject):
    """All that the screens share. Every change goes through here and is on disk when it returns."""

    recordings_changed = Signal()
    recording_changed = Signal(int)
    document_changed = Signal(int)
    shown_changed = Signal()
    heard_again = Signal(int, object)
    """A passage of a recording was heard again: its words, or why it could not be, a sentence."""
    prepared = Signal(int)
    """The cleaned sound of a recording can be listened to."""
    saved = Signal()
    trouble = Signal(str)
    _event = Signal(object)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self._recordings = {r.id: r for r in store.recordings()}
        self._documents: dict[int, Document] = {}
        self._on_disk: dict[int, Document] = {}
        self._sounds: dict[int, tuple[Sound, Peaks]] = {}
        self._history: History[Document] = History()
        self._progress: dict[int, Heard] = {}
        self._cleaned: dict[int, tuple[Source, Path]] = {}
        self._began_at: dict[int, int] = {}
        self._closed = False
        self._surveys: dict[int, Survey] = {}
        self._event.connect(self._take_event)
        self._crew = Crew(self._event.emit)
        self.shown: int | None = next(iter(self._recordings), None)
        last = store.setting("shown")
        if last.isdigit() and int(last) in self._recordings:
            self.shown = int(last)
        for recording in list(self._recordings.values()):
            self._take_up(recording)

    @property
    def name(self) -> str:
        """The job's name."""
        return self.store.path.stem

    def close(self) -> None:
        """Stop background work and close the job; news that are still on their way are late."""
        self._closed = True
        self._crew.close()
        for recording_id, before in self._on_disk.items():
            now = self._documents[recording_id]
            self._write(
                lambda key=recording_id, a=before, b=now: self.store.save_document(key, a, b)
            )
        self.store.close()

    # Recordings

    def recordings(self) -> list[Recording]:
        """All recordings in order."""
        return list(self._recordings.values())

    def recording(self, recording_id: int) -> Recording:
        """One recording as it is now."""
        return self._recordings[recording_id]

    def shown_recording(self) -> Recording | None:
        """The recording that Proof, Translation and the transport show."""
        return self._recordings.get(self.shown) if self.shown is not None else None

    def show(self, recording_id: int) -> None:
        """Make a recording the one that is shown."""
        if recording_id != self.shown and recording_id in self._recordings:
            self.shown = recording_id
            self._write(lambda: self.store.set_setting("shown", str(recording_id)))
            self.shown_changed.emit()

    def add_files(self, paths: Sequence[Path]) -> tuple[int, int]:
        """Take files, and the files in folders, into the job; (added, already there)."""
        there = {recording.path.resolve() for recording in self._recordings.values()}
        added = known = 0
        for path in _files_in(paths):
            if path.resolve() in there:
                known += 1
                continue
            there.add(path.resolve())
            try:
                recording = self.store.add_recording(path)
            except JobError as error:
                self.trouble.emit(str(error))
                break
            self._recordings[recording.id] = recording
            self._crew.add(Look(recording.id, recording.path))
            added += 1
        if added:
            if self.shown is None:
                self.shown = next(iter(self._recordings))
                self.shown_changed.emit()
            self.recordings_changed.emit()
        return added, known

    def remove(self, recording_id: int) -> None:
        """Take a recording out of the job; its file stays."""
        self._crew.cancel(recording_id)
        self._crew.cancel_second_hearing(recording_id)
        self._write(lambda: self.store.remove_recording(recording_id))
        for held in (
            self._recordings,
            self._documents,
            self._on_disk,
            self._sounds,
            self._progress,
            self._surveys,
        ):
            held.pop(recording_id, None)
        self._history.forget(recording_id)
        if self.shown == recording_id:
            self.shown = next(iter(self._recordings), None)
            self.shown_changed.emit()
        self.recordings_changed.emit()

    def change_recording(self, recording: Recording) -> None:
        """Keep and tell what is now known of a recording."""
        if recording.id in self._recordings:
            if recording.language != self._recordings[recording.id].language:
                self._follow_language(recording)
            self._recordings[recording.id] = recording
            self._write(lambda: self.store.save_recording(recording))
            self.recording_changed.emit(recording.id)

    def _follow_language(self, recording: Recording) -> None:
        """A text that is still empty will be in the recording's language."""
        held = self._documents.get(recording.id)
        if held is not None and not held.transcript.cues:
            text = replace(held.transcript, language=recording.language)
            self._documents[recording.id] = held.with_transcript(text)

    def peaks(self, recording_id: int) -> Peaks | None:
        """The recording's peaks, once its sound has been decoded."""
        entry = self._sound_entry(recording_id)
        return entry[1] if entry else None

    def look_again(self, recording_id: int) -> None:
        """Try a recording that could not be heard once more, as after its file has come back."""
        recording = self.recording(recording_id)
        self.change_recording(replace(recording, state=State.ARRIVED, problem=None))
        self._crew.add(Look(recording_id, recording.path))

    # Texts

    def document(self, recording_id: int) -> Document:
        """A recording's text as it is now."""
        if recording_id not in self._documents:
            # A long text is hundreds of thousands of small values that never form a cycle:
            # looking for cycles among them would hold up keystrokes later.
            gc.disable()
            self._documents[recording_id] = self.store.document(recording_id)
            gc.freeze()
            gc.enable()
        return self._documents[recording_id]

    def transcript(self, recording_id: int) -> Transcript:
        """A recording's source text as it is now."""
        return self.document(recording_id).transcript

    def survey(self, recording_id: int) -> Survey:
        """Words, doubts and what is proofed of a recording's source text."""
        survey = self._surveys.setdefault(recording_id, Survey())
        return survey.follow(self.transcript(recording_id))

    def edit(
        self, recording_id: int, label: str, transcript: Transcript, group: str | None = None
    ) -> None:
        """Put an edited source text in place of the old; tracks follow it."""
        document = self.document(recording_id)
        self.edit_document(recording_id, label, document.with_transcript(transcript), group)

    def edit_document(
        self, recording_id: int, label: str, document: Document, group: str | None = None
    ) -> None:
        """Put an edited document in place of the old, on disk and for undo."""
        before = self.document(recording_id)
        if document is before:
            return
        self._history.add(Step(recording_id, label, before, document, group))
        self._set_document(recording_id, document)

    def close_edit_group(self) -> None:
        """What is typed from now on is a step of its own for undo."""
        self._history.close_group()

    def undo(self) -> int | None:
        """Take the last step back; the recording it was in."""
        step = self._history.undo()
        if step:
            self._set_document(step.key, step.before)
        return step.key if step else None

    def redo(self) -> int | None:
        """Make the last undone step again; the recording it is in."""
        step = self._history.redo()
        if step:
            self._set_document(step.key, step.after)
        return step.key if step else None

    def undo_labels(self) -> tuple[str | None, str | None]:
        """What undo and redo would do."""
        return self._history.undo_label, self._history.redo_label

    def import_text(self, recording_id: int, path: Path) -> None:
        """Take a caption file as a recording's text; raises FormatError."""
        recording = self.recording(recording_id)
        if recording.state is State.QUEUED:
            raise FormatError("the recording is being heard; cancel that first.")
        transcript, _ = documents.read(path, recording.language)
        self.edit(recording_id, f"text from {path.name}", transcript)
        if recording.state is not State.FAILED:
            self.change_recording(replace(recording, state=State.DRAFT, problem=None))

    def _set_document(self, recording_id: int, document: Document) -> None:
        before = self._on_disk.get(recording_id, self.document(recording_id))
        self._documents[recording_id] = document
        if self._write(lambda: self.store.save_document(recording_id, before, document)):
            self._on_disk.pop(recording_id, None)
        else:
            # The next save writes what this one could not.
            self._on_disk[recording_id] = before
        self.document_changed.emit(recording_id)

    # Hearing

    def can_hear(self, recording: Recording) -> bool:
        """Whether a recording can be put in line: ready, stopped, or with its text taken away."""
        if recording.state is State.DRAFT:
            return not self.transcript(recording.id).cues
        return recording.can_be_heard and recording.duration > 0

    def cannot_hear(self, recording: Recording) -> str | None:
        """Why nothing here can hear a recording in the way that was chosen, a sentence."""
        how = recording.how
        try:
            chosen = choice(how.recogniser)
        except RecogniserError as error:
            return str(error)
        if chosen.hears(how.language):
            return None
        return (
            f"Nothing here hears {name_of(how.language)} yet: choose a model that does under"
            " Recogniser."
        )

    def glossary(self) -> Glossary:
        """The names and terms to listen for in this job."""
        return read_glossary(self.store.setting(GLOSSARY))

    def set_glossary(self, glossary: Glossary) -> None:
        """Keep a job's names and terms; what is heard from now on is heard with them."""
        self.store.set_setting(GLOSSARY, write_glossary(glossary))
        self.recordings_changed.emit()

    def transcribe(self, recording_ids: Sequence[int]) -> None:
        """Put recordings in line to be heard, in this order; stopped ones go on where they were."""
        for recording_id in recording_ids:
            recording = self.recording(recording_id)
            if not self.can_hear(recording):
                continue
            problem = self.cannot_hear(recording)
            if problem is not None:
                self.trouble.emit(problem)
                continue
            go_on = recording.state is State.STOPPED
            start = max(recording.part[0], recording.heard_until) if go_on else recording.part[0]
            self._began_at[recording_id] = start
            cues = self.transcript(recording_id).cues
            self.change_recording(
                replace(
                    recording,
                    state=State.QUEUED,
                    problem=None,
                    heard_until=start,
                    unheard=recording.unheard if go_on else (),
                )
            )
            self._crew.add(
                Hear(
                    recording_id,
                    recording.path,
                    replace(recording.how, glossary=self.glossary()),
                    (start, recording.part[1]),
                    self.transcript(recording_id).next_id(),
                    max((cue.end for cue in cues), default=0),
                    tuple(Turn(c.start, c.end, c.speaker) for c in cues if c.speaker is not None),
                )
            )
        self.recordings_changed.emit()

    def cancel(self, recording_id: int) -> None:
        """Stop hearing a recording or take it out of the line; what was heard stays."""
        self._crew.cancel(recording_id)
        recording = self.recording(recording_id)
        if recording.state is State.QUEUED:
            begun = recording.heard_until > recording.part[0]
            state = State.STOPPED if begun else State.READY
            self.change_recording(replace(recording, state=state))
        self._progress.pop(recording_id, None)
        self.recordings_changed.emit()

    def hear_again(self, recording_id: int, part: tuple[int, int], how: HowToHear) -> None:
        """Hear a passage a second time, whatever else is being heard; ``heard_again`` tells."""
        self._crew.cancel_second_hearing(recording_id)
        how = replace(how, glossary=self.glossary())
        self._crew.add(HearAgain(recording_id, self.recording(recording_id).path, how, part))

    def stop_hearing_again(self, recording_id: int) -> None:
        """Nothing more is told of the second hearing that is under way."""
        self._crew.cancel_second_hearing(recording_id)

    def cleaned_sound(self, recording_id: int) -> Path | None:
        """A file with what is heard after clean-up; None while it is made, ``prepared`` tells."""
        recording = self.recording(recording_id)
        source = replace(recording.how.source, clean=True)
        made = self._cleaned.get(recording_id)
        if made is not None and made[0] == source and made[1].is_file():
            return made[1]
        self._crew.add(Prepare(recording_id, recording.path, source))
        return None

    def progress(self, recording_id: int) -> tuple[Heard, int] | None:
        """The last news of a recording being heard, and the ms where hearing began."""
        news = self._progress.get(recording_id)
        return (news, self._began_at.get(recording_id, 0)) if news else None

    def is_being_heard(self, recording_id: int) -> bool:
        """Whether it is this recording's turn."""
        return self._crew.active() == recording_id

    def place_in_line(self, recording_id: int) -> int | None:
        """1 for the next to be heard, and so on."""
        waiting = self._crew.waiting()
        return waiting.index(recording_id) + 1 if recording_id in waiting else None

    def _take_up(self, recording: Recording) -> None:
        """On opening: what was cut off can go on; what is not decoded yet is looked at again."""
        if recording.state is State.QUEUED:
            begun = recording.heard_until > recording.part[0]
            state = State.STOPPED if begun else State.READY
            recording = replace(recording, state=state)
            self._recordings[recording.id] = recording
            self._write(lambda: self.store.save_recording(recording))
        if self._sound_entry(recording.id) is None:
            self._crew.add(Look(recording.id, recording.path))

    def _take_event(self, event: Event) -> None:
        recording = self._recordings.get(event.key)
        if recording is None or self._closed:
            return
        if isinstance(event, HeardAgain):
            self.heard_again.emit(recording.id, event.words)
        elif isinstance(event, Prepared):
            self._cleaned[recording.id] = (event.source, event.path)
            self.prepared.emit(recording.id)
        elif isinstance(event, Done | Failed) and event.task in _ASIDE:
            if isinstance(event, Failed) and event.task == HearAgain.__name__:
                self.heard_again.emit(recording.id, event.reason)
            elif isinstance(event, Failed):
                self.trouble.emit(event.reason)
            return
        elif isinstance(event, Known):
            self.change_recording(
                replace(
                    recording,
                    info=event.info,
                    fingerprint=event.fingerprint,
                    duration=recording.duration or event.info.duration,
                )
            )
        elif isinstance(event, SoundReady):
            fresh = recording.state in (State.ARRIVED, State.FAILED)
            state = State.READY if fresh else recording.state
            self.change_recording(
                replace(recording, duration=event.duration, state=state, problem=event.damage)
            )
        elif isinstance(event, Heard):
            self._progress[recording.id] = event
            self._append(recording.id, event.cues)
            # A stretch that is heard again after a stop tells of the same place again.
            unheard = tuple(sorted({*recording.unheard, *event.unheard}))
            self.change_recording(replace(recording, heard_until=event.go_on_at, unheard=unheard))
        elif isinstance(event, Failed):
            self._failed(recording, event)
        elif isinstance(event, Done) and event.task == "Hear":
            self._progress.pop(recording.id, None)
            self.change_recording(
                replace(recording, state=State.DRAFT, heard_until=recording.part_end)
            )
        if isinstance(event, Started | Done | Failed):
            self.recordings_changed.emit()

    def _failed(self, recording: Recording, event: Failed) -> None:
        self._progress.pop(recording.id, None)
        if event.task == "Look" and self.transcript(recording.id).cues:
            # The text is there and stays usable; only the sound is missing.
            self.change_recording(replace(recording, problem=event.reason))
        elif event.task == "Hear" and recording.heard_until > recording.part[0]:
            self.change_recording(replace(recording, state=State.STOPPED, problem=event.reason))
        else:
            self.change_recording(replace(recording, state=State.FAILED, problem=event.reason))

    def _append(self, recording_id: int, cues: tuple[Cue, ...]) -> None:
        """Add heard cues at the end of the text as it is now, and to every version of it for undo.

        Hearing numbers its cues without knowing what a person has done meanwhile, so they may be
        given other numbers here.
        """
        if not cues:
            return
        first = max(self.transcript(recording_id).next_id(), cues[0].id)
        numbered = tuple(replace(cue, id=first + place) for place, cue in enumerate(cues))

        def longer(document: Document) -> Document:
            old = document.transcript
            return document.with_transcript(with_voices(replace(old, cues=old.cues + numbered)))

        self._history.amend(recording_id, longer)
        self._set_document(recording_id, longer(self.document(recording_id)))

    def _sound_entry(self, recording_id: int) -> tuple[Sound, Peaks] | None:
        entry = self._sounds.get(recording_id)
        if entry is None:
            mark = self._recordings[recording_id].fingerprint
            sound = soundcache.find(mark) if mark else None
            if sound is None:
                return None
            entry = self._sounds[recording_id] = (sound, sound.peaks())
        return entry

    def _write(self, action: Callable[[], object]) -> bool:
        """Write to the job; a refusal is told and the change stays on the screen."""
        try:
            action()
        except JobError as error:
            self.trouble.emit(str(error))
            return False
        self.saved.emit()
        return True


def _files_in(paths: Sequence[Path]) -> list[Path]:
    files: list[Path] = []
    for path in paths:
        if path.is_dir():
            files += sorted(p for p in path.rglob("*") if p.is_file() and p.name[:1] != ".")
        else:
            files.append(path)
    return files
