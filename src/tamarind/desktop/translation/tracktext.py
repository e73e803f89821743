"""The texts of the translation sheet: a recording's own and its track in a language."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Transcript
from tamarind.translation.sentences import sentences_of
from tamarind.translation.tracks import Track


class TrackText:
    """Rows are the cues of the source."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.recording_id: int | None = None
        self.transcript = Transcript("en")
        self.track = Track("")
        self._joined: tuple[Transcript, dict[int, tuple[bool, bool]]] | None = None

    def show(self, recording_id: int | None, language: str) -> None:
        """Show a recording and one of its tracks."""
        self.recording_id = recording_id
        self._take(language)

    def row_of(self, cue: int) -> int | None:
        """Return the row of a cue, or None if there is no such cue."""
        return cue if 0 <= cue < len(self.transcript.cues) else None

    def follow(self) -> tuple[int, int, int]:
        """Take a changed text: the rows [first, second) have become those up to the third
        number."""
        old = self.transcript
        self._take(self.track.language)
        return changed_range(old.cues, self.transcript.cues)

    def translation(self, row: int) -> str:
        """Return a cue's translation."""
        return self.track.text(self.transcript.cues[row].id)

    def comment(self, row: int) -> str:
        """Return the comment on a cue's translation, or ""."""
        entry = self.track.texts.get(self.transcript.cues[row].id)
        return entry.comment if entry is not None else ""

    def sentence_at(self, row: int) -> tuple[bool, bool]:
        """Return whether a row's sentence began in the row before, and goes on in the one after."""
        if self._joined is None or self._joined[0] is not self.transcript:
            self._joined = self.transcript, _joined_rows(self.transcript)
        return self._joined[1].get(self.transcript.cues[row].id, (False, False))

    def _take(self, language: str) -> None:
        if self.recording_id is None:
            self.transcript, self.track = Transcript("en"), Track(language)
            return
        document = self._session.texts.document(self.recording_id)
        self.transcript, self.track = document.transcript, document.track(language)


def _joined_rows(transcript: Transcript) -> dict[int, tuple[bool, bool]]:
    """Return by cue id whether a cue shares a sentence with the one before and behind it."""
    found: dict[int, tuple[bool, bool]] = {}
    for sentence in sentences_of(transcript.cues, transcript.language):
        last = len(sentence.pieces) - 1
        for place, piece in enumerate(sentence.pieces if last else ()):
            before, after = found.get(piece.cue.id, (False, False))
            found[piece.cue.id] = before or place > 0, after or place < last
    return found
