"""The list of recordings of the open job."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.application.events import Event
from tamarind.job.recording import Recording, State
from tamarind.job.settings import Usual
from tamarind.job.store import JobStore

Write = Callable[[Callable[[], object]], bool]
"""Does something with the store, and sees to what it refuses; whether it is on disk."""


class Recordings:
    """The recordings in order; every change is on disk as soon as it is told."""

    def __init__(self, store: JobStore, write: Write) -> None:
        self._store, self._write = store, write
        self._known = {recording.id: recording for recording in store.recordings()}
        self.list_changed: Event[[]] = Event()
        """There are others, or in another order, or something of several has changed."""
        self.changed: Event[[int]] = Event()
        """Something else is known of one."""
        self.language_changed: Event[[Recording]] = Event()
        self.file_changed: Event[[int]] = Event()
        """Its fingerprint is another one."""

    def all(self) -> list[Recording]:
        """Return all recordings in order."""
        return list(self._known.values())

    def get(self, recording_id: int) -> Recording:
        """Return a recording by its number."""
        return self._known[recording_id]

    def has(self, recording_id: int) -> bool:
        """Whether there is a recording with this number."""
        return recording_id in self._known

    def first(self) -> int | None:
        """Return the first recording, or None."""
        return next(iter(self._known), None)

    def add_files(self, files: Sequence[Path], usual: Usual) -> list[Recording]:
        """Add files that are not in the job yet; return the recordings added."""
        there = {recording.path.resolve() for recording in self._known.values()}
        # Kept as it was named; told apart by where it really is.
        new = {path.resolve(): path.absolute() for path in reversed(files)}
        paths = [path for real, path in reversed(new.items()) if real not in there]
        added: list[Recording] = []

        def keep() -> None:
            with self._store.together():
                added.extend(self._store.add_recording(path, *usual) for path in paths)

        if not self._write(keep):
            return []
        self._known.update({recording.id: recording for recording in added})
        return added

    def remove(self, recording_id: int) -> None:
        """Remove a recording from the job; its file stays."""
        self._write(lambda: self._store.remove_recording(recording_id))
        self._known.pop(recording_id, None)

    def change(self, *recordings: Recording) -> None:
        """Keep changed recordings and emit ``changed``."""
        changed = [recording for recording in recordings if recording.id in self._known]
        before = [self._known[recording.id] for recording in changed]
        self._known.update({recording.id: recording for recording in changed})
        for old, new in zip(before, changed, strict=True):
            if new.language != old.language:
                self.language_changed.emit(new)
            if new.fingerprint != old.fingerprint:
                self.file_changed.emit(new.id)

        def keep() -> None:
            with self._store.together():
                for recording in changed:
                    self._store.save_recording(recording)

        self._write(keep)
        for recording in changed:
            self.changed.emit(recording.id)

    def put(self, recording: Recording) -> None:
        """Replace a recording in the list; the caller writes and tells it."""
        self._known[recording.id] = recording

    def typed_by_hand(self, recording_id: int) -> None:
        """Mark a recording whose text a person has typed as a draft."""
        recording = self._known[recording_id]
        if recording.state is not State.FAILED:
            self.change(replace(recording, state=State.DRAFT, problem=None, bookmark=""))

    def move(self, recording_ids: Sequence[int], place: int) -> bool:
        """Move recordings, in their order, before the one at index ``place``; return whether
        anything changed."""
        keys = list(self._known)
        moved = [key for key in keys if key in recording_ids]
        before = [key for key in keys[:place] if key not in moved]
        after = [key for key in keys[place:] if key not in moved]
        order = before + moved + after
        if order == keys:
            return False
        self._known = {key: self._known[key] for key in order}
        self._write(lambda: self._store.set_order(order))
        return True

    def twin_of(self, recording: Recording) -> Recording | None:
        """Return an earlier recording with the same contents under another name, or None."""
        for other in self._known.values():
            if other.id == recording.id or not recording.fingerprint:
                return None
            if other.fingerprint == recording.fingerprint:
                return other
        return None
