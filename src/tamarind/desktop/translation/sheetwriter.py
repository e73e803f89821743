"""Turn what is typed into the translation sheet into edits of the track."""

from __future__ import annotations

from contextlib import AbstractContextManager

from tamarind.application.session import Session
from tamarind.desktop.editor.content import Place
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.translation.tracktext import TrackText
from tamarind.translation.states import next_open
from tamarind.translation.tracks import with_approval, with_edit


class TranslationWriter:
    """Edits each translation within its cue; rows are never joined."""

    joins_rows = False

    def __init__(self, session: Session, text: TrackText, shown: ShownText) -> None:
        self._session, self._text, self._shown = session, text, shown

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Delete what lies between two places from each row, and put the text into the first."""
        recording, track = self._text.recording_id, self._text.track
        if recording is None:
            return
        cues = self._text.transcript.cues
        for row in range(first[0], last[0] + 1):
            old = self._shown.of(row)
            start = first[1] if row == first[0] else 0
            stop = last[1] if row == last[0] else len(old)
            new = old[:start] + (text if row == first[0] else "") + old[stop:]
            track = with_edit(track, cues[row], " ".join(new.split()))
        document = self._session.texts.document(recording).with_track(track)
        if not typed:
            self._session.texts.close_edit_group()
        group = f"typing {track.language} {cues[first[0]].id}" if typed else None
        self._session.texts.edit_document(recording, "typing", document, group)
        if text.isspace():
            self._session.texts.close_edit_group()

    def as_one(self) -> AbstractContextManager[None]:
        """Make all edits within this context one step of undo."""
        return self._session.texts.as_one("move text")

    def break_row(self, place: Place) -> Place | None:
        """Approve the translation on Enter, and go on to the next to be done, else the next."""
        recording, cues, row = self._text.recording_id, self._text.transcript.cues, place[0]
        if recording is None or row >= len(cues):
            return None
        track = with_approval(self._text.track, cues[row : row + 1])
        if track is not self._text.track:
            document = self._session.texts.document(recording).with_track(track)
            self._session.texts.close_edit_group()
            label = "approve a translation"
            self._session.texts.edit_document(recording, label, document)
        limits = self._session.styles.limits_of(recording, track.language)
        open_one = next_open(track, cues, limits, row)
        if open_one is not None:
            return open_one, 0
        return (row + 1, 0) if row + 1 < len(cues) else None
