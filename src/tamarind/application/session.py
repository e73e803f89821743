"""The open job from opening to closing: its parts, and which recording is shown."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.application import personal
from tamarind.application.correctednames import add_for
from tamarind.application.describing import Describing
from tamarind.application.events import Event
from tamarind.application.excerpting import Excerpting
from tamarind.application.exportqueue import ExportQueue
from tamarind.application.jobclients import JobClients
from tamarind.application.joblooks import JobLooks
from tamarind.application.jobsettings import JobSettings
from tamarind.application.jobstyles import JobStyles
from tamarind.application.loop import Loop
from tamarind.application.mediaprobe import MediaProbe
from tamarind.application.ondemand import OnDemand
from tamarind.application.pooldesk import PoolDesk
from tamarind.application.preview import Preview
from tamarind.application.recordings import Recordings
from tamarind.application.samevoices import SameVoices
from tamarind.application.saving import Saving
from tamarind.application.sounds import Sounds
from tamarind.application.speakersagain import SpeakersAgain
from tamarind.application.tasks import Tasks
from tamarind.application.texts import Texts
from tamarind.application.transcriptionqueue import TranscriptionQueue
from tamarind.application.translating import Translating
from tamarind.audio import soundcache
from tamarind.job.client import CLIENTS
from tamarind.job.contents import Contents
from tamarind.job.dressing import Dressing
from tamarind.job.opening import write_new
from tamarind.job.recording import Recording
from tamarind.job.settings import DOUBTFUL, GLOSSARY, SHOWN, USUAL, Usual, declared
from tamarind.job.store import JobStore
from tamarind.language.stylebook import STYLES
from tamarind.picture.lookbook import LOOKS
from tamarind.speech.glossary import Glossary
from tamarind.system.later import Later
from tamarind.system.log import logger
from tamarind.transcript.model import Transcript
from tamarind.transcript.survey import Survey

if TYPE_CHECKING:
    from tamarind.language import termfinding
    from tamarind.speech import lexicon
else:
    lexicon = Later("tamarind.speech.lexicon")
    termfinding = Later("tamarind.language.termfinding")

TIDIED_AFTER_MS = 8_000
UNREAD = "Some styles or settings cannot be read; the defaults are used for now."
MISFIT = "That step was made in another text and cannot be undone."


class Session:
    """All that the screens share; ``recordings``, ``texts``, ``queue`` and the other parts do the
    work."""

    def __init__(self, store: JobStore, loop: Loop) -> None:
        self.store, self.loop = store, loop
        self.trouble: Event[[str]] = Event()
        """Something is wrong, a sentence."""
        self.told: Event[[str]] = Event()
        """What the person asked for has been done, or has no room; nothing is wrong."""
        self.shown_changed: Event[[]] = Event()
        self.doubts_changed: Event[[]] = Event()
        """Words of another confidence count as doubts now."""
        self.saving = Saving(loop, store, self._write_all, self._contents)
        self.saving.trouble.connect(self.trouble.emit)
        self._tidying = Tasks(loop, "tidying")
        self._tidy_later = loop.timer(TIDIED_AFTER_MS, self._tidy)
        self.settings = JobSettings(store, self._write)
        self.recordings = Recordings(store, self._write)
        self.texts = Texts(store, self._write, self.recordings)
        self.texts.misfit.connect(self._tell_misfit)
        self.styles = JobStyles(self.settings, self.recordings)
        self.looks = JobLooks(self.settings)
        self.clients = JobClients(
            self.settings, self.recordings, self.texts, styles=self.styles, looks=self.looks
        )
        self.preview = Preview(loop, self.texts, self.styles, self.looks)
        self._start_work(loop)
        self.threshold = self.settings.get(DOUBTFUL)
        last = self.settings.get(SHOWN)
        self.shown = last if self.recordings.has(last) else self.recordings.first()
        soundcache.clear_away()
        self._take_up()

    def _start_work(self, loop: Loop) -> None:
        """Make the parts that work in the background."""
        self._desk = PoolDesk(loop, self.recordings)
        self.on_demand = OnDemand(self._desk, self.recordings, self.styles, self.trouble)
        self.speakers_again = SpeakersAgain(
            self.on_demand, self.recordings, self.texts, self.settings
        )
        self.media_probe = MediaProbe(self._desk, self.recordings, self.texts)
        self.media_probe.identified.connect(self._decode)
        self.media_probe.moved.connect(self.told.emit)
        self.sounds = Sounds(self.recordings, self.media_probe.drawn)
        self.describing = Describing(self.recordings, self.texts)
        self.excerpts = Excerpting(self.recordings, self.texts, self.sounds)
        self.same_voices = SameVoices(self.recordings, self.texts)
        self.queue = TranscriptionQueue(
            self._desk,
            self.recordings,
            self.texts,
            settings=self.settings,
            styles=self.styles,
            media_probe=self.media_probe,
            same_voices=self.same_voices,
            trouble=self.trouble,
        )
        self.translating = Translating(
            loop, self.recordings, self.texts, settings=self.settings, styles=self.styles
        )
        self.translating.failed.connect(self.trouble.emit)
        self.export_queue = ExportQueue(loop)

    @property
    def name(self) -> str:
        """The job's name."""
        return self.store.path.stem

    def unread(self) -> list[str]:
        """Return what of the styles and settings cannot be read: what that means, and a sentence
        for each; nothing if all can."""
        told = [
            *STYLES.unreadable(),
            *LOOKS.unreadable(),
            *CLIENTS.unreadable(),
            *filter(None, [personal.problem()]),
        ]
        told += [
            f"“{one.key}” of this job cannot be read, and is as usual."
            for one in declared()
            if one.is_unread(self.store.setting(one.key))
        ]
        for what, reasons in (
            ("house style", self.styles.unread),
            ("look", self.looks.unread),
            ("client", self.clients.unread),
        ):
            told += [
                f"The {what} “{key}” of this job cannot be used: {reason} It stays in the job"
                " unchanged."
                for key, reason in reasons.items()
            ]
        return [UNREAD, *told] if told else []

    def close(self) -> None:
        """Stop background work and close the job; events that come later are dropped."""
        self._desk.close()
        self.translating.close()
        self.export_queue.close()
        self.preview.close()
        self._tidy_later.stop()
        self._tidying.close()
        self.saving.stop()
        if self.saving.is_behind and not self.saving.retry():
            logger.error("closed with changes that are only in a copy: %s", self.saving.copy)
        self.store.close()

    def save_copy(self, path: Path) -> None:
        """Write the whole job to another file. Raises JobError."""
        write_new(self._contents(), path).close()

    # What is shown

    def shown_recording(self) -> Recording | None:
        """The recording that Proof, Translation and the transport show."""
        shown = self.shown
        known = shown is not None and self.recordings.has(shown)
        return self.recordings.get(shown) if known and shown is not None else None

    def show(self, recording_id: int) -> None:
        """Show another recording."""
        if recording_id != self.shown and self.recordings.has(recording_id):
            self.shown = recording_id
            self.settings.keep(SHOWN, recording_id)
            self.shown_changed.emit()

    def edit_shown(self, label: str, transcript: Transcript) -> None:
        """Replace the source text of the shown recording."""
        if self.shown is not None:
            self.texts.edit(self.shown, label, transcript)

    def survey(self, recording_id: int) -> Survey:
        """Count words, doubts and proofed words of a recording's source text."""
        return self.texts.survey(recording_id, self.threshold)

    def set_threshold(self, threshold: float) -> None:
        """Set the confidence below which words are doubts."""
        self.threshold = threshold
        self.settings.keep(DOUBTFUL, threshold)
        self.doubts_changed.emit()

    def dressings(self, recording_ids: Iterable[int]) -> dict[int, Dressing]:
        """Return how the captions of recordings are written and drawn."""
        return {
            number: Dressing(
                self.styles.of(self.recordings.get(number)), self.looks.of(number), self.looks.own()
            )
            for number in recording_ids
        }

    # The recordings as a whole

    def add_files(self, files: Sequence[Path]) -> tuple[int, int]:
        """Add files to the job; return (added, already there)."""
        added = self.recordings.add_files(files, self.usual())
        self.clients.take(added)
        self.media_probe.look(*added)
        if added:
            if self.shown is None:
                self.shown = self.recordings.first()
                self.shown_changed.emit()
            self.recordings.list_changed.emit()
        return len(added), len(files) - len(added)

    def remove(self, recording_id: int) -> None:
        """Remove a recording from the job; its file stays."""
        self.queue.forget(recording_id)
        # Another recording may get its number.
        self.looks.leave_to_the_job([recording_id])
        self.clients.forget(recording_id)
        self.recordings.remove(recording_id)
        for part in (self.translating, self.texts, self.sounds, self.media_probe, self.on_demand):
            part.forget(recording_id)
        if self.shown == recording_id:
            self.shown = self.recordings.first()
            self.shown_changed.emit()
        self.recordings.list_changed.emit()

    def move(self, recording_ids: Sequence[int], place: int) -> None:
        """Move recordings, in their order, before the one at index ``place``."""
        if self.recordings.move(recording_ids, place):
            self.queue.follow_order()

    def usual(self) -> Usual:
        """Return the transcription settings and house style for new recordings."""
        return self.settings.get(USUAL)

    def set_usual(self, usual: Usual) -> None:
        """Set the transcription settings and house style for new recordings."""
        self.settings.keep(USUAL, usual)
        self.recordings.list_changed.emit()

    def glossary(self) -> Glossary:
        """Return the terms to listen for in this job."""
        return self.settings.get(GLOSSARY)

    def set_glossary(self, glossary: Glossary) -> None:
        """Set the job's terms; transcriptions from now on use them."""
        self.settings.keep(GLOSSARY, glossary)
        self.recordings.list_changed.emit()

    def corrected_names(self, recording_id: int) -> list[str]:
        """Return the names and terms that a person wrote where the recogniser had something
        else."""
        text = self.texts.transcript(recording_id)
        is_word = lexicon.lexicon_of(text.language).is_word
        return termfinding.terms_corrected(
            self.texts.draft(recording_id), text.cues, text.language, is_word
        )

    def keep_corrected_names(self, recording_ids: Sequence[int]) -> None:
        """Keep the names corrected in these recordings for later ones of the same clients."""
        for key in recording_ids:
            add_for(self.recordings.get(key).style, self.corrected_names(key))

    # On disk

    def _take_up(self) -> None:
        """Go on with the queue as it was, and read files that are not known yet."""
        for recording in self.recordings.all():
            self.queue.take_up(recording)
            if self.media_probe.is_unknown(recording):
                self.media_probe.look(recording)
            else:
                self._decode(recording.id)
        self.translating.take_up()

    def _decode(self, recording_id: int) -> None:
        if not self.sounds.has(recording_id):
            self.media_probe.decode(self.recordings.get(recording_id))

    def _tell_misfit(self) -> None:
        self.told.emit(MISFIT)

    def _tidy(self) -> None:
        self._tidying.run(self.store.tidy, lambda _: None)

    def _write(self, action: Callable[[], object]) -> bool:
        """Write to the job file; on a failure the change stays on the screen and is told."""
        if not self.saving.write(action):
            return False
        if not self._tidy_later.is_active:
            self._tidy_later.start()
        return True

    def _write_all(self) -> None:
        """Write everything that the job file may lack. Raises JobError."""
        with self.store.together():
            behind = self.texts.behind()
            self.store.save_all(self.recordings.all(), self.settings.kept, behind)
            self.texts.write_rest()
        self.texts.all_written()

    def _contents(self) -> Contents:
        """Return the whole job, for a copy elsewhere."""
        contents = Contents(recordings=self.recordings.all())
        # What lies on a disk that can no longer be read is missing in the copy.
        with suppress(sqlite3.Error):
            contents.settings = self.store.settings()
        contents.settings |= self.settings.kept
        for recording in contents.recordings:
            with suppress(sqlite3.Error, KeyError):
                contents.documents[recording.id] = self.texts.document(recording.id)
                contents.drafts[recording.id] = self.store.draft(recording.id)
        return contents
