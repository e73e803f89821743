"""The texts of the open job: every change goes through here and is on disk when it returns."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.recordings import Recordings, Write
from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.job.change import Change, ChangeError
from tamarind.job.document import Document
from tamarind.job.oneclock import cues_later, document_later
from tamarind.job.recording import Recording, State
from tamarind.job.store import JobStore
from tamarind.job.undostack import UndoStack
from tamarind.system.garbage import without_collecting
from tamarind.system.later import Later
from tamarind.transcript.edits import with_voices
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.retiming import from_its_hour
from tamarind.transcript.survey import Survey

if TYPE_CHECKING:
    from tamarind.formats import documents
else:
    documents = Later("tamarind.formats.documents")


class Texts:
    """Documents, their edits, and one undo history for all of them."""

    def __init__(self, store: JobStore, write: Write, recordings: Recordings) -> None:
        self._store, self._write, self._recordings = store, write, recordings
        self._documents: dict[int, Document] = {}
        self._on_disk: dict[int, Document] = {}
        """What lies on disk of those whose last change could not be written."""
        self._drafts: dict[int, tuple[Cue, ...]] = {}
        """Drafts that could not be written."""
        self._surveys: dict[int, Survey] = {}
        self._steps = UndoStack(store)
        self._one_step: str | None = None
        self.changed: Event[[int]] = Event()
        """The document of a recording has changed."""
        self.misfit: Event[[]] = Event()
        """A step was made in another text and cannot be undone."""
        recordings.language_changed.connect(self._follow_language)

    def document(self, recording_id: int) -> Document:
        """Return a recording's current document."""
        if recording_id not in self._documents:
            with without_collecting():
                self._documents[recording_id] = self._store.document(recording_id)
        return self._documents[recording_id]

    def transcript(self, recording_id: int) -> Transcript:
        """Return a recording's current source text."""
        return self.document(recording_id).transcript

    def survey(self, recording_id: int, threshold: float) -> Survey:
        """Count words, doubts and proofed words of a recording's source text; words below the
        threshold are doubts."""
        survey = self._surveys.setdefault(recording_id, Survey())
        return survey.follow(self.transcript(recording_id), threshold)

    def draft(self, recording_id: int) -> tuple[Cue, ...]:
        """Return a recording's text as it was transcribed or imported."""
        return self._store.draft(recording_id)

    def edit(
        self, recording_id: int, label: str, transcript: Transcript, group: str | None = None
    ) -> None:
        """Replace a source text; the tracks follow it."""
        document = self.document(recording_id)
        self.edit_document(recording_id, label, document.with_transcript(transcript), group)

    def edit_document(
        self, recording_id: int, label: str, document: Document, group: str | None = None
    ) -> None:
        """Replace a document, on disk and in the undo history."""
        before = self.document(recording_id)
        if document is before:
            return
        if self._one_step is not None:
            label = group = self._one_step
        self._steps.add(recording_id, label, before, document, group)
        self._set(recording_id, document)

    @contextmanager
    def as_one(self, label: str) -> Iterator[None]:
        """Make all edits of one recording within this context one step of undo."""
        self._steps.close_group()
        self._one_step = label
        try:
            yield
        finally:
            self._one_step = None
            self._steps.close_group()

    def close_edit_group(self) -> None:
        """Let what is typed from now on be a step of undo of its own."""
        if self._one_step is None:
            self._steps.close_group()

    def undo(self) -> tuple[int, int | None] | None:
        """Undo the last step; return the recording and the place of the change, or None if only
        excerpts changed."""
        return self._turn(self._steps.undo)

    def redo(self) -> tuple[int, int | None] | None:
        """Redo the last undone step; returns as ``undo`` does."""
        return self._turn(self._steps.redo)

    def undo_labels(self) -> tuple[str | None, str | None]:
        """Return what undo and redo would do, in words."""
        return self._steps.undo_label, self._steps.redo_label

    def import_file(self, recording_id: int, path: Path, encoding: str | None = None) -> Repairs:
        """Read a caption file as a recording's text; return what was repaired in it.

        ``encoding`` is what it is in, if that is known. Raises FormatError.
        """
        recording = self._recordings.get(recording_id)
        if recording.state is State.QUEUED:
            raise FormatError("the recording is being transcribed; cancel that first.")
        read = documents.read(path, recording.language, encoding)
        text, hours = from_its_hour(read.transcript, recording.duration)
        if hours:
            read.repairs.note(f"Its times began at {hours:02}:00:00:00, which is the start here.")
        self.take(recording_id, text, f"text from {path.name}")
        return read.repairs

    def take(self, recording_id: int, transcript: Transcript, label: str) -> None:
        """Make a text the recording's own; it is also the draft if there was none."""
        is_first = not self.transcript(recording_id).cues or not self.draft(recording_id)
        if is_first and not self._write(
            lambda: self._store.save_draft(recording_id, transcript.cues)
        ):
            self._drafts[recording_id] = transcript.cues
        self.edit(recording_id, label, transcript)
        self._recordings.typed_by_hand(recording_id)

    def append_heard(self, recording: Recording, cues: tuple[Cue, ...]) -> None:
        """Append transcribed cues to the text and its draft, with how far the recording is done.
        Undo does not remove them.

        Hearing numbers its cues without knowing what a person has done meanwhile, so they may be
        given other numbers here.
        """
        first = max(self.transcript(recording.id).next_id(), cues[0].id if cues else 0)
        numbered = tuple(replace(cue, id=first + place) for place, cue in enumerate(cues))

        before = self._on_disk.get(recording.id, self.document(recording.id))
        if cues:
            old = self.transcript(recording.id)
            text = with_voices(replace(old, cues=old.cues + numbered))
            self._documents[recording.id] = self.document(recording.id).with_transcript(text)
        after = self.document(recording.id)
        afresh = not self._recordings.get(recording.id).bookmark
        self._recordings.put(recording)
        if self._write(lambda: self._store.save_heard(recording, before, after, cues, afresh)):
            self._on_disk.pop(recording.id, None)
        else:
            self._on_disk[recording.id] = before
            kept = () if afresh else self._drafts.get(recording.id, self.draft(recording.id))
            self._drafts[recording.id] = (*kept, *cues)
        if cues:
            self.changed.emit(recording.id)
        self._recordings.changed.emit(recording.id)

    def move_all(self, recording_id: int, label: str, by: int) -> None:
        """Shift all times of a recording (ms), also in its draft."""
        draft = cues_later(self.draft(recording_id), by)
        if draft and not self._write(lambda: self._store.save_draft(recording_id, draft)):
            self._drafts[recording_id] = draft
        self.edit_document(recording_id, label, document_later(self.document(recording_id), by))

    def finish(self, recording_id: int, label: str, text: Transcript) -> None:
        """Replace a wholly transcribed text by its finished form.

        It is its draft too, and nothing to undo, unless a person has changed the text meanwhile.
        """
        if text is self.transcript(recording_id):
            return
        if self._steps.concern(recording_id):
            self.edit(recording_id, label, text)
            return
        if not self._write(lambda: self._store.save_draft(recording_id, text.cues)):
            self._drafts[recording_id] = text.cues
        self._set(recording_id, self.document(recording_id).with_transcript(text))

    def forget(self, recording_id: int) -> None:
        """Drop the text of a recording that was removed."""
        self._documents.pop(recording_id, None)
        self._on_disk.pop(recording_id, None)
        self._drafts.pop(recording_id, None)
        self._surveys.pop(recording_id, None)
        self._steps.forget(recording_id)

    def behind(self) -> dict[int, tuple[Document, Document]]:
        """Return the documents that are not on disk: as they are there, and as they are now."""
        return {key: (before, self._documents[key]) for key, before in self._on_disk.items()}

    def write_rest(self) -> None:
        """Write drafts and undo steps that may not be on disk, within a transaction. Raises
        JobError."""
        for key, cues in self._drafts.items():
            self._store.save_draft(key, cues)
        self._steps.save()

    def all_written(self) -> None:
        """Note that everything is on disk."""
        self._steps.saved()
        self._on_disk.clear()
        self._drafts.clear()

    def _turn(
        self, way: Callable[[], tuple[int, list[Change]] | None]
    ) -> tuple[int, int | None] | None:
        try:
            found = way()
            if found is None:
                return None
            recording_id, changes = found
            document = self.document(recording_id)
            for change in changes:
                document = change.made_in(document)
            self._set(recording_id, document)
        except ChangeError:
            self.misfit.emit()
            return None
        place = min(change.first for change in changes)
        return recording_id, None if all(c.is_of_excerpts for c in changes) else place

    def _set(self, recording_id: int, document: Document) -> None:
        before = self._on_disk.get(recording_id, self.document(recording_id))
        self._documents[recording_id] = document
        if self._keep(recording_id, before, document):
            self._on_disk.pop(recording_id, None)
        else:
            # The next save writes what this one could not.
            self._on_disk[recording_id] = before
        self.changed.emit(recording_id)

    def _keep(self, recording_id: int, before: Document, after: Document) -> bool:
        """Write a text together with its undo steps."""

        def write() -> None:
            with self._store.together():
                self._store.save_document(recording_id, before, after)
                self._steps.save()

        kept = self._write(write)
        if kept:
            self._steps.saved()
        return kept

    def _follow_language(self, recording: Recording) -> None:
        """Give a text that is still empty the recording's language."""
        held = self._documents.get(recording.id)
        if held is not None and not held.transcript.cues:
            text = replace(held.transcript, language=recording.language)
            self._documents[recording.id] = held.with_transcript(text)
