"""The tracks of all recordings in the shown language, as texts that can be edited."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.job.document import Document
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript, with_rewording


class TrackEdits:
    """Makes texts when asked, and keeps them as long as nothing has changed."""

    def __init__(self, session: Session, sheet: TranslationSheet) -> None:
        self._session, self._sheet = session, sheet
        self._known: dict[int, tuple[Document, str, Transcript]] = {}

    @property
    def language(self) -> str:
        """The shown language."""
        return self._sheet.text.track.language

    def recordings(self) -> list[int]:
        """Return the recordings that have a track in it, in the job's order."""
        return [
            recording.id
            for recording in self._session.recordings.all()
            if any(
                track.language == self.language
                for track in self._session.texts.document(recording.id).tracks
            )
        ]

    def transcript(self, recording_id: int) -> Transcript:
        """Return a recording's track as a text; without words if it has none in this language."""
        document = self._session.texts.document(recording_id)
        known = self._known.get(recording_id)
        if known is None or known[0] is not document or known[1] != self.language:
            text = as_transcript(document.track(self.language), document.transcript)
            known = self._known[recording_id] = document, self.language, text
        return known[2]

    def edit(self, recording_id: int, label: str, transcript: Transcript) -> None:
        """Take the changed cues of a text into the track, as one step."""
        document = self._session.texts.document(recording_id)
        texts = {cue.id: cue.text for cue in transcript.cues}
        track = with_rewording(document.track(self.language), document.transcript.cues, texts)
        self._session.texts.close_edit_group()
        self._session.texts.edit_document(recording_id, label, document.with_track(track))
