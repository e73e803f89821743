"""Give recordings of a job out to be proofed elsewhere, and take them back into it.

What is packed tells what it was when it was given out, so that afterwards it is known who has
changed what.
"""

from __future__ import annotations

import contextlib
import tempfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from tamarind.job.document import Document
from tamarind.job.givenout import as_given_out
from tamarind.job.jobfile import JobError, is_packed
from tamarind.job.packing import copy_job, unpack_job
from tamarind.job.recording import Recording
from tamarind.job.settings import GIVEN_OUT
from tamarind.job.store import JobStore
from tamarind.transcript.merging import Conflict, MergedText, merge_texts, merged_entries
from tamarind.translation.tracks import Track


@dataclass(frozen=True, slots=True)
class TrackConflict:
    """A translation that both have changed otherwise."""

    language: str
    cue: int
    start: int
    mine: str
    theirs: str


@dataclass(frozen=True, slots=True)
class MergedDocument:
    """A recording's text and translations, merged; ``others`` are the tracks of the other."""

    recording_id: int
    text: MergedText
    tracks: tuple[Track, ...]
    others: Mapping[str, Track]
    track_conflicts: tuple[TrackConflict, ...]
    taken: int

    @property
    def conflicts(self) -> list[Conflict | TrackConflict]:
        """What has to be decided, in order of time."""
        found: list[Conflict | TrackConflict] = [*self.text.conflicts, *self.track_conflicts]
        return sorted(found, key=lambda one: one.start)

    def decided(
        self, mine: Document, takes_theirs: Callable[[Conflict | TrackConflict], bool]
    ) -> Document:
        """Return the document with each conflict decided; excerpts and descriptions stay."""
        transcript = self.text.decided(takes_theirs)
        chosen = {(one.language, one.cue) for one in self.track_conflicts if takes_theirs(one)}
        tracks = tuple(self._with_theirs(track, chosen) for track in self.tracks)
        there = {cue.id for cue in transcript.cues}
        tracks = tuple(
            replace(one, texts={key: e for key, e in one.texts.items() if key in there})
            for one in tracks
        )
        return replace(mine, transcript=transcript, tracks=tracks)

    def _with_theirs(self, track: Track, chosen: set[tuple[str, int]]) -> Track:
        other = self.others.get(track.language)
        if other is None:
            return track
        texts = dict(track.texts)
        for language, cue in chosen:
            if language == track.language and cue in other.texts:
                texts[cue] = other.texts[cue]
        return replace(track, texts=texts)


@contextlib.contextmanager
def came_back(path: Path) -> Iterator[JobStore]:
    """Open a job that comes back, packed or not, to be read. Raises JobError."""
    with tempfile.TemporaryDirectory(prefix="tamarind-") as folder:
        if not path.exists():
            raise JobError(f"“{path}” is no job: there is no such file.")
        if is_packed(path):
            job = unpack_job(path, Path(folder))
        else:
            # It may be open elsewhere, and stays as it is.
            job = Path(folder) / path.name
            copy_job(path, job)
        store = JobStore(job)
        try:
            yield store
        finally:
            store.close()


def merge_back(
    store: JobStore, mine: Sequence[tuple[Recording, Document]]
) -> tuple[list[MergedDocument], list[str]]:
    """Return the texts of a job that came back, merged with those here, and a sentence for each
    that has no place here. Raises JobError."""
    merged: list[MergedDocument] = []
    told: list[str] = []
    for recording in store.recordings():
        kept = GIVEN_OUT.of(store.setting(GIVEN_OUT.numbered(recording.id).key))
        here = _place_of(recording, mine)
        if not kept:
            told.append(f"{recording.name}: was not given out from a job, and is left out.")
        elif here is None:
            told.append(f"{recording.name}: this job has no such recording.")
        else:
            merged.append(_merged(as_given_out(kept), here, store.document(recording.id)))
    if not merged and not told:
        told.append("There is no recording in what came back.")
    return merged, told


def _place_of(
    recording: Recording, mine: Sequence[tuple[Recording, Document]]
) -> tuple[Recording, Document] | None:
    """Return the same recording here: by the mark of its file and its number, or its name."""
    marked = [one for one in mine if one[0].fingerprint == recording.fingerprint != ""]
    named = [one for one in mine if one[0].path.name == recording.path.name]
    for found in (marked, named):
        own = [one for one in found if one[0].id == recording.id] or found
        if own:
            return own[0]
    return None


def _merged(base: Document, here: tuple[Recording, Document], theirs: Document) -> MergedDocument:
    recording, mine = here
    theirs = _renumbered(base, mine, theirs)
    text = merge_texts(base.transcript, mine.transcript, theirs.transcript)
    starts = {cue.id: cue.start for cue in (*theirs.transcript.cues, *mine.transcript.cues)}
    languages = dict.fromkeys(track.language for track in (*mine.tracks, *theirs.tracks))
    tracks: list[Track] = []
    conflicts: list[TrackConflict] = []
    taken = text.taken
    for language in languages:
        own, other = mine.track(language), theirs.track(language)
        texts, both = merged_entries(base.track(language).texts, own.texts, other.texts)
        taken += sum(texts.get(key) != own.texts.get(key) for key in texts)
        tracks.append(replace(own, texts=texts))
        conflicts += [
            TrackConflict(language, key, starts.get(key, 0), own.text(key), other.text(key))
            for key in both
        ]
    others = {track.language: track for track in theirs.tracks}
    return MergedDocument(recording.id, text, tuple(tracks), others, tuple(conflicts), taken)


def _renumbered(base: Document, mine: Document, theirs: Document) -> Document:
    """Return the other's document with numbers of its own for cues that were made there, where
    others have them here."""
    known = {cue.id for cue in base.transcript.cues}
    here = {cue.id for cue in mine.transcript.cues}
    there = [cue.id for cue in theirs.transcript.cues]
    free = max((*known, *here, *there), default=0) + 1
    clashing = [key for key in there if key in here and key not in known]
    numbers = {key: free + at for at, key in enumerate(clashing)}
    if not numbers:
        return theirs
    cues = tuple(replace(cue, id=numbers.get(cue.id, cue.id)) for cue in theirs.transcript.cues)
    tracks = tuple(
        replace(track, texts={numbers.get(key, key): one for key, one in track.texts.items()})
        for track in theirs.tracks
    )
    return replace(theirs, transcript=replace(theirs.transcript, cues=cues), tracks=tracks)


def in_words(conflict: Conflict | TrackConflict) -> tuple[str, str]:
    """Return what stands here and what there, for people."""
    if isinstance(conflict, TrackConflict):
        return conflict.mine or "(nothing)", conflict.theirs or "(nothing)"
    mine, theirs = (
        " | ".join(cue.text for cue in cues) or "(left out)"
        for cues in (conflict.mine, conflict.theirs)
    )
    if mine == theirs:
        mine, theirs = (
            f"{text} ({cues[0].start / 1000:.2f} – {cues[-1].end / 1000:.2f} s)"
            for text, cues in ((mine, conflict.mine), (theirs, conflict.theirs))
        )
    return mine, theirs
