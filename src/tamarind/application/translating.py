"""The queue of translations of the open job.

What is still to be done is kept with the job, so that it goes on where it was after a crash.
"""

from __future__ import annotations

import json
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.jobsettings import JobSettings
from tamarind.application.jobstyles import JobStyles
from tamarind.application.loop import Loop
from tamarind.application.recordings import Recordings
from tamarind.application.tasks import Tasks
from tamarind.application.texts import Texts
from tamarind.job.settings import (
    GLOSSARY,
    MEMORY,
    ROUTES,
    TERM_BOOKS,
    TO_TRANSLATE,
    TRANSLATES_ALONG,
)
from tamarind.system.later import Later
from tamarind.transcript.languages import base_of, name_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.engines.base import Stopped, TranslationError
from tamarind.translation.tracks import Track, as_transcript, to_translate, with_doubt, with_some

if TYPE_CHECKING:
    from tamarind.translation import draft as drafting
    from tamarind.translation import memory as memories
    from tamarind.translation import routes, termbook
    from tamarind.translation.engines import catalogue as engines
else:
    drafting = Later("tamarind.translation.draft")
    engines = Later("tamarind.translation.engines.catalogue")
    memories = Later("tamarind.translation.memory")
    routes = Later("tamarind.translation.routes")
    termbook = Later("tamarind.translation.termbook")

FOLLOWS_AFTER_MS = 3_000
"""So long after the last edit a text that is proofed is translated."""


@dataclass(frozen=True, slots=True)
class Task:
    """A recording and its target language; from the track ``source`` if that is given, else from
    its text."""

    recording: int
    language: str
    source: str = ""

    def kept(self) -> str:
        """Return the form in which the queue is kept."""
        return f"{self.language}<{self.source}" if self.source else self.language


@dataclass(frozen=True, slots=True)
class TranslationProgress:
    """Cues done, cues in all, and the seconds left (None if not known yet)."""

    done: int
    whole: int
    left_s: float | None


class Translating:
    """Queues recordings for translation and puts the results into their tracks."""

    def __init__(
        self,
        loop: Loop,
        recordings: Recordings,
        texts: Texts,
        *,
        settings: JobSettings,
        styles: JobStyles,
        over: routes.Router | None = None,
    ) -> None:
        """``over`` are the translation engines; None for those of this machine."""
        self._loop, self._recordings, self._texts = loop, recordings, texts
        self._settings, self._styles = settings, styles
        self._over = over
        self._tasks = Tasks(loop, "translating", latest_only=False)
        self._line: list[Task] = []
        self._now: Task | None = None
        self._cancelled = False
        self._closed = False
        self._done, self._whole, self._begun = 0, 0, 0.0
        self._later = loop.timer(FOLLOWS_AFTER_MS, self._follow)
        self._followed: set[int] = set()
        texts.changed.connect(self._text_changed)
        self.changed: Event[[]] = Event()
        """The line, or how far it is, has changed."""
        self.failed: Event[[str]] = Event()
        """A recording could not be translated, a sentence; the line has gone on."""

    @property
    def router(self) -> routes.Router:
        """Return the router over the engines that are installed."""
        return self._over or engines.router()

    # How

    def route(self, source: str, target: str) -> routes.Route:
        """Return the chosen route between two languages, or the best. Raises TranslationError."""
        chosen = self._settings.get(ROUTES)
        return self.router.route(source, target, chosen.get(_pair(source, target), ""))

    def choose_route(self, route: routes.Route) -> None:
        """Use this route between its languages from now on."""
        chosen = self._settings.get(ROUTES)
        pair = _pair(route.source, route.target)
        self._settings.keep(ROUTES, {**chosen, pair: route.key})
        self.changed.emit()

    def terms(self, language: str) -> termbook.TermBook:
        """Return the glossary for a target language."""
        try:
            return termbook.read_terms(self._settings.get(TERM_BOOKS).get(language, ""))
        except termbook.TermBookError:
            return termbook.NO_PAIRS

    def set_terms(self, language: str, terms: termbook.TermBook) -> None:
        """Set the glossary for a target language."""
        books = {**self._settings.get(TERM_BOOKS), language: termbook.write_terms(terms)}
        self._settings.keep(TERM_BOOKS, books)

    def brief(self, recording_id: int, language: str, source: str = "") -> drafting.Brief:
        """Return how a recording, or its track in ``source``, would be translated now. Raises
        TranslationError."""
        recording = self._recordings.get(recording_id)
        transcript = self._texts.transcript(recording_id)
        wording = drafting.in_target(self._styles.of(recording, language).wording)
        source = source or transcript.language
        route = self.route(source, language)
        names = self._names(transcript)
        known = self._known(source, language)
        return drafting.Brief(
            source,
            language,
            route,
            terms=self.terms(language),
            names=names,
            wording=wording,
            known=known,
        )

    def _known(self, source: str, language: str) -> memories.TranslationMemory:
        """Return the translations that people have made anywhere in the job."""
        return memories.TranslationMemory(
            {**self._brought(source, language), **self.memory(source, language)}
        )

    def _brought(self, source: str, language: str) -> dict[str, str]:
        """Return the translation memory that was imported; empty if it makes no sense."""
        try:
            found = json.loads(self._settings.get(MEMORY).get(_pair(source, language), "{}"))
            return {str(said): str(translation) for said, translation in found.items()}
        except (ValueError, AttributeError):
            return {}

    def memory(self, source: str, language: str) -> dict[str, str]:
        """Return the sentences that people have translated in this job."""
        documents = [self._texts.document(recording.id) for recording in self._recordings.all()]
        return memories.remembered(
            (document.transcript, document.track(language))
            for document in documents
            if base_of(document.transcript.language) == base_of(source)
            and any(track.language == language for track in document.tracks)
        )

    def bring_memory(self, source: str, language: str, sentences: Mapping[str, str]) -> None:
        """Keep sentences translated elsewhere; the job's own come first."""
        known = {**self._brought(source, language), **sentences}
        brought = self._settings.get(MEMORY)
        packed = json.dumps(known, ensure_ascii=False)
        self._settings.keep(MEMORY, {**brought, _pair(source, language): packed})

    def _names(self, transcript: Transcript) -> tuple[str, ...]:
        """Return speakers' names, and glossary terms with a capital."""
        found = [speaker.name for speaker in transcript.speakers if speaker.name]
        found += [first for name in found if (first := name.split()[0])[:1].isupper()]
        terms = self._settings.get(GLOSSARY).terms
        found += [term.text for term in terms if term.text[:1].isupper()]
        return tuple(dict.fromkeys(found))

    def follows(self) -> bool:
        """Whether new text is translated while it is proofed."""
        return self._settings.get(TRANSLATES_ALONG)

    def set_follows(self, on: bool) -> None:
        """Set whether new and changed text is translated into a recording's languages."""
        self._settings.keep(TRANSLATES_ALONG, on)
        if on:
            self._followed.update(recording.id for recording in self._recordings.all())
            self._later.start()

    def _text_changed(self, recording_id: int) -> None:
        if self.follows() and self._now is None:
            self._followed.add(recording_id)
            self._later.start()

    def _follow(self) -> None:
        """Queue what was changed a while ago, where a machine may translate it."""
        wanted = []
        for number in self._followed:
            if self._recordings.has(number):
                tracks = self._texts.document(number).tracks
                tasks = [Task(number, track.language) for track in tracks]
                wanted += [task for task in tasks if self._wanted(task)]
        self._followed.clear()
        if wanted:
            self.add(wanted)

    # The line

    def queue(self) -> Sequence[Task]:
        """Return what is being translated and what waits, in order, without what was cancelled."""
        is_wanted = self._now is not None and not self._cancelled
        return ([self._now] if self._now is not None and is_wanted else []) + self._line

    def is_queued(self, recording_id: int, language: str) -> bool:
        """Whether a recording is being translated into a language, or waits for it."""
        return any((t.recording, t.language) == (recording_id, language) for t in self.queue())

    def progress(self) -> TranslationProgress:
        """Return the progress of the whole queue."""
        waiting = sum(len(self._wanted(task)) for task in self._line)
        whole = self._whole + waiting
        spent = time.monotonic() - self._begun
        left = spent / self._done * (whole - self._done) if self._done else None
        return TranslationProgress(self._done, whole, left)

    def add(self, tasks: Iterable[Task]) -> None:
        """Queue what these recordings have not translated yet."""
        new = [
            task
            for task in dict.fromkeys(tasks)
            if not self.is_queued(task.recording, task.language)
        ]
        for task in new:
            document = self._texts.document(task.recording)
            if all(track.language != task.language for track in document.tracks):
                label = f"add {name_of(task.language)}"
                added = document.with_track(Track(task.language))
                self._texts.edit_document(task.recording, label, added)
        self._line += new
        self._keep_line()
        self._go_on()

    def cancel(self, recording_id: int, language: str | None = None) -> None:
        """Remove a recording, or one of its languages, from the queue; its translations stay."""
        gone = [
            task
            for task in self.queue()
            if task.recording == recording_id and language in (None, task.language)
        ]
        self._line = [task for task in self._line if task not in gone]
        if self._now in gone:
            self._cancelled = True
        self._keep_line()
        self.changed.emit()

    def forget(self, recording_id: int) -> None:
        """Drop a recording that was removed."""
        self.cancel(recording_id)

    def take_up(self) -> None:
        """Continue with what was queued when the job was closed."""
        kept = self._settings.get(TO_TRANSLATE)
        for key, languages in kept.items():
            number = int(key) if key.isdecimal() else 0
            if self._recordings.has(number):
                self._line += [
                    Task(number, *one.split("<", 1)) for one in languages.split(",") if one
                ]
        self._go_on()

    def close(self) -> None:
        """Stop; the queue is kept."""
        self._closed = True
        self._later.stop()
        self._tasks.close(wait=False)

    def _keep_line(self) -> None:
        kept: dict[str, str] = {}
        for task in self.queue():
            key = str(task.recording)
            kept[key] = ",".join([kept[key], task.kept()]) if key in kept else task.kept()
        self._settings.keep(TO_TRANSLATE, kept)

    def _wanted(self, task: Task) -> list[Cue]:
        if not self._recordings.has(task.recording):
            return []
        document = self._texts.document(task.recording)
        return to_translate(document.track(task.language), document.transcript)

    def _go_on(self) -> None:
        if self._now is not None or self._closed:
            return
        if not self._line:
            self._done = self._whole = 0
            self.changed.emit()
            return
        if not self._whole:
            self._begun = time.monotonic()
        task = self._now = self._line.pop(0)
        self._cancelled = False
        wanted = self._wanted(task)
        if not wanted:
            self._end()
            return
        self._whole += len(wanted)
        try:
            brief = self.brief(task.recording, task.language, task.source)
        except TranslationError as error:
            self._fail(str(error))
            return
        document = self._texts.document(task.recording)
        cues = document.transcript.cues
        if task.source:
            cues = as_transcript(document.track(task.source), document.transcript).cues
        ids = [cue.id for cue in wanted]

        def work() -> None:
            like: dict[int, memories.Like] = {}
            stopped = self._is_stopped
            try:
                for texts in drafting.draft(
                    cues, ids, brief, self.router, stopped, like.__setitem__
                ):
                    self._loop.post(partial(self._take, task, wanted, texts, dict(like)))
                    like.clear()
            except Stopped:
                pass

        self._tasks.run(work, lambda _: self._end(), self._fail)
        self.changed.emit()

    def _is_stopped(self) -> bool:
        return self._cancelled or self._closed

    def _take(
        self,
        task: Task,
        wanted: Sequence[Cue],
        texts: dict[int, str],
        like: Mapping[int, memories.Like],
    ) -> None:
        """Put translations into the track, except where a person was quicker; those of sentences
        ``like`` a known one are marked for review."""
        if self._closed or not self._recordings.has(task.recording):
            return
        document = self._texts.document(task.recording)
        if all(track.language != task.language for track in document.tracks):
            return  # taken out, or undone, meanwhile
        track = document.track(task.language)
        there = {cue.id for cue in document.transcript.cues}
        free = {
            cue_id: text
            for cue_id, text in texts.items()
            if cue_id in there and (cue_id not in track.texts or not track.texts[cue_id].is_settled)
        }
        self._done += len(texts)
        if free:
            label = f"translate into {name_of(task.language)}"
            group = f"{label} {task.recording}"
            track = with_some(track, wanted, free)
            for cue in wanted:
                if cue.id in free and cue.id in like:
                    track = with_doubt(track, cue, True)
            changed = document.with_track(track)
            self._texts.edit_document(task.recording, label, changed, group)
        self.changed.emit()

    def _fail(self, sentence: str) -> None:
        task = self._now
        if task is not None and self._recordings.has(task.recording):
            name = self._recordings.get(task.recording).name
            sentence = f"{name}, {name_of(task.language)}: {sentence}"
        self.failed.emit(sentence)
        self._end()

    def _end(self) -> None:
        self._now = None
        self._texts.close_edit_group()
        self._keep_line()
        self._go_on()
        self.changed.emit()


def _pair(source: str, target: str) -> str:
    return f"{base_of(source)}-{base_of(target)}"
