"""The open job as the window sees it: recordings, texts, undo, and the work in the background."""

from __future__ import annotations

import gc
import json
import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from tamarind.audio import soundcache
from tamarind.audio.decode import Samples
from tamarind.audio.peaks import Peaks
from tamarind.audio.soundcache import Sound
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.desktop.background import Background
from tamarind.desktop.languages import name_of
from tamarind.desktop.saving import Saving
from tamarind.desktop.tasks import Tasks
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError, Mended
from tamarind.job.change import Change, ChangeError
from tamarind.job.contents import Contents
from tamarind.job.document import Document
from tamarind.job.opening import write_new
from tamarind.job.recording import Recording, State
from tamarind.job.steps import Steps
from tamarind.job.store import JobStore
from tamarind.job.styles import KEPT as KEPT_STYLES
from tamarind.job.styles import job_styles, packed, style_of
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED, own_styles
from tamarind.speech.glossary import (
    NO_TERMS,
    Glossary,
    GlossaryError,
    read_glossary,
    write_glossary,
)
from tamarind.speech.howtohear import HowToHear
from tamarind.speech.recognisers.catalogue import choice
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.log import logger
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.edits import with_voices
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.survey import Survey

GLOSSARY = "glossary"
DEFAULT = "how to hear"
THRESHOLD = "doubtful below"
TIDIED_AFTER_MS = 8_000


class Session(QObject):
    """All that the screens share. Every change goes through here and is on disk when it returns."""

    recordings_changed = Signal()
    recording_changed = Signal(int)
    document_changed = Signal(int)
    shown_changed = Signal()
    trouble = Signal(str)
    doubts_changed = Signal()
    """Words of another certainty count as doubts now."""
    styles_changed = Signal()
    """A house style has other rules now, or a recording another style."""
    told = Signal(str)
    """Something that the person asked for has been done, or has no room; nothing is wrong."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self._recordings = {r.id: r for r in store.recordings()}
        self._documents: dict[int, Document] = {}
        self._on_disk: dict[int, Document] = {}
        self._sounds: dict[int, tuple[Sound, Peaks]] = {}
        self._steps = Steps(store)
        self._one_step: str | None = None
        self._surveys: dict[int, Survey] = {}
        self._settings: dict[str, str] = {}
        self._drafts: dict[int, tuple[Cue, ...]] = {}
        self.saving = Saving(store, self._write_all, self._contents, self)
        self.saving.trouble.connect(self.trouble)
        self._default = _default(store)
        self._styles = job_styles(store)
        self.threshold = _threshold(store)
        self.shown: int | None = next(iter(self._recordings), None)
        last = store.setting("shown")
        if last.isdecimal() and len(last) < 12 and int(last) in self._recordings:
            self.shown = int(last)
        self._tidying = Tasks(self, "tidying")
        self._tidy_later = QTimer(self, singleShot=True, interval=TIDIED_AFTER_MS)
        self._tidy_later.timeout.connect(self._tidy)
        self.background = Background(self)
        self.background.take_up()

    @property
    def name(self) -> str:
        """The job's name."""
        return self.store.path.stem

    def _tidy(self) -> None:
        self._tidying.run(self.store.tidy, lambda _: None)

    def close(self) -> None:
        """Stop background work and close the job; news that are still on their way are late."""
        self.background.close()
        self._tidy_later.stop()
        self._tidying.close()
        self.saving.stop()
        if self.saving.is_behind and not self.saving.retry():
            logger.error("closed with changes that are only in a copy: %s", self.saving.copy)
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
            self.keep_setting("shown", str(recording_id))
            self.shown_changed.emit()

    def add_files(self, files: Sequence[Path]) -> tuple[int, int]:
        """Take files into the job; (added, already there)."""
        there = {recording.path.resolve() for recording in self._recordings.values()}
        # Kept as it was named; told apart by where it really is.
        new = {path.resolve(): path.absolute() for path in reversed(files)}
        paths = [path for real, path in reversed(new.items()) if real not in there]
        added: list[Recording] = []

        def keep() -> None:
            with self.store.together():
                added.extend(self.store.add_recording(path, *self.default()) for path in paths)

        if not self._write(keep):
            return 0, 0
        self._recordings.update({recording.id: recording for recording in added})
        self.background.look(*added)
        if added:
            if self.shown is None:
                self.shown = next(iter(self._recordings))
                self.shown_changed.emit()
            self.recordings_changed.emit()
        return len(added), len(files) - len(added)

    def remove(self, recording_id: int) -> None:
        """Take a recording out of the job; its file stays."""
        self.background.forget(recording_id)
        self._write(lambda: self.store.remove_recording(recording_id))
        for held in (
            self._recordings,
            self._documents,
            self._on_disk,
            self._sounds,
            self._surveys,
        ):
            held.pop(recording_id, None)
        self._steps.forget(recording_id)
        if self.shown == recording_id:
            self.shown = next(iter(self._recordings), None)
            self.shown_changed.emit()
        self.recordings_changed.emit()

    def change_recording(self, recording: Recording) -> None:
        """Keep and tell what is now known of a recording."""
        self.change_recordings([recording])

    def change_recordings(self, recordings: Sequence[Recording]) -> None:
        """Keep and tell what is now known of several."""
        changed = [recording for recording in recordings if recording.id in self._recordings]
        for recording in changed:
            if recording.language != self._recordings[recording.id].language:
                self._follow_language(recording)
            if recording.fingerprint != self._recordings[recording.id].fingerprint:
                self._sounds.pop(recording.id, None)
            self._recordings[recording.id] = recording

        def keep() -> None:
            with self.store.together():
                for recording in changed:
                    self.store.save_recording(recording)

        self._write(keep)
        for recording in changed:
            self.recording_changed.emit(recording.id)

    def _follow_language(self, recording: Recording) -> None:
        """A text that is still empty will be in the recording's language."""
        held = self._documents.get(recording.id)
        if held is not None and not held.transcript.cues:
            text = replace(held.transcript, language=recording.language)
            self._documents[recording.id] = held.with_transcript(text)

    def peaks(self, recording_id: int) -> Peaks | None:
        """The recording's peaks, as far as its sound has been decoded."""
        entry = self._sound_entry(recording_id)
        return entry[1] if entry else self.background.drawn(recording_id)

    def has_sound(self, recording_id: int) -> bool:
        """Whether the recording's decoded sound is at hand."""
        return self._sound_entry(recording_id) is not None

    def samples(self, recording_id: int, clean: bool = False) -> Samples | None:
        """The decoded sound (mono, 16 kHz), as recorded or cleaned, if it is at hand."""
        recording = self._recordings[recording_id]
        try:
            entry = self._sound_entry(recording_id)
            if entry is None or not clean:
                return entry[0].samples() if entry else None
            source = replace(recording.how.source, clean=True)
            cleaned = soundcache.find(recording.fingerprint, source)
            return cleaned.samples() if cleaned is not None else None
        except (OSError, ValueError):
            # The cache may be deleted at any time; the sound is decoded anew when it is wanted.
            self._sounds.pop(recording_id, None)
            return None

    def has(self, recording_id: int) -> bool:
        """Whether there is such a recording."""
        return recording_id in self._recordings

    def move(self, recording_ids: Sequence[int], place: int) -> None:
        """Put recordings, in their order, before the one that is now at ``place``."""
        keys = list(self._recordings)
        moved = [key for key in keys if key in recording_ids]
        before = [key for key in keys[:place] if key not in moved]
        after = [key for key in keys[place:] if key not in moved]
        order = before + moved + after
        if order != keys:
            self._recordings = {key: self._recordings[key] for key in order}
            self._write(lambda: self.store.set_order(order))
            self.background.follow_order()

    def twin_of(self, recording: Recording) -> Recording | None:
        """An earlier recording with the same contents under another name."""
        for other in self._recordings.values():
            if other.id == recording.id or not recording.fingerprint:
                return None
            if other.fingerprint == recording.fingerprint:
                return other
        return None

    # How new recordings are heard

    def default(self) -> tuple[HowToHear, str]:
        """How recordings that are brought in will be heard, and the style of their captions."""
        return self._default

    def set_default(self, how: HowToHear, style: str) -> None:
        """Hear recordings that are brought in from now on in this way."""
        self._default = how, style
        self.keep_setting(DEFAULT, json.dumps({**how.data(), "style": style}))
        self.recordings_changed.emit()

    # House styles

    def styles(self) -> dict[str, HouseStyle]:
        """All house styles by key: those that ship, the person's own, those of this job."""
        return {**SHIPPED, **own_styles(), **self._styles}

    def style_of(self, recording: Recording) -> HouseStyle:
        """The house style of a recording; that of ordinary captions if its own is not here."""
        return style_of(recording, self._styles)

    def limits_of(self, recording_id: int | None) -> Limits:
        """The limits of a recording's captions."""
        recording = self._recordings.get(recording_id) if recording_id is not None else None
        return self.style_of(recording).captions if recording is not None else ORDINARY

    def keep_style(self, key: str, style: HouseStyle | None) -> None:
        """Keep a style with the job, in place of one of the same key; None takes it out."""
        if style is None:
            self._styles.pop(key, None)
        else:
            self._styles[key] = style
        self.keep_setting(KEPT_STYLES, packed(self._styles))
        self.styles_changed.emit()

    def choose_style(self, recording_ids: Sequence[int], key: str) -> None:
        """Hold recordings to a house style; it is kept with the job if it does not ship."""
        if key not in SHIPPED and key not in self._styles:
            self.keep_style(key, own_styles()[key])
        self.change_recordings(
            [replace(self._recordings[number], style=key) for number in recording_ids]
        )
        self.styles_changed.emit()

    def setting(self, key: str, default: str = "") -> str:
        """A value kept with the job, as it is now."""
        known = self._settings.get(key)
        return self.store.setting(key, default) if known is None else known

    def keep_setting(self, key: str, value: str) -> None:
        """Keep a value with the job."""
        value = clean_text(value)
        self._settings[key] = value
        self._write(lambda: self.store.set_setting(key, value))

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
        return survey.follow(self.transcript(recording_id), self.threshold)

    def set_threshold(self, threshold: float) -> None:
        """Words heard with less certainty than this are doubts from now on."""
        self.threshold = threshold
        self.keep_setting(THRESHOLD, f"{threshold:.2f}")
        self.doubts_changed.emit()

    def draft(self, recording_id: int) -> tuple[Cue, ...]:
        """A recording's text as it came, before anybody changed it."""
        return self.store.draft(recording_id)

    def edit(
        self, recording_id: int, label: str, transcript: Transcript, group: str | None = None
    ) -> None:
        """Put an edited source text in place of the old; tracks follow it."""
        document = self.document(recording_id)
        self.edit_document(recording_id, label, document.with_transcript(transcript), group)

    def edit_shown(self, label: str, transcript: Transcript) -> None:
        """The same for the recording that is shown, if there is one."""
        if self.shown is not None:
            self.edit(self.shown, label, transcript)

    def edit_document(
        self, recording_id: int, label: str, document: Document, group: str | None = None
    ) -> None:
        """Put an edited document in place of the old, on disk and for undo."""
        before = self.document(recording_id)
        if document is before:
            return
        if self._one_step is not None:
            label = group = self._one_step
        self._steps.add(recording_id, label, before, document, group)
        self._set_document(recording_id, document)

    @contextmanager
    def as_one(self, label: str) -> Iterator[None]:
        """Edits of one recording within are one step of undo."""
        self._steps.close_group()
        self._one_step = label
        try:
            yield
        finally:
            self._one_step = None
            self._steps.close_group()

    def close_edit_group(self) -> None:
        """What is typed from now on is a step of its own for undo."""
        if self._one_step is None:
            self._steps.close_group()

    def undo(self) -> tuple[int, int] | None:
        """Take the last step back; the recording and the place of the text it was in."""
        return self._turn(self._steps.undo)

    def redo(self) -> tuple[int, int] | None:
        """Make the last undone step again; the recording and the place of the text it is in."""
        return self._turn(self._steps.redo)

    def _turn(self, way: Callable[[], tuple[int, Change] | None]) -> tuple[int, int] | None:
        try:
            found = way()
            if found is None:
                return None
            recording_id, change = found
            self._set_document(recording_id, change.made_in(self.document(recording_id)))
        except ChangeError:
            self.told.emit("That step was made in another text and cannot be taken back.")
            return None
        return recording_id, change.first

    def undo_labels(self) -> tuple[str | None, str | None]:
        """What undo and redo would do."""
        return self._steps.undo_label, self._steps.redo_label

    def import_text(self, recording_id: int, path: Path, encoding: str | None = None) -> Mended:
        """Take a caption file as a recording's text, and say what was mended in it.

        ``encoding`` is what it is in, if that is known. Raises FormatError.
        """
        recording = self.recording(recording_id)
        if recording.state is State.QUEUED:
            raise FormatError("the recording is being heard; cancel that first.")
        read = documents.read(path, recording.language, encoding)
        self.take_text(recording_id, read.transcript, f"text from {path.name}")
        return read.mended

    def take_text(self, recording_id: int, transcript: Transcript, label: str) -> None:
        """Take a text as a recording's own; it is its draft if there was none."""
        is_first = not self.transcript(recording_id).cues or not self.draft(recording_id)
        if is_first and not self._write(
            lambda: self.store.save_draft(recording_id, transcript.cues)
        ):
            self._drafts[recording_id] = transcript.cues
        self.edit(recording_id, label, transcript)
        self.background.typed_by_hand(recording_id)

    def is_saved(self) -> bool:
        """Whether all of the job is on disk."""
        return not self.saving.is_behind

    def _set_document(self, recording_id: int, document: Document) -> None:
        before = self._on_disk.get(recording_id, self.document(recording_id))
        self._documents[recording_id] = document
        if self._keep(recording_id, before, document):
            self._on_disk.pop(recording_id, None)
        else:
            # The next save writes what this one could not.
            self._on_disk[recording_id] = before
        self.document_changed.emit(recording_id)

    def _keep(self, recording_id: int, before: Document, after: Document) -> bool:
        """Write a text and the steps of undo together."""

        def write() -> None:
            with self.store.together():
                self.store.save_document(recording_id, before, after)
                self._steps.save()

        kept = self._write(write)
        if kept:
            self._steps.saved()
        return kept

    # Hearing

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
        try:
            return read_glossary(self.setting(GLOSSARY))
        except GlossaryError:
            return NO_TERMS

    def set_glossary(self, glossary: Glossary) -> None:
        """Keep a job's names and terms; what is heard from now on is heard with them."""
        self.keep_setting(GLOSSARY, write_glossary(glossary))
        self.recordings_changed.emit()

    def append_heard(self, recording: Recording, cues: tuple[Cue, ...]) -> None:
        """Add heard cues at the end of the text as it is now and to its draft, together with how
        far hearing is. Undo does not take them back.

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
        afresh = not self._recordings[recording.id].bookmark
        self._recordings[recording.id] = recording
        if self._write(lambda: self.store.save_heard(recording, before, after, cues, afresh)):
            self._on_disk.pop(recording.id, None)
        else:
            self._on_disk[recording.id] = before
            kept = () if afresh else self._drafts.get(recording.id, self.draft(recording.id))
            self._drafts[recording.id] = (*kept, *cues)
        if cues:
            self.document_changed.emit(recording.id)
        self.recording_changed.emit(recording.id)

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
        if not self.saving.write(action):
            return False
        if not self._tidy_later.isActive():
            self._tidy_later.start()
        return True

    def _write_all(self) -> None:
        """Write all that the job may not have yet; raises JobError."""
        texts = {key: (before, self._documents[key]) for key, before in self._on_disk.items()}
        with self.store.together():
            self.store.save_all(self.recordings(), self._settings, texts)
            for key, cues in self._drafts.items():
                self.store.save_draft(key, cues)
            self._steps.save()
        self._steps.saved()
        self._on_disk.clear()
        self._drafts.clear()

    def _contents(self) -> Contents:
        """The whole job as it is now, for a copy in another place."""
        contents = Contents(recordings=self.recordings())
        # What lies on a disk that can no longer be read is missing in the copy.
        with suppress(sqlite3.Error):
            contents.settings = self.store.settings()
        contents.settings |= self._settings
        for recording in contents.recordings:
            with suppress(sqlite3.Error, KeyError):
                contents.documents[recording.id] = self.document(recording.id)
                contents.drafts[recording.id] = self.store.draft(recording.id)
        return contents

    def save_copy(self, path: Path) -> None:
        """Write the whole job as it is now to another file; raises JobError."""
        write_new(self._contents(), path).close()


def _default(store: JobStore) -> tuple[HowToHear, str]:
    try:
        data = json.loads(store.setting(DEFAULT, "{}"))
        return HowToHear.from_data(data), str(data.get("style", ORDINARY_STYLE))
    except (ValueError, TypeError, AttributeError):
        return HowToHear(), ORDINARY_STYLE


def _threshold(store: JobStore) -> float:
    try:
        threshold = float(store.setting(THRESHOLD))
    except ValueError:
        return DOUBTFUL_BELOW
    return threshold if 0 <= threshold <= 1 else DOUBTFUL_BELOW
