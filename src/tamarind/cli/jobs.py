"""Open a job for a command."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from pathlib import Path

from tamarind.audio.clock import sound_starts
from tamarind.audio.media import MediaError
from tamarind.batch.bookmarks import later
from tamarind.job.oneclock import cues_later, document_later, later_by, recording_later
from tamarind.job.opening import Opened
from tamarind.job.opening import open_job as opened
from tamarind.job.recording import Recording
from tamarind.job.store import JobStore


def open_job(path: Path) -> Opened:
    """Open a job, making it if there is none. Times that still count from where a recording's sound
    begins are counted from where its file does from now on. Raises JobError."""
    result = opened(path)
    for recording in result.store.recordings():
        if recording.from_sound and recording.info is not None:
            with suppress(MediaError):
                info = replace(recording.info, sound_starts=sound_starts(recording.path))
                _count_from_start(result.store, replace(recording, info=info))
    return result


def _count_from_start(store: JobStore, recording: Recording) -> None:
    by = later_by(recording)
    if not by:
        store.save_recording(replace(recording, from_sound=False))
        return
    before = store.document(recording.id)
    draft = cues_later(store.draft(recording.id), by)
    moved = recording_later(recording, by)
    with store.together():
        store.save_draft(recording.id, draft)
        store.save_document(recording.id, before, document_later(before, by))
        store.save_recording(replace(moved, bookmark=later(recording.bookmark, by)))
