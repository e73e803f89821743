"""The decoded sound and peaks of the recordings, as far as they are in the cache."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from tamarind.application.recordings import Recordings
from tamarind.audio import soundcache
from tamarind.audio.decode import Samples
from tamarind.audio.peaks import Peaks
from tamarind.audio.soundcache import Sound


class Sounds:
    """Reads sound from the cache, which may be deleted at any time."""

    def __init__(self, recordings: Recordings, drawn: Callable[[int], Peaks | None]) -> None:
        """``drawn`` returns the peaks of a recording that is being decoded."""
        self._recordings, self._drawn = recordings, drawn
        self._found: dict[int, tuple[Sound, Peaks]] = {}
        recordings.file_changed.connect(self.forget)

    def peaks(self, recording_id: int) -> Peaks | None:
        """Return a recording's peaks, as far as its sound has been decoded."""
        entry = self._find(recording_id)
        return entry[1] if entry else self._drawn(recording_id)

    def has(self, recording_id: int) -> bool:
        """Whether a recording's decoded sound is in the cache."""
        return self._find(recording_id) is not None

    def samples(self, recording_id: int, clean: bool = False) -> Samples | None:
        """Return the decoded sound (mono, 16 kHz), as recorded or cleaned, or None."""
        recording = self._recordings.get(recording_id)
        try:
            entry = self._find(recording_id)
            if entry is None or not clean:
                return entry[0].samples() if entry else None
            source = replace(recording.how.source, clean=True)
            cleaned = soundcache.find(recording.fingerprint, source)
            return cleaned.samples() if cleaned is not None else None
        except (OSError, ValueError):
            # It is decoded anew when it is wanted.
            self.forget(recording_id)
            return None

    def forget(self, recording_id: int) -> None:
        """Drop a recording's sound, which has changed or is no longer needed."""
        self._found.pop(recording_id, None)

    def _find(self, recording_id: int) -> tuple[Sound, Peaks] | None:
        entry = self._found.get(recording_id)
        if entry is None:
            mark = self._recordings.get(recording_id).fingerprint
            sound = soundcache.find(mark) if mark else None
            if sound is None:
                return None
            entry = self._found[recording_id] = (sound, sound.peaks())
        return entry
