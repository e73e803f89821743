"""Make a copy of a job in which nobody can be told: texts, sound, names of files; and check it."""

from __future__ import annotations

import contextlib
import json
import shutil
import sqlite3
import tempfile
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.media import MediaError, probe
from tamarind.formats.filenames import free, lawful
from tamarind.job.document import Document
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.keylist import KeyList
from tamarind.job.packing import HERE_ONLY, copy_job, forget_deleted
from tamarind.job.recording import Recording
from tamarind.job.settings import EXPORT_TEMPLATES, GIVEN_OUT, GLOSSARY, KEY_LIST
from tamarind.job.store import JobStore
from tamarind.language.identifying import Identifier, Tells, identifiers
from tamarind.language.takingout import KeyEntry, Matcher, Taken, put_back, taken_out
from tamarind.picture.covering import Cover, covered_name, write_covered
from tamarind.speech.lexicon import lexicon_of
from tamarind.system.files import shown, write_whole
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.tracks import Track, source_mark

MARGIN_MS = 80
TYPED_MARGIN_MS = 250
"""Around words of which no recogniser has measured when they are said."""

Told = Callable[[float], None]


def names_in_job(store: JobStore) -> list[Identifier]:
    """Return what tells who somebody is in the texts of a job."""
    texts = [store.document(one.id).transcript for one in store.recordings()]
    terms = GLOSSARY.of(store.setting(GLOSSARY.key)).terms
    return names_in(texts, [term.text for term in terms])


def names_in(texts: Sequence[Transcript], terms: Iterable[str]) -> list[Identifier]:
    """Return what tells who somebody is in texts, among it their speakers, and those terms of a
    glossary that begin with a capital."""
    known = {term: Tells.PERSON for term in terms if term[:1].isupper()}
    known |= {one.name: Tells.PERSON for text in texts for one in text.speakers if one.name}
    there = " ".join(cue.text for text in texts for cue in text.cues).casefold()
    speakers = {one.name for text in texts for one in text.speakers}
    known = {
        name: kind for name, kind in known.items() if name in speakers or name.casefold() in there
    }
    return identifiers(texts, known, lambda language: lexicon_of(language).is_word)


@dataclass(frozen=True, slots=True)
class WithoutNames:
    """A job to copy into ``folder``, which must not exist, without what ``entries`` name. The key
    list is written to ``key``, encrypted if there is a ``password``."""

    job: Path
    folder: Path
    entries: tuple[KeyEntry, ...]
    key: Path
    cover: Cover = Cover.SILENCE
    margin: int = MARGIN_MS
    password: str = ""

    @property
    def targets(self) -> list[Path]:
        """The folder that will be made."""
        return [self.folder]

    def fill(self, told: Told = lambda _share: None) -> None:
        """Make the copy, completely or not at all. ``told`` is called with the share (0 to 1) that
        is done. Raises JobError, MediaError and OSError."""
        if self.folder.exists():
            raise JobError(f"“{self.folder}” already exists: choose another name.")
        matcher = Matcher(self.entries)
        for entry in self.entries:
            if matcher.left_in(entry.replacement):
                raise JobError(f"“{entry.replacement}” is a name itself: choose another word.")
        made = Path(tempfile.mkdtemp(prefix=".tamarind-", dir=self.folder.absolute().parent))
        try:
            keys = self._make(made, told)
            write_whole(self.key, keys.packed(self.password).encode())
            made.chmod(0o755)
            made.rename(self.folder)
        except BaseException:
            shutil.rmtree(made, ignore_errors=True)
            raise
        told(1.0)

    def _make(self, made: Path, told: Told) -> KeyList:
        matcher = Matcher(self.entries)
        stem = lawful(matcher.replaced(self.job.stem, any_case=True))
        job = made / f"{stem}{SUFFIX}"
        copy_job(self.job, job)
        store = JobStore(job)
        taken: dict[int, list[Taken]] = {}
        texts: dict[int, dict[str, str]] = {}
        try:
            store.save_steps((), [step.number for step in store.steps()])
            names: set[str] = set()
            recordings = store.recordings()
            for number, recording in enumerate(recordings):
                document = store.document(recording.id)
                new, taken[recording.id], texts[recording.id] = cleared(document, matcher)
                store.save_document(recording.id, document, new)
                store.save_draft(recording.id, ())
                spans = self._spans(document.transcript, taken[recording.id])
                origin = self._origin(recording, made)
                name = matcher.replaced(recording.path.stem, any_case=True)
                target = made / free(lawful(name), covered_name(origin)[1:], names)
                track = recording.how.source.track
                share = _share_of(told, number, len(recordings))
                write_covered(origin, target, spans, self.cover, track, share)
                store.save_recording(_of_copy(recording, target))
            for key, value in store.settings().items():
                store.set_setting(key, _setting(key, value, matcher))
        finally:
            store.close()
        forget_deleted(job)
        return KeyList(self.entries, taken, texts)

    def _origin(self, recording: Recording, made: Path) -> Path:
        """Return where a recording lies; its path in the copied job counts from there."""
        path = recording.path
        if path.is_relative_to(made):
            path = self.job.absolute().parent / path.relative_to(made)
        if not path.is_file():
            raise MediaError(f"“{shown(path.name)}” is not found: find what has moved first.")
        return path

    def _spans(self, text: Transcript, taken: Sequence[Taken]) -> list[tuple[int, int]]:
        """Return when what was taken out is said, with a margin."""
        spans = []
        for one in taken:
            is_typed = any(word.confidence is None for word in one.words)
            margin = max(self.margin, TYPED_MARGIN_MS) if is_typed else self.margin
            spans.append((one.words[0].start - margin, one.words[-1].end + margin))
        return spans


def _share_of(told: Told, number: int, count: int) -> Told:
    """Return what tells the share of one recording as that of all."""
    return lambda share: told((number + share) / count)


def _of_copy(recording: Recording, target: Path) -> Recording:
    """Return a recording with the copy of its sound as its file; nothing of voices stays."""
    return replace(
        recording,
        path=target,
        info=replace(probe(target), tags=()),
        fingerprint=fingerprint(target),
        how=replace(recording.how, source=replace(recording.how.source, track=0)),
        problem=None,
        voices=(),
        from_sound=False,
    )


def _setting(key: str, value: str, matcher: Matcher) -> str:
    """Return the text of a setting for the copy."""
    for one in (*HERE_ONLY, EXPORT_TEMPLATES, GIVEN_OUT, KEY_LIST):
        if key == one.key or key.startswith(f"{one.key} "):
            return ""
    try:
        data = json.loads(value)
    except ValueError:
        return matcher.replaced(value, any_case=True)
    if not isinstance(data, dict | list):
        return matcher.replaced(value, any_case=True)
    return json.dumps(_cleared_data(data, matcher), ensure_ascii=False)


def _cleared_data(data: Any, matcher: Matcher) -> Any:
    if isinstance(data, dict):
        return {matcher.replaced(k): _cleared_data(one, matcher) for k, one in data.items()}
    if isinstance(data, list):
        return [_cleared_data(one, matcher) for one in data]
    return matcher.replaced(data) if isinstance(data, str) else data


def cleared(document: Document, matcher: Matcher) -> tuple[Document, list[Taken], dict[str, str]]:
    """Return a document without the forms, what was taken out of its words, and every other text
    that was changed, by its place."""
    texts: dict[str, str] = {}

    def clear(place: str, said: str) -> str:
        new = matcher.replaced(said)
        if new != said:
            texts[place] = said
        return new

    transcript, taken = taken_out(document.transcript, matcher)
    cues = tuple(
        replace(
            _without_alternatives(cue),
            heading=clear(f"heading {cue.id}", cue.heading),
            note=clear(f"note {cue.id}", cue.note),
        )
        for cue in transcript.cues
    )
    speakers = tuple(
        replace(one, name=clear(f"speaker {one.id}", one.name)) for one in transcript.speakers
    )
    preamble = clear("preamble", transcript.preamble)
    transcript = replace(transcript, cues=cues, speakers=speakers, preamble=preamble)
    by_id = {cue.id: cue for cue in cues}
    tracks = tuple(_cleared_track(track, by_id, clear) for track in document.tracks)
    excerpts = tuple(
        replace(
            one,
            quote=matcher.replaced(one.quote),
            name=clear(f"excerpt {one.id}", one.name),
            note=clear(f"excerpt note {one.id}", one.note),
            tags=tuple(map(matcher.replaced, one.tags)),
        )
        for one in document.excerpts
    )
    descriptions = tuple(
        replace(one, text=clear(f"description {one.id}", one.text)) for one in document.descriptions
    )
    return Document(transcript, tracks, excerpts, descriptions), taken, texts


def _without_alternatives(cue: Cue) -> Cue:
    if not any(word.alternatives for word in cue.words):
        return cue
    return replace(cue, words=tuple(replace(word, alternatives=()) for word in cue.words))


def _cleared_track(
    track: Track, cues: Mapping[int, Cue], clear: Callable[[str, str], str]
) -> Track:
    texts = {
        key: replace(
            entry,
            text=clear(f"{track.language} {key}", entry.text),
            comment=clear(f"{track.language} comment {key}", entry.comment),
            source=source_mark(cues[key]) if key in cues else entry.source,
        )
        for key, entry in track.texts.items()
    }
    return replace(track, texts=texts)


def restored(document: Document, keys: KeyList, recording_id: int) -> tuple[Document, int]:
    """Return a document with its names back, and how many could not be put back."""
    transcript, missing = put_back(document.transcript, keys.taken.get(recording_id, ()))
    texts = keys.texts.get(recording_id, {})
    cues = tuple(
        replace(
            cue,
            heading=texts.get(f"heading {cue.id}", cue.heading),
            note=texts.get(f"note {cue.id}", cue.note),
        )
        for cue in transcript.cues
    )
    speakers = tuple(
        replace(one, name=texts.get(f"speaker {one.id}", one.name)) for one in transcript.speakers
    )
    transcript = replace(
        transcript,
        cues=cues,
        speakers=speakers,
        preamble=texts.get("preamble", transcript.preamble),
    )
    by_id = {cue.id: cue for cue in cues}
    tracks = tuple(
        _cleared_track(track, by_id, lambda place, said: texts.get(place, said))
        for track in document.tracks
    )
    return replace(document, transcript=transcript, tracks=tracks), missing


def restore_job(job: Path, keys: KeyList) -> int:
    """Put the names back into the texts of a job; its sound stays covered. Return how many could
    not be put back. Raises JobError."""
    store = JobStore(job)
    missing = 0
    try:
        for recording in store.recordings():
            document = store.document(recording.id)
            new, lost = restored(document, keys, recording.id)
            store.save_document(recording.id, document, new)
            missing += lost
    finally:
        store.close()
    return missing


def names_left(folder: Path, entries: Sequence[KeyEntry]) -> list[str]:
    """Return a sentence for each place in a folder where a name still stands: texts and settings of
    jobs, names of files, what sound and video say of themselves."""
    matcher = Matcher(entries)
    told: dict[str, None] = {}
    for path in sorted(folder.rglob("*")):
        for form in matcher.left_in(path.name, any_case=True):
            told[f"“{form}” is in the name of “{path.name}”."] = None
        if path.suffix == SUFFIX:
            for where, text in _texts_of(path):
                for form in matcher.left_in(text):
                    told[f"“{form}” is in “{path.name}” ({where})."] = None
        elif path.is_file():
            with contextlib.suppress(MediaError):
                for form in matcher.left_in(" ".join(probe(path).tags)):
                    told[f"“{form}” is in what “{path.name}” says of itself."] = None
    return list(told)


def _texts_of(job: Path) -> Iterator[tuple[str, str]]:
    """Yield every text in the tables of a job, with where it is."""
    # One that nobody has open is read without the files beside it that SQLite would leave there.
    rest = "" if job.with_name(f"{job.name}-wal").exists() else "&immutable=1"
    address = f"{job.absolute().as_uri()}?mode=ro{rest}"
    with contextlib.closing(sqlite3.connect(address, uri=True)) as db:
        tables = db.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
        for (table,) in tables:
            for row in db.execute(f'SELECT * FROM "{table}"'):
                for value in row:
                    if isinstance(value, bytes):
                        value = value.decode("utf-8", "ignore")
                    if isinstance(value, str):
                        yield table, " ".join(_strings(value))


def _strings(value: str) -> Iterator[str]:
    """Yield the strings of JSON; a text that is none as it is."""
    try:
        data = json.loads(value)
    except ValueError:
        yield value
        return
    waiting = [data]
    while waiting:
        one = waiting.pop(0)
        if isinstance(one, str):
            yield one
        elif isinstance(one, dict):
            waiting[:0] = [*one, *one.values()]
        elif isinstance(one, list):
            waiting[:0] = one
